<script setup lang="ts">
/** A state by the fill of a disc, drawn in ink alone, always with its word. */
import { computed } from 'vue'
import type { LevelsView } from '@shelve/contract'
import { STATE_WORDS } from './format.ts'

const props = defineProps<{ state: LevelsView['state']; note?: string; bare?: boolean }>()
const fill = computed(() => ({ out: 0, short: 0.25, short_coming: 0.5, in_range: 1, over: 1, none: 0 })[props.state])
const wedge = computed(() => {
  const a = fill.value * 2 * Math.PI
  return `M8 8 L8 2.5 A5.5 5.5 0 ${fill.value > 0.5 ? 1 : 0} 1 ${8 + 5.5 * Math.sin(a)} ${8 - 5.5 * Math.cos(a)} Z`
})
</script>
<template>
  <span class="inline-flex items-center gap-1.5 whitespace-nowrap">
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" class="shrink-0">
      <circle v-if="state !== 'none'" cx="8" cy="8" :r="state === 'over' ? 7.3 : 5.8" fill="none" stroke="currentColor" stroke-width="1.1" />
      <circle v-if="state === 'over'" cx="8" cy="8" r="5" fill="currentColor" />
      <circle v-else-if="fill === 1" cx="8" cy="8" r="5.8" fill="currentColor" />
      <path v-else-if="fill > 0" :d="wedge" fill="currentColor" />
      <path v-if="state === 'none'" d="M4 8h8" stroke="currentColor" stroke-width="1.2" />
    </svg>
    <span v-if="!bare">{{ STATE_WORDS[state] }}<template v-if="note">{{ note }}</template></span>
  </span>
</template>
