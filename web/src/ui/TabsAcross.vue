<script setup lang="ts">
/** Views of one work side by side, above what is shown of it. */
import type { RouteLocationRaw } from 'vue-router'

defineProps<{ label: string; tabs: readonly { to: RouteLocationRaw; label: string; on: boolean }[] }>()
</script>
<template>
  <nav class="flex flex-wrap gap-x-6 gap-y-1 mb-2 border-b border-hair no-print" :aria-label="label">
    <RouterLink
      v-for="t in tabs"
      :key="t.label"
      :to="t.to"
      class="t"
      :class="{ on: t.on }"
      :aria-current="t.on ? 'page' : undefined"
      >{{ t.label }}</RouterLink
    >
  </nav>
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
