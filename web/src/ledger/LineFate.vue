<script setup lang="ts">
/** What became of a booked line since, and by which slip. */
import type { SlipView } from '@shelve/contract'

defineProps<{ line: SlipView['lines'][number] | undefined }>()
const STATES = { stands: '', taken_back: 'taken back', replaced: 'replaced', part_taken_back: 'partly taken back' }
</script>
<template>
  <div v-if="line?.by" class="text-[12px] no-underline!">
    {{ STATES[line.state] }} by
    <RouterLink class="go mono" :to="{ name: 'slip', params: { id: line.by.slip } }">{{ line.by.number }}</RouterLink>
  </div>
</template>
