<script setup lang="ts">
/** What something that was typed can be read as, or what would fit: each a touch away. */
import { computed } from 'vue'
import type { RefusalView } from '@shelve/contract'
import { decimal, plainly } from '@shelve/core'

const props = defineProps<{ refusal: RefusalView }>()
/** The number so that it has one reading, and the unit it is said in, if any. */
const emit = defineEmits<{ choose: [number: string, unit: string] }>()
const choices = computed<string[]>(() => {
  const { choices, nearest } = props.refusal.detail as { choices?: string[]; nearest?: unknown }
  if (props.refusal.code === 'ambiguous') return choices ?? []
  return props.refusal.code === 'too_many_decimals' && Array.isArray(nearest) ? (nearest as string[]) : []
})
function choose(said: string) {
  const [number, ...unit] = said.split(' ')
  emit('choose', plainly(decimal(number!)), unit.join(' '))
}
</script>
<template>
  <button v-for="c in choices" :key="c" type="button" class="btn btn-small" @click="choose(c)">{{ c }}</button>
</template>
