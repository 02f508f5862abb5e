<script setup lang="ts">
/** Whether the server is there, by word and by mark. */
import { connection } from './api.ts'
</script>
<template>
  <span class="connection text-[13px] whitespace-nowrap" :class="connection" role="status"
    ><i aria-hidden="true" />{{ connection === 'live' ? 'Live' : 'Server away' }}</span
  >
</template>
<style scoped>
.connection i {
  display: inline-block;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: var(--kelp);
  margin-right: 6px;
}
.connection.away {
  color: var(--buoy);
  font-weight: 600;
}
.connection.away i {
  background: none;
  border: 2px solid var(--buoy);
}
</style>
