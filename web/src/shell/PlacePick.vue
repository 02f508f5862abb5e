<script setup lang="ts">
/** Where I am working: always visible, changes everything below it. */
import { useSession } from './session.ts'
const session = useSession()
</script>
<template>
  <label class="shrink-0 border-r border-hair pr-4">
    <span class="block soft text-[12px] leading-tight">Working in</span>
    <select
      v-model="session.placeId"
      class="bg-transparent font-bold text-[15px] -ml-1 max-w-44 cursor-pointer"
      aria-label="Where I am working"
    >
      <option :value="null">All my places</option>
      <option v-for="p in session.areas" :key="p.id" :value="p.id">{{ p.name }}</option>
    </select>
  </label>
</template>
<style scoped>
select option {
  background: var(--sheet);
  color: var(--ink);
}
@media (pointer: coarse) {
  select {
    min-height: 40px;
  }
}
</style>
