<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '../shell/session.ts'
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
</script>
<template>
  <nav class="flex flex-wrap gap-x-6 gap-y-1 mb-2 border-b border-hair" aria-label="Set-up">
    <RouterLink v-for="[n, label] in shown" :key="n" :to="{ name: n }" class="t">{{ label }}</RouterLink>
  </nav>
</template>
<style scoped>
.t {
  padding: 7px 0 6px;
  color: var(--soft);
  border-bottom: 2px solid transparent;
  font-weight: 550;
}
.t.router-link-active {
  color: var(--kelp);
  border-color: var(--kelp);
}
@media (pointer: coarse) {
  .t {
    padding: 14px 0;
  }
}
</style>
