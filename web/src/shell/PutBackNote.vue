<script setup lang="ts">
/** Says that a backup was put in place, to each device once: what was written after it was taken is not there any more. */
import { useFormat } from '../ui/format.ts'
import FrameNote from './FrameNote.vue'
import { seenPutBack, untold } from './put-back.ts'

const { when } = useFormat()
</script>
<template>
  <FrameNote v-if="untold" act="I have read it" @pressed="seenPutBack"
    >A backup was put in place {{ when(untold.at) }}.
    <template v-if="untold.until">All is as it stood {{ when(untold.until) }}: </template>what was written after it was
    taken is missing, and has to be written once more. What stands open on this device is saved again.</FrameNote
  >
</template>
