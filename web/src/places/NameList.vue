<script setup lang="ts">
/** Names in a list, each renamed or taken out of use where it stands; what was booked with one stays with it. */
import { computed, reactive, ref } from 'vue'
import type { CostCentre, Job, Named, Place } from '@shelve/contract'
import { ApiProblem, call, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'

type Row = Named | CostCentre | Job
const props = defineProps<{
  path: string
  what: string
  rows: readonly Row[]
  /** Jobs are charged to one of these. */ centres?: readonly Named[]
  /** Cost centres are served from one of these. */ areas?: readonly Place[]
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const editing = ref<string | null>(null)
const form = reactive({ code: '', name: '', costCentre: '', usual: '' })
const wrong = ref('')
/** What is out of use stands last. */
const sorted = computed(() => [...props.rows].sort((a, b) => Number(b.active) - Number(a.active)))
const centreOf = (r: Row) => ('costCentre' in r ? r.costCentre : null)
const usualOf = (r: Row) => ('usual' in r ? r.usual : null)
interface Seen {
  readonly name: string
  readonly code: string | null
  readonly active: boolean
  readonly costCentre?: string | null
  readonly usual?: string | null
}
const seenOf = (r: Row): Seen => ({
  name: r.name,
  code: r.code,
  active: r.active,
  ...(props.centres ? { costCentre: centreOf(r)?.id ?? null } : {}),
  ...(props.areas ? { usual: usualOf(r)?.id ?? null } : {}),
})
/** What stood there when somebody began to change it, or is known to stand there since. */
let seen: Seen | undefined
function edit(r: Row) {
  editing.value = r.id
  wrong.value = ''
  seen = seenOf(r)
  Object.assign(form, {
    code: r.code ?? '',
    name: r.name,
    costCentre: centreOf(r)?.id ?? '',
    usual: usualOf(r)?.id ?? '',
  })
}
let busy = false
/** Rows that were changed, until the list has come anew: what is pressed twice is meant once. */
const done = new WeakSet<Row>()
async function put(r: Row, body: object) {
  if (busy || done.has(r)) return
  busy = true
  wrong.value = ''
  try {
    await call('PUT', `${props.path}/${r.id}`, { body: { ...body, seen: editing.value === r.id ? seen : seenOf(r) } })
    done.add(r)
    editing.value = null
    emit('changed')
  } catch (e) {
    if (editing.value !== r.id) edit(r)
    wrong.value = said(e)
    if (e instanceof ApiProblem && e.code === 'changed_meanwhile') {
      seen = e.problem.stands as Seen
      wrong.value += ` ${inWords(seen)}`
    }
  } finally {
    busy = false
  }
}
/** What stands there by now. */
function inWords(s: Seen): string {
  const centre = s.costCentre && props.centres?.find(c => c.id === s.costCentre)?.name
  const area = s.usual && props.areas?.find(a => a.id === s.usual)?.path
  const more = [centre, area && `from ${area}`, s.active ? '' : 'not in use'].filter(Boolean)
  return `Now it is ${[[s.code, s.name].filter(Boolean).join(' '), ...more].join(', ')}.`
}
const formBody = (r: Row) => ({
  name: form.name,
  ...(r.code === null ? {} : { code: form.code }),
  ...(props.centres ? { costCentre: form.costCentre || null } : {}),
  ...(props.areas ? { usual: form.usual || null } : {}),
  active: seen?.active ?? r.active,
})
/** A row as it stands, to be sent; what has no code says none. */
const unchanged = (r: Row) => ({ ...seenOf(r), code: r.code ?? undefined })
</script>
<template>
  <ul class="mb-3">
    <li v-for="r in sorted" :key="r.id" class="py-1.5 border-b border-hair">
      <form v-if="editing === r.id" class="flex flex-wrap gap-2 items-center" @submit.prevent="put(r, formBody(r))">
        <input
          v-if="r.code !== null"
          v-model="form.code"
          class="field field-small mono w-24!"
          :aria-label="`Code of the ${what}`"
        /><input
          v-model="form.name"
          v-focus
          class="field field-small flex-1"
          :aria-label="`Name of the ${what}`"
        /><select
          v-if="centres"
          v-model="form.costCentre"
          class="field field-small w-40!"
          :aria-label="`Cost centre of ${r.name}`"
        >
          <option value="">no cost centre</option>
          <option v-for="c in centres.filter(x => x.active || x.id === form.costCentre)" :key="c.id" :value="c.id">
            {{ c.name }}
          </option></select
        ><select
          v-if="areas"
          v-model="form.usual"
          class="field field-small w-40!"
          :aria-label="`${r.name} is served from`"
        >
          <option value="">from anywhere</option>
          <option v-for="a in areas" :key="a.id" :value="a.id">{{ a.path }}</option></select
        ><button class="btn btn-small btn-act" v-wants="!form.name.trim() ? 'It wants a name.' : ''">Save</button
        ><button type="button" class="btn btn-small" @click="editing = null">Leave it</button>
        <p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p>
      </form>
      <div v-else class="flex gap-2 items-baseline">
        <span class="min-w-0 flex-1" :class="{ soft: !r.active }"
          ><span v-if="r.code" class="mono soft">{{ r.code }}</span> {{ r.name
          }}<span v-if="centreOf(r)" class="soft text-[13px]"> · {{ centreOf(r)!.name }}</span
          ><span v-if="usualOf(r)" class="soft text-[13px]"> · from {{ usualOf(r)!.name }}</span
          ><span v-if="!r.active" class="text-[13px]"> · not in use</span></span
        >
        <template v-if="session.maySetUp"
          ><button type="button" class="btn btn-quiet btn-small" :aria-label="`Change ${r.name}`" @click="edit(r)">
            Change</button
          ><button
            type="button"
            class="btn btn-quiet btn-small"
            :aria-label="r.active ? `Take ${r.name} out of use` : `Take ${r.name} into use again`"
            @click="put(r, { ...unchanged(r), active: !r.active })"
          >
            {{ r.active ? 'Out of use' : 'Use again' }}
          </button></template
        >
      </div>
    </li>
    <li v-if="!rows.length" class="soft py-1.5">None yet.</li>
  </ul>
</template>
