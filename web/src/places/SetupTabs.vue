<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../shell/session.ts'
import TabsAcross from '../ui/TabsAcross.vue'
const session = useSession()
/** These are shown to whoever sets up everything. */
const MANAGERS = new Set<string>(['setup-people', 'setup-accounts', 'setup-changes'])
const shown = computed(() => TABS.filter(([n]) => !MANAGERS.has(n) || session.maySetUp))
const TABS = [
  ['setup-items', 'Items'],
  ['setup-categories', 'Categories'],
  ['setup-places', 'Places'],
  ['setup-lists', 'Jobs, suppliers, reasons'],
  ['setup-people', 'People'],
  ['setup-accounts', 'Account codes'],
  ['setup-cards', 'Cards and scanner'],
  ['setup-tablets', 'Tablets'],
  ['setup-organisation', 'Organisation'],
  ['setup-changes', 'Changes'],
] as const
const route = useRoute()
const router = useRouter()
/** Whether one is on a view, or on something that is opened from it. */
const isUnder = (name: string) => {
  const { path } = router.resolve({ name })
  return route.path === path || route.path.startsWith(`${path}/`)
}
</script>
<template>
  <TabsAcross label="Set-up" :tabs="shown.map(([name, label]) => ({ to: { name }, label, on: isUnder(name) }))" />
</template>
