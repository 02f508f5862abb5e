<script setup lang="ts">
/** For several: who they are, and which part in per cent each is charged. */
import { X } from '@lucide/vue'
import { computed, nextTick, useTemplateRef } from 'vue'
import { equalParts, readParts } from '@shelve/core'
import type { SlipHead } from '@shelve/contract'
import ForWhom, { type Receiver } from '../places/ForWhom.vue'

type Among = SlipHead['among']
const props = defineProps<{ modelValue: Among; invalid: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [among: Among]; done: [] }>()
const set = (among: Among) => emit('update:modelValue', among)
const change = (at: number, more: Partial<Among[number]>) =>
  set(props.modelValue.map((a, i) => (i === at ? { ...a, ...more } : a)))
/** In equal parts as long as nobody typed another one. */
const isEqual = computed(() => {
  const equal = equalParts(props.modelValue.length)
  return props.modelValue.every((a, i) => a.percent === '' || a.percent === equal[i])
})
const equally = (among: Among): Among => {
  const parts = equalParts(among.length)
  return among.map((a, i) => ({ ...a, percent: parts[i]! }))
}
const grown = (among: Among) => set(isEqual.value ? equally(among) : among)
const more = () => grown([...props.modelValue, { job: null, costCentre: null, percent: '' }])
function less(at: number) {
  const left = props.modelValue.filter((_, i) => i !== at)
  if (left.length) grown(left)
  else set([])
}
const sum = computed(() => {
  const parts = readParts(props.modelValue.map(a => a.percent))
  return parts.ok || parts.at !== null ? '' : `together ${parts.sum} %, not 100 %`
})
const root = useTemplateRef<HTMLElement>('root')
/** Whom it is for is said: on to which part. */
const toPart = (at: number) =>
  void nextTick(() => root.value?.querySelectorAll<HTMLElement>('[data-part]')[at]?.focus())
const who = (at: number, r: Receiver) => change(at, r)
</script>
<template>
  <fieldset ref="root" class="basis-full">
    <legend class="label">For several, each its part</legend>
    <div v-for="(a, i) in modelValue" :key="i" class="flex gap-2 items-center mb-1.5">
      <ForWhom
        class="grow max-w-72"
        :model-value="a"
        :label="`Part ${i + 1}, for`"
        :invalid="invalid"
        @update:model-value="r => who(i, r)"
        @done="toPart(i)"
      /><input
        data-part
        class="field field-small field-num w-20!"
        :value="a.percent"
        :aria-label="`Part ${i + 1} in per cent`"
        :aria-invalid="invalid || undefined"
        inputmode="decimal"
        autocomplete="off"
        @input="change(i, { percent: ($event.target as HTMLInputElement).value })"
        @focus="($event.target as HTMLInputElement).select()"
        @keydown.enter.prevent="!$event.ctrlKey && emit('done')"
      /><span>%</span
      ><button
        type="button"
        class="btn btn-quiet btn-small px-1!"
        :aria-label="`Take part ${i + 1} off`"
        @click="less(i)"
      >
        <X :size="15" aria-hidden="true" />
      </button>
    </div>
    <div class="flex flex-wrap gap-2 items-center">
      <button v-if="modelValue.length < 12" type="button" class="btn btn-small" @click="more">One more</button
      ><button v-if="!isEqual" type="button" class="btn btn-small" @click="set(equally(modelValue))">
        In equal parts
      </button>
      <span v-if="sum" class="error" role="status">{{ sum }}</span>
    </div>
  </fieldset>
</template>
