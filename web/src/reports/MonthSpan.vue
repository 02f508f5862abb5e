<script setup lang="ts">
/** A span of months, from one to another. */
import { computed } from 'vue'
import { useFormat } from '../ui/format.ts'
import { monthWord } from '../ui/months.ts'
const props = defineProps<{ modelValue: { from: string; to: string } }>()
const emit = defineEmits<{ 'update:modelValue': [span: { from: string; to: string }] }>()
const f = useFormat()
/** The last five years, the latest first. */
const months = computed(() => {
  const out: string[] = []
  let [y, m] = f.today().split('-').map(Number) as [number, number]
  for (let i = 0; i < 60; i++) {
    out.push(`${y}-${String(m).padStart(2, '0')}`)
    m--
    if (m === 0) {
      m = 12
      y--
    }
  }
  return out
})
function set(which: 'from' | 'to', m: string) {
  const next = { ...props.modelValue, [which]: m }
  if (next.from > next.to) next[which === 'from' ? 'to' : 'from'] = m
  emit('update:modelValue', next)
}
</script>
<template>
  <span class="flex gap-2 items-center"
    ><select
      class="field field-small w-28!"
      aria-label="From month"
      :value="modelValue.from"
      @change="set('from', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="m in months" :key="m" :value="m">{{ monthWord(m, true) }}</option></select
    ><span class="soft">to</span
    ><select
      class="field field-small w-28!"
      aria-label="To month"
      :value="modelValue.to"
      @change="set('to', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="m in months" :key="m" :value="m">{{ monthWord(m, true) }}</option>
    </select></span
  >
</template>
