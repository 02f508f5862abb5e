<script setup lang="ts">
/** A count as a grid: all lines at once, typed down the column. */
import { computed } from 'vue'
import { formatDecimal, type readQuantity } from '@shelve/core'
import type { SlipLine } from '@shelve/contract'
import DifferingLine from '../ledger/DifferingLine.vue'
import { useSlip } from '../ledger/slip-store.ts'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import { isCounted, useEntries } from './entries.ts'

const props = defineProps<{
  /** The place of a line within the area. */ brief: (l: SlipLine) => string
  reads: (text: string, l: SlipLine) => ReturnType<typeof readQuantity> | undefined
  minute: () => string
}>()
const slip = useSlip()
const index = useIndex()
const f = useFormat()
const { isMine, isHidden, isShared, nameOf, write } = useEntries()
const blind = computed(() => slip.content.head.blind)
const expectedPlaces = computed(() => f.placesOf(slip.effect?.lines.map(l => l.expected) ?? []))
function gridTyped(l: SlipLine, text: string) {
  write(l, text.trim() ? 'counted' : 'not', text.trim() ? text : '', props.minute())
}
function gridKey(e: KeyboardEvent, i: number) {
  const by = e.key === 'Enter' || e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
  if (!by || e.ctrlKey) return
  e.preventDefault()
  const to = document.querySelector<HTMLInputElement>(`[data-row="${i + by}"]`)
  to?.focus()
  to?.select()
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
          <tr v-for="(l, i) in slip.content.lines" :key="l.id">
            <td class="mono soft">{{ brief(l) }}</td>
            <td>
              {{ index.byId.get(l.item!)?.name }}
              <span class="mono soft text-[12px]">{{ index.byId.get(l.item!)?.code }}</span>
              <div v-if="isCounted(l) && (isShared(l) || !isMine(l))" class="soft text-[12px]">
                counted by {{ isMine(l) ? 'you' : nameOf(l) }}
              </div>
              <DifferingLine :line="l" />
            </td>
            <td class="mono">{{ l.lot?.code ?? '' }}</td>
            <td v-if="!blind" class="num">{{ f.aligned(slip.effectOf(l.id)?.expected, expectedPlaces) }}</td>
            <td class="text-right">
              <input
                class="field field-small field-num w-32!"
                :data-row="i"
                :value="l.counted === 'counted' && !isHidden(l) ? l.typed : ''"
                :placeholder="isHidden(l) ? 'hidden' : l.counted === 'confirmed' ? 'as expected' : 'not counted'"
                :aria-label="`Counted: ${index.byId.get(l.item!)?.name} ${l.lot?.code ?? ''}`"
                @input="gridTyped(l, ($event.target as HTMLInputElement).value)"
                @keydown="gridKey($event, i)"
              />
            </td>
            <td class="mono soft">
              {{
                l.counted === 'counted' && !isHidden(l)
                  ? (r =>
                      r?.ok
                        ? `${f.number(formatDecimal(r.quantity))} ${index.byId.get(l.item!)?.unit}`
                        : 'cannot be read')(reads(l.typed, l))
                  : ''
              }}
            </td>
            <td v-if="!blind" class="text-right">
              <button type="button" class="btn btn-small" @click="write(l, 'confirmed', '', minute())">
                As expected
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
