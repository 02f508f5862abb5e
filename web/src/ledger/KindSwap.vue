<script setup lang="ts">
/** What goes out, or comes back the way it went: the two are a touch apart. */
import { computed } from 'vue'
import type { SlipKind } from '@shelve/contract'

const props = defineProps<{ kind: SlipKind }>()
const SWAPS = [
  [
    { kind: 'issue', to: '/issue', word: 'Issue' },
    { kind: 'bring_back', to: '/bring-back', word: 'Bring back' },
  ],
  [
    { kind: 'receipt', to: '/receive', word: 'Receive' },
    { kind: 'supplier_return', to: '/give-back', word: 'Give back' },
  ],
]
const swaps = computed(() => SWAPS.find(s => s.some(w => w.kind === props.kind)))
</script>
<template>
  <div
    v-if="swaps"
    class="flex gap-3 text-[13px] mt-1"
    role="navigation"
    :aria-label="swaps.map(w => w.word).join(' or ')"
  >
    <RouterLink v-for="w in swaps" :key="w.kind" :to="w.to" class="touch swap" :class="{ on: props.kind === w.kind }">{{
      w.word
    }}</RouterLink>
  </div>
</template>
<style scoped>
.swap {
  color: var(--soft);
  border-bottom: 2px solid transparent;
}
.swap.on {
  color: var(--kelp);
  font-weight: 650;
  border-color: var(--kelp);
}
</style>
