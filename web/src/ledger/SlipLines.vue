<script setup lang="ts">
/** The lines of a slip, or of one of its sides, under each other. */
import { computed } from 'vue'
import type { Place, SlipKind, SlipLine } from '@shelve/contract'
import { useEachOwn } from '../issuing/each-own.ts'
import SlipLineRow from './SlipLineRow.vue'
import type { useLines } from './lines.ts'
import type { Way } from './kind.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{
  kind: SlipKind
  way: Way
  title: string
  lines: readonly SlipLine[]
  /** The places of the slip's area. */ bins: Place[]
  /** How lines belong together, and how one goes from one to the next. */ does: ReturnType<typeof useLines>
}>()
const slip = useSlip()
const own = useEachOwn()
/** Where only one thing comes of it, it bears the whole cost: there is nothing to share. */
const shares = computed(() => props.way.share === true && new Set(props.lines.map(l => l.item)).size > 1)
</script>
<template>
  <table class="list" :aria-label="title">
    <thead>
      <tr>
        <th>Item</th>
        <th class="text-right!">{{ way.what }}</th>
        <th v-if="way.lot === 'in'">Lot, use by</th>
        <th v-else-if="way.lot === 'out' || way.lot === 'told'">Lot</th>
        <th v-if="own.on.value">For, taken by</th>
        <th v-else-if="way.from && kind !== 'waste'">From</th>
        <th v-if="way.opens">Opened as, use by</th>
        <th v-if="way.to">Into</th>
        <th v-if="way.reason">Why</th>
        <th v-if="way.price" class="text-right!">{{ kind === 'supplier_return' ? 'Credited for one' : 'Price' }}</th>
        <th v-if="shares" class="text-right!">Part of the cost</th>
        <th><span class="sr-only">Remove</span></th>
      </tr>
    </thead>
    <tbody>
      <SlipLineRow
        v-for="line in lines"
        :key="line.id"
        :line="line"
        :kind="kind"
        :bins="bins"
        :focused="slip.focused === line.id"
        :follows="does.groupOf(line).first !== line"
        :together="does.together(line)"
        :more="does.groupOf(line).lines.at(-1) !== line"
        :shares="shares"
        :own="own.on.value"
        @down="does.step(line.id, 1)"
        @up="does.step(line.id, -1)"
        @another="does.anotherLot(line)"
      />
    </tbody>
  </table>
</template>
<style scoped>
td:first-child,
th:first-child,
:deep(td:first-child) {
  padding-left: 20px;
}
</style>
