<script setup lang="ts">
/** Whom a line of a list is for, and who took it. */
import { computed } from 'vue'
import type { SlipLine } from '@shelve/contract'
import ForWhom, { type Receiver } from '../places/ForWhom.vue'

const props = defineProps<{ line: SlipLine; name: string; invalid: boolean }>()
const emit = defineEmits<{ /** It is said: on to the next line. */ done: [] }>()
const own = computed(() => props.line.direct ?? { job: null, costCentre: null, person: '' })
const set = (more: Partial<NonNullable<SlipLine['direct']>>) => {
  props.line.direct = { ...own.value, ...more }
}
/** Whoever took the line before took this one too, unless it is for somebody else. */
let typed = false
function forOther(who: Receiver) {
  const other = who.job !== own.value.job || who.costCentre !== own.value.costCentre
  set({ ...who, ...(other && !typed ? { person: '' } : {}) })
}
function by(e: Event) {
  typed = true
  set({ person: (e.target as HTMLInputElement).value })
}
</script>
<template>
  <ForWhom
    class="w-44"
    data-own
    :model-value="own"
    :label="`For: ${name}`"
    :invalid="invalid"
    @update:model-value="forOther"
    @done="emit('done')"
  /><input
    class="field field-small w-44! mt-1"
    :value="own.person"
    :aria-label="`Taken by: ${name}`"
    placeholder="taken by"
    maxlength="200"
    @input="by"
    @keydown.enter.prevent="!$event.ctrlKey && emit('done')"
  />
</template>
