<script setup lang="ts">
/** What speaks against a line, each with what can be done about it. */
import { computed } from 'vue'
import type { RefusalView, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import ReadingChoices from './ReadingChoices.vue'

const props = defineProps<{ line: SlipLine; said: readonly RefusalView[] }>()
const index = useIndex()
const f = useFormat()
const base = computed(() => (props.line.item ? index.byId.get(props.line.item)?.unit : undefined))
const elsewhere = computed(
  () =>
    props.said.find(r => r.code === 'insufficient_stock')?.detail as
      | { there?: string; elsewhere?: { place: string; quantity: string }[]; elsewhereNames?: { name: string }[] }
      | undefined,
)
function takeWhatIs() {
  props.line.typed = elsewhere.value?.there ?? '0'
  props.line.unit = null
}
const MONEY = ['price', 'discount', 'unitCost', 'invoiced'] as const
/** What was typed is that: of money in its own field, of a quantity in its unit. */
function choose(r: RefusalView, number: string, unit: string) {
  const money = MONEY.find(field => field === r.field)
  if (money) props.line[money] = number
  else {
    props.line.typed = number
    if (unit === base.value) props.line.unit = null
  }
}
</script>
<template>
  <div v-for="r in said" :key="r.code + r.field" class="error flex flex-wrap gap-2 items-center" role="alert">
    <span>{{ r.message }}</span>
    <template v-if="r.code === 'insufficient_stock' && elsewhere"
      ><button v-if="elsewhere.there !== '0'" type="button" class="btn btn-small" @click="takeWhatIs">
        Take the {{ f.number(elsewhere.there) }}</button
      ><button
        v-for="(e, i) in (elsewhere.elsewhere ?? []).slice(0, 3)"
        :key="e.place"
        type="button"
        class="btn btn-small"
        @click="line.from = e.place"
      >
        From {{ elsewhere.elsewhereNames?.[i]?.name }}</button
      ><RouterLink class="btn btn-small" :to="{ name: 'count' }">Count it now</RouterLink></template
    >
    <button
      v-if="r.code === 'takes_reserved'"
      type="button"
      class="btn btn-small"
      @click="line.accepts.push(String(r.detail.job))"
    >
      Take it from that job
    </button>
    <ReadingChoices :refusal="r" @choose="(number, unit) => choose(r, number, unit)" />
  </div>
</template>
