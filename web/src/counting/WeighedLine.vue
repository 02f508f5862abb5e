<script setup lang="ts">
/** What is left in an opened container by its weight, where it is counted: gross less what it weighs empty. */
import { computed, ref, watch } from 'vue'
import { decimal, formatDecimal, isWeighable, weightSaid } from '@shelve/core'
import type { LotPage, SlipLine } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import { leftOnScale } from '../ui/weighed.ts'

const props = defineProps<{ line: SlipLine }>()
/** So much is left, as a figure that can be typed, and what was read off the scale. */
const emit = defineEmits<{ weighed: [left: string, said: string] }>()
const index = useIndex()
const f = useFormat()
const tare = ref<string | null>(null)
const typed = ref('')
const measure = computed(() => {
  const item = index.byId.get(props.line.item ?? '')
  return item && index.measure(item)
})
/** The lot whose weight can say how much there is; the items may come later than the sheet. */
const weighable = computed(() => (measure.value && isWeighable(measure.value) ? (props.line.lot?.id ?? null) : null))
watch(
  weighable,
  async id => {
    tare.value = null
    typed.value = ''
    if (!id) return
    // Where it cannot be told, it is counted as anything else is.
    const page = await get<LotPage>(`/api/lots/${id}`).catch(() => null)
    if (weighable.value === id) tare.value = page?.tare ?? null
  },
  { immediate: true },
)
const read = computed(() =>
  tare.value !== null && measure.value
    ? leftOnScale(typed.value, tare.value, measure.value)
    : { left: undefined, wrong: '' },
)
const left = computed(() => read.value.left)
const wrong = computed(() => read.value.wrong)
function take() {
  if (left.value === undefined || wrong.value) return
  emit('weighed', `${formatDecimal(left.value)} ${measure.value!.base}`, `weighs ${typed.value.trim()}`)
  typed.value = ''
}
</script>
<template>
  <form v-if="tare !== null" class="mt-3 flex flex-wrap items-center gap-3" @submit.prevent="take">
    <label class="flex items-center gap-3"
      ><span class="soft">or by its weight</span
      ><input
        v-model="typed"
        class="field mono w-36!"
        aria-label="It weighs now"
        placeholder="812 g"
        inputmode="decimal"
        autocomplete="off"
    /></label>
    <button class="btn" :disabled="left === undefined || !!wrong">
      {{
        left === undefined || wrong ? 'Take that' : `${f.number(formatDecimal(left))} ${measure!.base} left: take that`
      }}
    </button>
    <span v-if="wrong" class="error" aria-live="polite">{{ wrong }}</span>
    <span v-else class="soft text-[13px]">empty it weighs {{ weightSaid(decimal(tare)) }}</span>
  </form>
</template>
