<script setup lang="ts">
/**
 * A number as it is typed. What may be read in two ways is asked at once, and is not sent before it is answered (rule 58);
 * what stood there already was written by a machine, and has one reading.
 */
import { computed, ref, watch } from 'vue'
import { decimal, formatDecimal, isTwofold, plainly, readingsOf } from '@shelve/core'
import { sayUnread } from './unread.ts'

defineOptions({ inheritAttrs: false })
defineProps<{ focus?: boolean }>()
const text = defineModel<string>({ required: true })
const input = ref<HTMLInputElement>()
const typed = ref('')
const readings = computed(() => {
  const t = text.value.trim()
  return text.value === typed.value && isTwofold(t) ? readingsOf(t).map(decimal) : []
})
const asks = computed(() => {
  const [one, other] = readings.value.map(r => formatDecimal(r))
  return one ? `“${text.value.trim()}” could be ${one} or ${other}. Which one?` : undefined
})
sayUnread(() => asks.value)
/** So wide is the question, where the screen is; it never sticks out of it. */
const WIDE = 310
const EDGE = 12
const at = ref({ left: '0', width: '0' })
watch(asks, () => {
  const left = input.value?.getBoundingClientRect().left ?? 0
  const width = Math.min(WIDE, innerWidth - 2 * EDGE)
  at.value = { left: `${Math.min(0, innerWidth - EDGE - width - left)}px`, width: `${width}px` }
})
function choose(reading: bigint) {
  text.value = plainly(reading)
  input.value?.focus()
}
</script>
<template>
  <span class="relative block">
    <input
      ref="input"
      v-model="text"
      inputmode="decimal"
      autocomplete="off"
      v-bind="$attrs"
      v-focus="focus"
      class="field field-num"
      :aria-invalid="!!asks || !!$attrs['aria-invalid'] || undefined"
      @input="typed = ($event.target as HTMLInputElement).value"
    />
    <span
      v-if="asks"
      class="card over absolute z-30 top-full mt-1 p-2 error flex flex-wrap gap-2 items-center font-normal"
      :style="at"
      role="alert"
      ><span class="basis-full">{{ asks }}</span
      ><button
        v-for="r in readings"
        :key="String(r)"
        type="button"
        class="btn btn-small mono"
        @click.prevent="choose(r)"
      >
        {{ formatDecimal(r) }}
      </button></span
    >
  </span>
</template>
