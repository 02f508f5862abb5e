<script setup lang="ts">
/** A count as a grid: all lines at once, typed down the column. */
import { computed, nextTick } from 'vue'
import { formatDecimal, type readQuantity } from '@shelve/core'
import type { SlipLine } from '@shelve/contract'
import DifferingLine from '../ledger/DifferingLine.vue'
import { useSlip } from '../ledger/slip-store.ts'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import { isCounted, useEntries } from './entries.ts'
import LotFields from './LotFields.vue'

const props = defineProps<{
  /** The place of a line within the area. */ brief: (l: SlipLine) => string
  reads: (text: string, l: SlipLine) => ReturnType<typeof readQuantity> | undefined
  minute: () => string
}>()
const slip = useSlip()
const index = useIndex()
const f = useFormat()
const { isMine, isHidden, isShared, nameOf, hasOwn, beside, write } = useEntries()
const blind = computed(() => slip.content.head.blind)
const expectedPlaces = computed(() => f.placesOf(slip.effect?.lines.map(l => l.expected) ?? []))
function gridTyped(l: SlipLine, text: string) {
  write(l, text.trim() ? 'counted' : 'not', text.trim() ? text : '', props.minute())
}
/** Whether a line says a count that may be seen here. */
const says = (l: SlipLine) => l.counted === 'counted' && !isHidden(l)
/** So much of its item a count is read as; in a word, that it is not. */
function readAs(l: SlipLine): string {
  if (!says(l)) return ''
  const r = props.reads(l.typed, l)
  if (r?.ok) return `${f.number(formatDecimal(r.quantity))} ${index.byId.get(l.item!)?.unit}`
  return r?.code === 'too_many_decimals' ? 'does not fit' : 'not read'
}
/** Why what was typed on a line cannot stand; only of what does not read as anything by now. */
const unfit = (l: SlipLine) =>
  says(l) && !props.reads(l.typed, l)?.ok ? slip.lineRefusals(l.id).filter(r => r.field === 'typed') : []
/** Which lot it is, is still to be said, by whoever counts it. */
const asksLot = (l: SlipLine) =>
  !l.lot?.id && (!isCounted(l) || isMine(l)) && (index.byId.get(l.item!)?.identifiedBy ?? 'quantity') !== 'quantity'
/** To the next line that is typed on here: what others counted stands between. */
function gridKey(e: KeyboardEvent, i: number) {
  const by = e.key === 'Enter' || e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
  if (!by || e.ctrlKey) return
  e.preventDefault()
  for (let k = i + by; k >= 0 && k < slip.content.lines.length; k += by) {
    const to = document.querySelector<HTMLInputElement>(`[data-row="${k}"]`)
    if (!to) continue
    to.focus()
    to.select()
    return
  }
}
/** A line of one's own beside what somebody else counted. */
async function countToo(l: SlipLine) {
  const own = beside(l)
  await nextTick()
  const row = slip.content.lines.findIndex(x => x.id === own)
  document.querySelector<HTMLInputElement>(`[data-row="${row}"]`)?.focus()
}
</script>
<template>
  <section class="slip">
    <div class="overflow-x-auto">
      <table class="list">
        <thead>
          <tr>
            <th>Place</th>
            <th>Item</th>
            <th>Lot</th>
            <th v-if="!blind" class="text-right!">Expected</th>
            <th class="text-right!">Counted</th>
            <th>Reads as</th>
            <th v-if="!blind"><span class="sr-only">Confirm</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(l, i) in slip.content.lines" :key="l.id">
            <tr>
              <td class="mono soft">{{ brief(l) }}</td>
              <td class="wrap-anywhere min-w-28">
                {{ index.byId.get(l.item!)?.name }}
                <span class="mono soft text-[12px]">{{ index.byId.get(l.item!)?.code }}</span>
                <div v-if="isCounted(l) && (isShared(l) || !isMine(l))" class="soft text-[12px]">
                  counted by {{ isMine(l) ? 'you' : nameOf(l) }}
                </div>
                <DifferingLine :line="l" />
              </td>
              <td class="mono wrap-anywhere min-w-20">
                <LotFields v-if="asksLot(l)" :line="l" :item="index.byId.get(l.item!)!" /><template v-else>{{
                  l.lot?.code ?? ''
                }}</template>
              </td>
              <td v-if="!blind" class="num">{{ f.aligned(slip.effectOf(l.id)?.expected, expectedPlaces) }}</td>
              <td v-if="isCounted(l) && !isMine(l)" class="text-right">
                <span class="mono" :class="{ soft: isHidden(l) }">{{
                  isHidden(l) ? 'hidden' : l.counted === 'confirmed' ? 'as expected' : l.typed
                }}</span><button
                  v-if="!hasOwn(l)"
                  type="button"
                  class="btn btn-small ml-3"
                  :aria-label="`Count it too: ${index.byId.get(l.item!)?.name} ${l.lot?.code ?? ''}`"
                  @click="countToo(l)"
                >
                  Count it too
                </button>
              </td>
              <td v-else class="text-right">
                <input
                  class="field field-small field-num w-32!"
                  :data-row="i"
                  :value="l.counted === 'counted' ? l.typed : ''"
                  :placeholder="
                    l.counted === 'confirmed' ? 'as expected' : l.counted === 'left_out' ? 'left out' : 'not counted'
                  "
                  :aria-label="`Counted: ${index.byId.get(l.item!)?.name} ${l.lot?.code ?? ''}`"
                  @input="gridTyped(l, ($event.target as HTMLInputElement).value)"
                  @keydown="gridKey($event, i)"
                />
              </td>
              <td class="mono soft">{{ readAs(l) }}</td>
              <td v-if="!blind" class="text-right">
                <button
                  v-if="!isCounted(l) || isMine(l)"
                  type="button"
                  class="btn btn-small"
                  @click="write(l, 'confirmed', '', minute())"
                >
                  As expected
                </button>
              </td>
            </tr>
            <tr v-if="unfit(l).length" class="said">
              <td :colspan="blind ? 5 : 7" class="pt-0! text-right!">
                <p v-for="r in unfit(l)" :key="r.code" class="error">{{ r.message }}</p>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
  </section>
</template>
