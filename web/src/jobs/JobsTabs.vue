<script setup lang="ts">
/** What there is under the tab *Jobs*. */
import { useRoute } from 'vue-router'

const route = useRoute()
</script>
<template>
  <nav class="flex flex-wrap gap-x-6 gap-y-1 mb-2 border-b border-hair" aria-label="Jobs and templates">
    <RouterLink :to="{ name: 'jobs' }" class="t" :class="{ on: route.path.startsWith('/jobs') }">Jobs</RouterLink>
    <RouterLink :to="{ name: 'templates' }" class="t" :class="{ on: route.path.startsWith('/templates') }"
      >Templates</RouterLink
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
