<script setup lang="ts">
/** What was asked for is not there, or could not be read: said as the heading of a page that holds nothing else, with the way back. */
import type { RouteLocationRaw } from 'vue-router'

defineProps<{ said: string; to: RouteLocationRaw; back: string }>()
</script>
<template>
  <section class="slip px-5 py-5" role="alert">
    <h1 class="mb-3">{{ said }}</h1>
    <RouterLink class="btn btn-small" :to="to">{{ back }}</RouterLink>
  </section>
</template>
