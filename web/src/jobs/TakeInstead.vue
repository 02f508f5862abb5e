<script setup lang="ts">
/** What may be taken in the place of a need that is not met here: one touch each. */
import type { JobLineView } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'

defineProps<{ options: JobLineView['instead']; name: string }>()
const emit = defineEmits<{ take: [item: string] }>()
const f = useFormat()
const unit = (u: string) => (u === 'each' ? '' : ` ${u}`)
</script>
<template>
  <span v-for="o in options" :key="o.item.id" class="block text-[12px]">
    <button
      type="button"
      class="btn btn-small my-0.5 whitespace-normal! text-left! max-w-44"
      :aria-label="`Take ${o.stands}${unit(o.item.unit)} ${o.item.name} instead of ${name}`"
      @click="emit('take', o.item.id)"
    >
      {{ f.number(o.stands) }}{{ unit(o.item.unit) }} {{ o.item.name }} instead
    </button>
    <span class="soft whitespace-nowrap ml-1">{{ o.here === '0' ? 'none here' : `${f.number(o.here)} here` }}</span>
  </span>
</template>
