<script setup lang="ts">
/** A date as it stands on a package, typed in the organisation's order; shown as it writes dates. */
import { computed, ref } from 'vue'
import { readDay } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import { useFormat } from './format.ts'
import { sayUnread } from './unread.ts'

const props = defineProps<{
  modelValue: string | null
  label: string
  invalid?: boolean
  /** Said in place of the order; then the year may be left out. */ near?: string
}>()
const emit = defineEmits<{
  'update:modelValue': [day: string | null]
  /** Whether what stands here is no date. */ unread: [so: boolean]
  /** Somebody has gone on from it, and what stands here is another date than before, or none. */ settled: [
    day: string | null,
  ]
}>()
const session = useSession()
const f = useFormat()
const read = (text: string) =>
  readDay(text, session.settings.dateOrder, props.near === undefined ? undefined : Number(f.today().slice(0, 4)))
/** What is being typed; null where nothing is. */
const typed = ref<string | null>(null)
const shown = computed(() => typed.value ?? f.date(props.modelValue, true))
const unread = computed(() => typed.value !== null && typed.value.trim() !== '' && read(typed.value) === undefined)
const hint = computed(
  () => ({ dmy: 'day month year', mdy: 'month day year', ymd: 'year month day' })[session.settings.dateOrder],
)
const help = computed(() => `Type ${hint.value}${props.near === undefined ? ', or 06/27' : ''}.`)
sayUnread(() => (unread.value ? `“${typed.value!.trim()}” (${props.label}) is no date. ${help.value}` : undefined))
/** What cannot be read is no day: the one that could be read before it does not stand in its place. */
function type(text: string) {
  typed.value = text
  emit('unread', unread.value)
  emit('update:modelValue', text.trim() ? (read(text) ?? null) : null)
}
function leave() {
  if (unread.value || typed.value === null) return
  const day = typed.value.trim() ? read(typed.value)! : null
  typed.value = null
  emit('settled', day)
}
</script>
<template>
  <span class="inline-block">
    <input
      class="field field-small"
      :value="shown"
      :aria-label="label"
      :placeholder="near ?? hint"
      :title="hint"
      :aria-invalid="invalid || unread || undefined"
      autocomplete="off"
      @input="type(($event.target as HTMLInputElement).value)"
      @change="leave"
      @blur="leave"
    />
    <span v-if="unread" class="error block" role="alert">No such date. {{ help }}</span>
  </span>
</template>
