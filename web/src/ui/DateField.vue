<script setup lang="ts">
/** A date as it stands on a package, typed in the organisation's order; shown as it writes dates. */
import { computed, ref } from 'vue'
import { readDay } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import { useFormat } from './format.ts'

const props = defineProps<{ modelValue: string | null; label: string; invalid?: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [day: string | null] }>()
const session = useSession()
const f = useFormat()
/** What is being typed; null where nothing is. */
const typed = ref<string | null>(null)
const shown = computed(() => typed.value ?? f.date(props.modelValue, true))
const unread = computed(() => typed.value !== null && typed.value.trim() !== '' && readDay(typed.value, session.settings.dateOrder) === undefined)
const hint = computed(() => ({ dmy: 'day month year', mdy: 'month day year', ymd: 'year month day' })[session.settings.dateOrder])
function type(text: string) {
  typed.value = text
  const day = text.trim() ? readDay(text, session.settings.dateOrder) : null
  if (day !== undefined) emit('update:modelValue', day)
}
function leave() { if (!unread.value) typed.value = null }
</script>
<template>
  <span class="inline-block">
    <input class="field field-small" :value="shown" :aria-label="label" :placeholder="hint" :title="hint" :aria-invalid="invalid || unread" autocomplete="off" @input="type(($event.target as HTMLInputElement).value)" @blur="leave" />
    <span v-if="unread" class="error block" role="alert">No such date. Type {{ hint }}, or 06/27.</span>
  </span>
</template>
