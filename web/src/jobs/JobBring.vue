<script setup lang="ts">
/** Jobs from another system, as CSV: a file, or its text. */
import { computed, ref } from 'vue'
import type { JobsTaken } from '@shelve/contract'
import { post, saidEach } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import FileMark from '../ui/FileMark.vue'
import { textChosen } from '../ui/text-of.ts'

const emit = defineEmits<{ close: [] }>()
const session = useSession()
const text = ref('')
const place = ref(session.placeId ?? session.areas.find(a => session.may('book', a.id))?.id ?? '')
const places = computed(() => session.areas.filter(a => session.may('book', a.id)))
const mark = ref<'.' | ',' | null>(null)
const wrong = ref<string[]>([])
const taken = ref<JobsTaken['rows'] | null>(null)
const CAME = { new: 'new', changed: 'changed', same: 'as it was', over: 'over, left as it is' } as const
async function read(e: Event) {
  text.value = (await textChosen(e)) ?? text.value
}
async function bring() {
  try {
    taken.value = (
      await post<JobsTaken>('/api/jobs/brought', {
        text: text.value,
        place: place.value,
        decimalMark: mark.value,
      })
    ).rows
    wrong.value = []
  } catch (e) {
    taken.value = null
    wrong.value = saidEach(e)
  }
}
</script>
<template>
  <form class="slip mb-4 px-5 py-4" aria-label="Jobs from a file" @submit.prevent="bring" @keydown.esc="emit('close')">
    <h2 class="mb-1">Jobs from another system</h2>
    <p class="soft mb-3 max-w-[80ch]">
      A CSV file whose first line names its columns:
      <span class="mono text-[13px]"
        >reference, name, template, for how much, day, time, cost centre, responsible, note, item, quantity</span
      >. A job may stand on several lines, one for each item it needs. The same file taken again changes what has
      changed and doubles nothing.
    </p>
    <div class="flex flex-wrap gap-4 items-end mb-3">
      <label
        ><span class="label">A file</span
        ><input type="file" accept=".csv,.txt,text/csv" class="field field-small" @change="read"
      /></label>
      <label
        ><span class="label">Where the jobs are done</span
        ><select v-model="place" class="field field-small">
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      >
      <FileMark v-model="mark" />
    </div>
    <label
      ><span class="label">or its text</span
      ><textarea v-model="text" v-focus class="field mono text-[13px]" rows="6" spellcheck="false" />
    </label>
    <ul v-if="wrong.length" class="error mt-2" role="alert">
      <li v-for="w in wrong" :key="w">{{ w }}</li>
      <li>Nothing was taken.</li>
    </ul>
    <ul v-if="taken" class="mt-2" role="status">
      <li v-for="r in taken" :key="r.id">
        <RouterLink class="go" :to="{ name: 'job', params: { id: r.id } }">{{ r.name }}</RouterLink>
        <span class="soft">
          · <span class="mono">{{ r.reference }}</span> · {{ CAME[r.came] }}</span
        >
      </li>
    </ul>
    <div class="flex gap-3 mt-4">
      <button class="btn btn-act" v-wants="text.trim() ? '' : 'Choose a file, or paste its text.'">Take them</button
      ><button type="button" class="btn" @click="emit('close')">{{ taken ? 'Close' : 'Leave it' }}</button>
    </div>
  </form>
</template>
