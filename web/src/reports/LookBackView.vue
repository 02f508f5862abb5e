<script setup lang="ts">
/** Looking back: months of value, what was used by whom, a past day, who did what, closing. */
import { computed, defineAsyncComponent, watch } from 'vue'
import { remembered } from '../shell/remembered.ts'
import { useSession } from '../shell/session.ts'
import TabsAcross from '../ui/TabsAcross.vue'

const props = defineProps<{ part: string }>()
const session = useSession()
const ALL = [
  ['months', 'Value by month', defineAsyncComponent(() => import('./MonthsPane.vue')), true],
  ['by', 'Used, wasted, received', defineAsyncComponent(() => import('./ByPane.vue')), true],
  ['waste', 'Waste', defineAsyncComponent(() => import('./WastePane.vue')), true],
  ['counts', 'Counts', defineAsyncComponent(() => import('./CountsPane.vue')), true],
  ['budgets', 'Budgets', defineAsyncComponent(() => import('./BudgetsPane.vue')), true],
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
  <TabsAcross
    label="Look back"
    :tabs="parts.map(([part, label]) => ({ to: { name: 'look-back', params: { part } }, label, on: pane[0] === part }))"
  />
  <component :is="pane[2]" />
</template>
