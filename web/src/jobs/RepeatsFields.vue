<script setup lang="ts">
/** When a job comes again: by the calendar, or so many days after it is over. */
import { computed } from 'vue'
import type { JobHead } from '@shelve/contract'
import { readRepeats, type Repeats, WEEKDAYS, writeRepeats } from './repeats.ts'

const head = defineModel<JobHead>({ required: true })
const chosen = computed(() => readRepeats(head.value))
function choose(of: Partial<Repeats>) {
  Object.assign(head.value, writeRepeats({ ...chosen.value, ...of }))
}
/** What is no number of them is not kept, and stands there no more. */
function often(field: HTMLInputElement) {
  choose({ every: Number(field.value) })
  field.value = String(chosen.value.every)
}
const toggle = (day: string) =>
  choose({
    days: chosen.value.days.includes(day) ? chosen.value.days.filter(d => d !== day) : [...chosen.value.days, day],
  })
const HOW = [
  ['never', 'It does not'],
  ['DAILY', 'Every day'],
  ['WEEKLY', 'Every week'],
  ['MONTHLY', 'Every month'],
  ['after', 'After it is over'],
] as const
const UNIT = { never: '', DAILY: 'days', WEEKLY: 'weeks', MONTHLY: 'months', after: 'days after it is over' } as const
</script>
<template>
  <span class="flex flex-wrap gap-3 items-end">
    <label
      ><span class="label">Comes again</span
      ><select
        class="field field-small"
        :value="chosen.how"
        @change="choose({ how: ($event.target as HTMLSelectElement).value as Repeats['how'] })"
      >
        <option v-for="[how, word] in HOW" :key="how" :value="how">{{ word }}</option>
      </select></label
    ><label v-if="chosen.how !== 'never'" class="flex gap-1.5 items-center pb-1"
      >every
      <input
        class="field field-small field-num w-14!"
        inputmode="numeric"
        :value="chosen.every"
        :aria-label="`Comes again every so many ${UNIT[chosen.how]}`"
        @change="often($event.target as HTMLInputElement)"
      />
      {{ UNIT[chosen.how] }}</label
    ><span v-if="chosen.how === 'WEEKLY'" class="flex gap-1 pb-1" role="group" aria-label="On which days"
      ><button
        v-for="[day, name] in WEEKDAYS"
        :key="day"
        type="button"
        class="btn btn-small px-2!"
        :class="{ 'btn-act': chosen.days.includes(day) }"
        :aria-pressed="chosen.days.includes(day)"
        :aria-label="name"
        @click="toggle(day)"
      >
        {{ name.slice(0, 2) }}
      </button></span
    >
  </span>
</template>
