<script setup lang="ts">
/** A disc filled by so much of its round (0 to 1), drawn in ink alone; `over`: with a ring around it; none: a dash. */
import { computed } from 'vue'

const props = defineProps<{ fill: number | null; over?: boolean }>()
/** A wedge from the top, a whole disc, or a dash where there is no state; always one and the same shape, redrawn. */
const shape = computed(() => {
  if (props.fill === null) return 'M4 7.4h8v1.2h-8Z'
  if (props.fill === 0) return 'M8 8Z'
  const r = props.over ? 5 : props.fill === 1 ? 5.8 : 5.5
  if (props.fill === 1) return `M8 ${8 - r} A${r} ${r} 0 1 1 8 ${8 + r} A${r} ${r} 0 1 1 8 ${8 - r} Z`
  const a = props.fill * 2 * Math.PI
  return `M8 8 L8 ${8 - r} A${r} ${r} 0 ${props.fill > 0.5 ? 1 : 0} 1 ${8 + r * Math.sin(a)} ${8 - r * Math.cos(a)} Z`
})
</script>
<template>
  <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" class="shrink-0">
    <circle
      cx="8"
      cy="8"
      :r="fill === null ? 0 : over ? 7.3 : 5.8"
      fill="none"
      stroke="currentColor"
      :stroke-width="fill === null ? 0 : 1.1"
    />
    <path :d="shape" fill="currentColor" />
  </svg>
</template>
