<script setup lang="ts">
/** What is on a line spoiled instead: why. Nothing chosen: it did not. */
import { Trash2 } from '@lucide/vue'
import { computed, ref } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useReasons } from '../waste/reasons.ts'

const props = defineProps<{ line: SlipLine; name: string; wrong: boolean }>()
const reasons = useReasons()
const open = ref(false)
if (props.line.reason) void reasons.need()
const offered = computed(() => reasons.all.filter(x => x.active || x.id === props.line.reason))
function ask() {
  open.value = true
  void reasons.need()
}
</script>
<template>
  <select
    v-if="open || line.reason"
    v-model="line.reason"
    class="field field-small why"
    :aria-label="`Why wasted: ${name}`"
    :aria-invalid="wrong || undefined"
    @change="open = line.reason !== null"
  >
    <option :value="null">not wasted</option>
    <option v-for="r in offered" :key="r.id" :value="r.id">wasted: {{ r.name }}</option>
  </select>
  <button
    v-else
    type="button"
    class="btn btn-quiet btn-small px-1!"
    :aria-label="`${name} was wasted`"
    title="It was wasted"
    @click="ask"
  >
    <Trash2 :size="14" aria-hidden="true" />
  </button>
</template>
<style scoped>
.why {
  width: 132px;
  padding: 1px 2px 1px 6px;
}
</style>
