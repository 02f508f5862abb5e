<script setup lang="ts">
/** A line that somebody else saved otherwise meanwhile: what they wrote, and which of the two stands. */
import { computed } from 'vue'
import type { SlipLine } from '@shelve/contract'
import BothVersions from '../papers/BothVersions.vue'
import { useSays } from './says.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ line: SlipLine }>()
const slip = useSlip()
const says = useSays()
const told = computed(() => slip.differing.get(props.line.id))
</script>
<template>
  <BothVersions
    v-if="told"
    :by="told.by"
    :theirs="told.content && says.line(told.content, props.line)"
    @take="slip.settleLine(props.line.id, false)"
    @keep="slip.settleLine(props.line.id, true)"
  />
</template>
