<script setup lang="ts">
/** A time of day as people write it; empty: none. */
import { computed, ref } from 'vue'
import { readTime } from '@shelve/core'
import { sayUnread } from './unread.ts'

/** HH:MM (ISO 8601); empty: none. */
const time = defineModel<string>({ required: true })
const props = defineProps<{ label: string }>()
/** What is being typed; null where nothing is. */
const typed = ref<string | null>(null)
const wrong = computed(
  () => typed.value !== null && typed.value.trim() !== '' && readTime(typed.value.trim()) === undefined,
)
sayUnread(() =>
  wrong.value ? `“${typed.value!.trim()}” (${props.label}) is no time. Type one like 14:30.` : undefined,
)
/** What cannot be read is no time: the one that could be read before it does not stand in its place. */
function leave() {
  const text = typed.value?.trim()
  if (text === undefined) return
  const read = text ? readTime(text) : undefined
  time.value = read ? [read.hours, read.minutes].map(n => String(n).padStart(2, '0')).join(':') : ''
  if (!wrong.value) typed.value = null
}
</script>
<template>
  <span class="inline-block align-top"
    ><input
      class="field field-small mono w-20!"
      :value="typed ?? time"
      :aria-label="label"
      placeholder="18:30"
      autocomplete="off"
      :aria-invalid="wrong || undefined"
      @input="typed = ($event.target as HTMLInputElement).value"
      @change="leave"
      @blur="leave"
    /><span v-if="wrong" class="error block" role="alert">A time like 14:30</span></span
  >
</template>
