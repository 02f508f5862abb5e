<script setup lang="ts">
/** Looking back: months of value, what was used by whom, a past day, who did what, closing. */
import { computed, defineAsyncComponent, watch } from 'vue'
import { remembered } from '../shell/remembered.ts'
import { useSession } from '../shell/session.ts'

const props = defineProps<{ part: string }>()
const session = useSession()
const ALL = [
  ['months', 'Value by month', defineAsyncComponent(() => import('./MonthsPane.vue')), true],
  ['by', 'Used, wasted, received', defineAsyncComponent(() => import('./ByPane.vue')), true],
  ['accounts', 'By account code', defineAsyncComponent(() => import('./AccountsPane.vue')), true],
  ['day', 'A past day', defineAsyncComponent(() => import('./PastPane.vue')), false],
  ['who', 'Who did what', defineAsyncComponent(() => import('./ActivityPane.vue')), false],
  ['close', 'Closed months', defineAsyncComponent(() => import('./ClosePane.vue')), false],
] as const
const parts = computed(() => ALL.filter(p => !p[3] || session.seeValue))
/** What was looked at last, where the address does not say. */
const last = remembered(
  'look-back',
  ALL.map(p => p[0]),
  'months',
)
watch(
  () => props.part,
  p => {
    const known = ALL.find(x => x[0] === p)
    if (known) last.value = known[0]
  },
  { immediate: true },
)
const pane = computed(() => parts.value.find(p => p[0] === (props.part || last.value)) ?? parts.value[0]!)
</script>
<template>
  <nav class="flex flex-wrap gap-x-6 gap-y-1 mb-2 border-b border-hair no-print" aria-label="Look back">
    <RouterLink
      v-for="[id, label] in parts"
      :key="id"
      :to="{ name: 'look-back', params: { part: id } }"
      class="t"
      :class="{ on: pane[0] === id }"
      :aria-current="pane[0] === id ? 'page' : undefined"
      >{{ label }}</RouterLink
    >
  </nav>
  <component :is="pane[2]" />
</template>
<style scoped>
.t {
  padding: 7px 0 6px;
  color: var(--soft);
  border-bottom: 2px solid transparent;
  font-weight: 550;
}
.t.on {
  color: var(--kelp);
  border-color: var(--kelp);
}
@media (pointer: coarse) {
  .t {
    padding: 14px 0;
  }
}
</style>
