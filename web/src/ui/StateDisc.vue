<script setup lang="ts">
/** A state by the fill of a disc, drawn in ink alone, always with its word. */
import { computed } from 'vue'
import type { LevelsView } from '@shelve/contract'
import { STATE_WORDS } from './format.ts'

const props = defineProps<{ state: LevelsView['state']; note?: string; bare?: boolean }>()
const fill = computed(() => ({ out: 0, short: 0.25, short_coming: 0.5, in_range: 1, over: 1, none: 0 })[props.state])
/** A wedge from the top, a whole disc, or a dash where there is no state; always one and the same shape, redrawn. */
const shape = computed(() => {
  if (props.state === 'none') return 'M4 7.4h8v1.2h-8Z'
  if (fill.value === 0) return 'M8 8Z'
  const r = props.state === 'over' ? 5 : fill.value === 1 ? 5.8 : 5.5
  if (fill.value === 1) return `M8 ${8 - r} A${r} ${r} 0 1 1 8 ${8 + r} A${r} ${r} 0 1 1 8 ${8 - r} Z`
  const a = fill.value * 2 * Math.PI
  return `M8 8 L8 ${8 - r} A${r} ${r} 0 ${fill.value > 0.5 ? 1 : 0} 1 ${8 + r * Math.sin(a)} ${8 - r * Math.cos(a)} Z`
})
</script>
<template>
  <span class="inline-flex items-center gap-1.5 whitespace-nowrap">
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" class="shrink-0">
      <circle
        cx="8"
        cy="8"
        :r="state === 'none' ? 0 : state === 'over' ? 7.3 : 5.8"
        fill="none"
        stroke="currentColor"
        :stroke-width="state === 'none' ? 0 : 1.1"
      />
      <path :d="shape" fill="currentColor" />
    </svg>
    <span v-if="!bare"
      >{{ STATE_WORDS[state] }}<template v-if="note">{{ note }}</template></span
    >
  </span>
</template>
