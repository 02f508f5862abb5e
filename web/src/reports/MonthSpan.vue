<script setup lang="ts">
/** A span of months, from one to another. */
import { computed } from 'vue'
import { writtenMonth } from '@shelve/core'
import { useFormat } from '../ui/format.ts'
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
/** The month before this one, and this year so far: what is mostly asked. */
const presets = computed(() => {
  const [now, before] = months.value as [string, string]
  return [
    ['Last month', { from: before, to: before }],
    ['This year', { from: `${now.slice(0, 4)}-01`, to: now }],
  ] as const
})
const is = (span: { from: string; to: string }) =>
  span.from === props.modelValue.from && span.to === props.modelValue.to
</script>
<template>
  <span class="flex flex-wrap gap-2 items-center"
    ><button
      v-for="[label, months] in presets"
      :key="label"
      type="button"
      class="btn btn-small"
      :aria-pressed="is(months)"
      @click="emit('update:modelValue', months)"
    >
      {{ label }}</button
    ><select
      class="field field-small w-28!"
      aria-label="From month"
      :value="modelValue.from"
      @change="set('from', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="m in months" :key="m" :value="m">{{ writtenMonth(m) }}</option></select
    ><span class="soft">to</span
    ><select
      class="field field-small w-28!"
      aria-label="To month"
      :value="modelValue.to"
      @change="set('to', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="m in months" :key="m" :value="m">{{ writtenMonth(m) }}</option>
    </select></span
  >
</template>
