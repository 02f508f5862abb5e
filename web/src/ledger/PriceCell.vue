<script setup lang="ts">
/** The price of a line, beside what was last paid: how much it changed, or the last one to be taken by a touch. */
import { computed } from 'vue'
import { decimal, forOne, formatDecimal, ONE, plainly, readQuantity } from '@shelve/core'
import type { IndexItem, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ line: SlipLine; item: IndexItem | undefined; invalid: boolean }>()
const emit = defineEmits<{ keydown: [e: KeyboardEvent]; blur: [] }>()
const slip = useSlip()
const index = useIndex()
const f = useFormat()
const effect = computed(() => slip.effectOf(props.line.id))
const usual = computed(() => {
  const c = effect.value?.cost
  return c?.usual && effect.value && Number(effect.value.quantity) > 0 ? c.usual : null
})
/** What was last paid for one of the unit that is typed: one click takes it. */
const last = computed(() => {
  const usual = effect.value?.cost?.usual
  const one = props.item && readQuantity('1', index.measure(props.item), props.line.unit ?? undefined)
  if (!usual || !one?.ok || props.line.price.trim()) return null
  return (decimal(usual) * one.quantity + ONE / 2n) / ONE
})
const paid = computed(() =>
  // What goes back is worth what it cost, whatever is credited for it.
  effect.value?.value && Number(effect.value.value) > 0 && Number(effect.value.quantity) > 0 && props.line.price.trim()
    ? Number(effect.value.value) / Number(effect.value.quantity)
    : null,
)
const change = computed(() =>
  usual.value && paid.value !== null && Number(usual.value) > 0 ? (paid.value / Number(usual.value) - 1) * 100 : null,
)
</script>
<template>
  <input
    v-model="line.price"
    class="field field-small field-num price"
    :aria-label="`Price of one ${line.unit ?? item?.unit}: ${item?.name}`"
    :aria-invalid="invalid"
    inputmode="decimal"
    autocomplete="off"
    @keydown="emit('keydown', $event)"
    @blur="emit('blur')"
  />
  <div class="soft text-[12px] text-right whitespace-nowrap">
    <template v-if="change !== null && Math.abs(change) >= 0.05"
      ><span class="text-straw mono">{{ f.number(change.toFixed(1), true) }} %</span></template
    ><template v-else-if="change !== null">as usual</template
    ><button
      v-else-if="last !== null"
      type="button"
      class="touch cursor-pointer"
      :aria-label="`Price as last time, ${f.number(formatDecimal(last))}: ${item?.name}`"
      @click="line.price = plainly(last)"
    >
      last <span class="mono">{{ f.number(formatDecimal(last)) }}</span></button
    ><template v-else>{{ forOne(line.unit ?? item?.unit ?? '') }}</template>
  </div>
</template>
<style scoped>
.price {
  width: 70px;
}
</style>
