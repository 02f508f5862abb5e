<script setup lang="ts">
/** A job begins: by a template, like an earlier one, or empty. */
import { computed, ref } from 'vue'
import type { JobRow, JobView, TemplateRow } from '@shelve/contract'
import { ApiProblem, get, nothingIfRefused, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useWay } from '../shell/way.ts'
import DateField from '../ui/DateField.vue'
import { useFormat } from '../ui/format.ts'
import { unread } from '../ui/unread.ts'

const props = defineProps<{ /** The job that this one is to be like. */ like?: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const f = useFormat()
const way = useWay()
const { choices } = useChoices<TemplateRow>('/api/templates')
const templates = computed(() => choices.value.filter(t => t.active))
const earlier = ref<Pick<JobRow, 'id' | 'code' | 'name' | 'wanted' | 'wantedUnit'>[]>([])
/** What it is begun by: `t` and a template, `j` and a job, or nothing. */
const by = ref('')
// Those to be done, the last that are over, and the one it is to be like, however long that is over.
live(
  async () => {
    const [like, ...lists] = await Promise.all([
      props.like ? get<JobView>(`/api/jobs/${props.like}`).catch(nothingIfRefused) : null,
      ...['planned', 'over'].map(which => get<{ rows: JobRow[] }>(`/api/jobs/${which}`)),
    ] as const)
    const rows = lists.flatMap(x => x.rows).filter(x => !x.parent && x.id !== like?.id)
    const first = !earlier.value.length
    earlier.value = [...(like ? [{ ...like, ...like.head }] : []), ...rows]
    if (like && first) by.value = `j${like.id}`
  },
  e => e.kind === 'job',
)
const name = ref('')
const typed = ref('')
const day = ref<string | null>(null)
const place = ref(session.placeId ?? session.areas.find(a => session.may('book', a.id))?.id ?? '')
const wrong = ref('')
const fieldWrong = ref('')
const template = computed(() => templates.value.find(t => by.value === `t${t.id}`))
const copied = computed(() => earlier.value.find(j => by.value === `j${j.id}`))
const unit = computed(() =>
  template.value
    ? (template.value.makes?.unit ?? 'times')
    : copied.value && copied.value.wanted !== '0'
      ? copied.value.wantedUnit
      : '',
)
const places = computed(() => session.areas.filter(a => session.may('book', a.id)))
let busy = false
async function begin() {
  wrong.value = unread.value ?? ''
  if (busy || wrong.value) return
  busy = true
  try {
    const { id } = await post<{ id: string }>('/api/jobs', {
      name: name.value.trim() || null,
      place: place.value || null,
      template: template.value?.id ?? null,
      like: copied.value?.id ?? null,
      typed: typed.value,
      day: day.value,
    })
    await way.push({ name: 'job', params: { id } })
  } catch (e) {
    wrong.value = said(e)
    fieldWrong.value = e instanceof ApiProblem ? (e.problem.fields[0]?.field ?? '') : ''
  } finally {
    busy = false
  }
}
</script>
<template>
  <form class="slip mb-4 px-5 py-4" aria-label="New job" @submit.prevent="begin" @keydown.esc="emit('close')">
    <h2 class="mb-3">New job</h2>
    <div class="flex flex-wrap gap-4 items-end">
      <label class="grow max-w-80"
        ><span class="label">By</span
        ><select v-model="by" v-focus class="field field-small">
          <option value="">an empty sheet</option>
          <optgroup v-if="templates.length" label="A template">
            <option v-for="t in templates" :key="t.id" :value="`t${t.id}`">{{ t.name }}</option>
          </optgroup>
          <optgroup v-if="earlier.length" label="The same as">
            <option v-for="j in earlier" :key="j.id" :value="`j${j.id}`">{{ j.name }}, {{ j.code }}</option>
          </optgroup>
        </select></label
      >
      <label v-if="unit"
        ><span class="label">For how much</span
        ><span class="flex gap-2 items-center"
          ><input
            v-model="typed"
            class="field field-small field-num w-28!"
            :placeholder="copied ? f.number(copied.wanted) : ''"
            :aria-invalid="fieldWrong === 'typed' || undefined"
            autocomplete="off"
          /><span>{{ unit }}</span></span
        ></label
      >
      <label class="grow max-w-72"
        ><span class="label">What it is called</span
        ><input
          v-model="name"
          class="field field-small"
          maxlength="120"
          :placeholder="template?.name ?? copied?.name ?? ''"
          :aria-invalid="fieldWrong === 'name' || undefined"
          autocomplete="off"
      /></label>
      <label
        ><span class="label">By when</span><DateField v-model="day" label="By when" near="day and month" class="w-36"
      /></label>
      <label
        ><span class="label">Where</span
        ><select v-model="place" class="field field-small">
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      >
    </div>
    <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
    <div class="flex gap-3 mt-4">
      <button class="btn btn-act" v-wants="by || name.trim() ? '' : 'What is it called, or by what is it done?'">
        Begin it</button
      ><button type="button" class="btn" @click="emit('close')">Leave it</button>
    </div>
  </form>
</template>
