<script setup lang="ts">
/** Says that a part of the page could not be read, and why: an empty page looks like one where nothing is. */
import { computed, watch } from 'vue'
import { connection } from './api.ts'
import FrameNote from './FrameNote.vue'
import { unread } from './unread.ts'

const why = computed(() => [...new Set([...unread.values()].map(u => u.why))].join(' '))
const again = () => Promise.all([...unread.values()].map(u => u.again()))
watch(connection, c => {
  if (c === 'live') void again()
})
</script>
<template>
  <FrameNote v-if="unread.size" act="Read it again" @pressed="again"
    >Not all of this page could be read. {{ why }}</FrameNote
  >
</template>
