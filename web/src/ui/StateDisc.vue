<script setup lang="ts">
/** A state by the fill of a disc, drawn in ink alone, always with its word. */
import type { LevelsView } from '@shelve/contract'
import DiscOf from './DiscOf.vue'
import { STATE_WORDS } from './format.ts'

defineProps<{ state: LevelsView['state']; note?: string; bare?: boolean }>()
const FILL = { out: 0, short: 0.25, short_coming: 0.5, in_range: 1, over: 1, none: null } as const
</script>
<template>
  <span class="inline-flex items-center gap-1.5 whitespace-nowrap">
    <DiscOf :fill="FILL[state]" :over="state === 'over'" />
    <span v-if="!bare"
      >{{ STATE_WORDS[state] }}<template v-if="note">{{ note }}</template></span
    >
  </span>
</template>
