<script setup lang="ts">
/** A day and a time of day on the organisation's clock, each typed as people write it; empty: now, or with `asked` not said yet. */
import { computed, ref, watch } from 'vue'
import { readTime } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import DateField from './DateField.vue'
import { useFormat } from './format.ts'
import { clockOf, momentOf } from './moment.ts'
import { sayUnread } from './unread.ts'

const props = defineProps<{
  modelValue: string | null
  label: string
  asked?: boolean
  /** The day of a time alone, where it is not today. */ likely?: string | undefined
}>()
const emit = defineEmits<{ 'update:modelValue': [instant: string | null] }>()
const session = useSession()
const f = useFormat()
const day = ref<string | null>(null)
const time = ref('')
/** On the day on which the clock is put forward it shows no time between the two. */
const skipped = ref(false)
/** What was said last, so that one's own answer does not rewrite what is being typed. */
let said: string | null | undefined
watch(
  () => props.modelValue,
  v => {
    if (v === said) return
    said = v
    day.value = v ? f.dayOf(new Date(v)) : null
    time.value = v ? clockOf(v, session.settings.zone) : ''
    skipped.value = false
  },
  { immediate: true },
)
const wrong = computed(() => time.value.trim() !== '' && readTime(time.value) === undefined)
sayUnread(() =>
  wrong.value
    ? `“${time.value.trim()}” (${props.label}) is no time. Type one like 14:30.`
    : skipped.value
      ? `There was no ${time.value.trim()} on that day (${props.label}): the clock was put forward over it.`
      : undefined,
)
const noDay = ref(false)
/** A time alone is today's, or of the day that is likely; a day alone is its noon, for nobody said when. What cannot be read is no moment. */
function say() {
  const t =
    wrong.value || noDay.value
      ? undefined
      : time.value.trim()
        ? readTime(time.value)!
        : day.value
          ? { hours: 12, minutes: 0 }
          : undefined
  const at = t && momentOf(day.value ?? props.likely ?? f.today(), t, session.settings.zone)
  skipped.value = t !== undefined && at === undefined
  said = at === undefined ? null : new Date(at).toISOString()
  emit('update:modelValue', said)
}
</script>
<template>
  <span class="inline-block align-top"
    ><span class="flex gap-2 items-start">
      <DateField
        v-model="day"
        class="w-32"
        :label="`${label}: day`"
        :near="likely ? f.date(likely) : 'today'"
        @unread="so => (noDay = so)"
        @update:model-value="say"
      />
      <input
        v-model="time"
        class="field field-small mono w-20!"
        :aria-label="`${label}: time`"
        :placeholder="asked ? '14:30' : 'now'"
        inputmode="numeric"
        autocomplete="off"
        :aria-invalid="wrong || skipped"
        @input="say"
      /> </span
    ><span v-if="wrong" class="error block" role="alert">A time like 14:30</span
    ><span v-else-if="skipped" class="error block" role="alert">No such time that day</span></span
  >
</template>
