<script setup lang="ts">
/** Says that a part of the page could not be read, and why: an empty page looks like one where nothing is. */
import { computed, watch } from 'vue'
import { connection } from './api.ts'
import { unread } from './unread.ts'

const why = computed(() => [...new Set([...unread.values()].map(u => u.why))].join(' '))
const again = () => Promise.all([...unread.values()].map(u => u.again()))
watch(connection, c => {
  if (c === 'live') void again()
})
</script>
<template>
  <div v-if="unread.size" class="note no-print" role="alert">
    <span>Not all of this page could be read. {{ why }}</span>
    <button type="button" class="btn btn-small" @click="again">Read it again</button>
  </div>
</template>
<style scoped>
.note {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  justify-content: space-between;
  padding: 8px 14px;
  margin-bottom: 10px;
  border: 1px solid var(--buoy);
  border-radius: 6px;
  background: var(--sheet);
}
</style>
