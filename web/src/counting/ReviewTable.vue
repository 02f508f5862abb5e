<script setup lang="ts">
/** Counted beside expected, with the difference in quantity and value; what is far off is counted once more here. */
import { computed } from 'vue'
import type { EffectLine, RefusalView, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useSlip } from '../ledger/slip-store.ts'
import FigureOf from '../ui/FigureOf.vue'
import { useFormat } from '../ui/format.ts'
import DifferingLine from '../ledger/DifferingLine.vue'
import LeftLines from './LeftLines.vue'
import { cellOf, isCounted, useEntries } from './entries.ts'

defineEmits<{ back: [line: number] }>()
const slip = useSlip()
const index = useIndex()
const session = useSession()
const f = useFormat()
const { isMine, isHidden, isShared, nameOf, takeOff, turn } = useEntries()
type Near = NonNullable<EffectLine['near']>[number]
type Row = {
  l: SlipLine
  item?: { name: string; unit: string } | undefined
  effect: EffectLine | undefined
  said: RefusalView[]
}
/** What is counted once more comes first, and stays there while its figure is typed: no line moves under the finger. */
const rank = (r: Row): number =>
  r.l.again !== '' || r.l.unitCost !== '' || r.said.length ? 2 : (r.effect?.difference ?? '0') !== '0' ? 1 : 0
const rows = computed(() =>
  slip.content.lines
    .map((l, i) => ({
      l,
      i,
      item: index.byId.get(l.item ?? ''),
      effect: slip.effectOf(l.id),
      said: slip.lineRefusals(l.id),
    }))
    .filter(r => isCounted(r.l))
    .sort((a, b) => rank(b) - rank(a)),
)
/** What is said of several entries of one line is said once, under the last of them. */
const isLast = (r: (typeof rows.value)[number]) => rows.value.findLast(x => cellOf(x.l) === cellOf(r.l))?.l === r.l
const places = computed(() => f.placesOf(rows.value.map(r => r.effect?.expected)))
const needs = (r: (typeof rows.value)[number], code: string) => r.said.some(x => x.code === code)
const again = (r: (typeof rows.value)[number]) =>
  needs(r, 'count_twice') ||
  needs(r, 'counts_differ') ||
  (needs(r, 'counters_differ') && isMine(r.l)) ||
  r.l.again !== ''
/** Said beside the field it asks for, not once more below. */
const below = (r: (typeof rows.value)[number]) =>
  r.said.filter(
    x => x.code !== 'count_twice' && x.code !== 'second_counter' && (x.code !== 'counters_differ' || isLast(r)),
  )
/** What was counted as expected is so whatever moved; what somebody else counted they say themselves. */
const near = (r: Row) => r.effect?.near ?? []
const moved = (r: Row, n: Near) => `${f.number(n.quantity, true)} ${r.item?.unit}`
/** Lines that want a second counter, who is not here. */
const single = computed(() => rows.value.filter(r => needs(r, 'second_counter')).length)
const twice = computed(() => rows.value.filter(r => needs(r, 'count_twice')).length)
</script>
<template>
  <section class="slip">
    <div class="overflow-x-auto">
      <div class="px-5 pt-4 pb-2 flex justify-between gap-4 flex-wrap">
        <div>
          <h1>Counted beside expected</h1>
          <p class="soft">A difference waits, open, until it is found or closed.</p>
          <p v-if="twice" class="mt-1">
            <b>{{ twice }} line{{ twice === 1 ? ' is' : 's are' }} far off</b>: count
            {{ twice === 1 ? 'it' : 'them' }} once more. Two equal figures stand.
          </p>
          <p v-if="single" class="mt-1">
            <b>{{ single }} line{{ single === 1 ? ' waits' : 's wait' }} for a second counter</b>, who opens this sheet
            on a screen of their own.
          </p>
        </div>
        <p v-if="session.seeValue" class="text-right">
          net
          <b class="mono"
            ><FigureOf
              v-if="slip.effect?.ok"
              figure="slip-value"
              :ask="slip.working(null, 'value')"
              label="Net value of the differences"
              >{{ f.amount(slip.effect.value, true) }}</FigureOf
            ><template v-else>not known yet</template></b
          >
        </p>
      </div>
      <table v-if="rows.length" class="list edge">
        <thead>
          <tr>
            <th>Item</th>
            <th>Lot</th>
            <th class="text-right!">Expected</th>
            <th class="text-right!">Counted</th>
            <th class="text-right!">Difference</th>
            <th v-if="session.seeValue" class="text-right!">Value</th>
            <th>Counted again</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in rows" :key="r.l.id">
            <tr>
              <td class="wrap-anywhere min-w-28">
                <button type="button" class="text-left font-medium cursor-pointer" @click="$emit('back', r.i)">
                  {{ r.item?.name }}
                </button>
                <div class="soft text-[12px]">
                  {{ session.placeName(r.l.from)
                  }}<template v-if="isShared(r.l)">
                    · counted by <b class="text-ink">{{ isMine(r.l) ? 'you' : nameOf(r.l) }}</b></template
                  >
                </div>
                <DifferingLine :line="r.l" />
              </td>
              <td class="mono wrap-anywhere min-w-20">{{ r.l.lot?.code }}</td>
              <td class="num">
                <template v-if="r.effect?.expected"
                  ><FigureOf
                    figure="expected"
                    :ask="slip.working(r.l.id, 'expected')"
                    :label="`Expected of ${r.item?.name}`"
                    >{{ f.number(r.effect.expected) }}</FigureOf
                  >{{ f.pad(r.effect.expected, places) }}</template
                ><span v-else-if="slip.content.head.blind" class="soft">hidden</span>
              </td>
              <td class="num">
                <span v-if="isHidden(r.l)" class="soft">hidden</span
                ><template v-else>{{ r.l.counted === 'confirmed' ? 'as expected' : r.l.typed }}</template>
              </td>
              <td class="num">
                <span v-if="r.effect?.difference && r.effect.difference !== '0'" class="chip"
                  ><FigureOf
                    figure="difference"
                    :ask="slip.working(r.l.id, 'difference')"
                    :label="`Difference of ${r.item?.name}`"
                    >{{ f.number(r.effect.difference, true) }}</FigureOf
                  ></span
                ><span v-else-if="r.effect?.difference" class="soft">none</span>
              </td>
              <td v-if="session.seeValue" class="num">
                <FigureOf
                  v-if="r.effect?.difference && r.effect.difference !== '0' && !r.said.length"
                  figure="slip-value"
                  :ask="slip.working(r.l.id, 'value')"
                  :label="`Value of the difference of ${r.item?.name}`"
                  >{{ f.money(r.effect?.value, true) }}</FigureOf
                >
              </td>
              <td>
                <button
                  v-if="needs(r, 'counters_differ')"
                  type="button"
                  class="btn btn-small"
                  :aria-label="`Take off what ${isMine(r.l) ? 'you' : nameOf(r.l)} counted: ${r.item?.name}`"
                  @click="takeOff(r.l)"
                >
                  Take it off</button
                ><input
                  v-if="again(r)"
                  data-again
                  v-model="r.l.again"
                  class="field field-small field-num w-28!"
                  :aria-label="`Counted again: ${r.item?.name}`"
                  placeholder="once more"
                /><span v-if="needs(r, 'count_twice')" class="text-straw text-[12px] block">far off</span
                ><span v-if="needs(r, 'second_counter')" class="soft text-[12px] block">second counter</span
                ><input
                  v-if="needs(r, 'cost_asked') || r.l.unitCost"
                  v-model="r.l.unitCost"
                  class="field field-small field-num w-28!"
                  :aria-label="`Worth of one ${r.item?.unit}`"
                  :placeholder="`worth of one`"
                />
              </td>
            </tr>
            <tr v-if="below(r).length || near(r).length" class="said">
              <td colspan="7" class="pt-0!">
                <p v-for="n in near(r)" :key="n.at" class="near flex flex-wrap gap-x-3 gap-y-1 items-center">
                  <span
                    ><span class="mono">{{ moved(r, n) }}</span> {{ f.when(n.at) }},
                    <RouterLink class="go mono" :to="{ name: 'slip', params: { id: n.slip.id } }">{{
                      n.slip.number
                    }}</RouterLink>
                    counts as done <b>{{ n.before ? 'before' : 'after' }}</b> this was counted</span
                  ><button
                    v-if="isMine(r.l)"
                    type="button"
                    class="btn btn-small"
                    :aria-label="`${moved(r, n)} of ${r.item?.name}, ${n.slip.number}: it was ${n.before ? 'after' : 'before'} the count`"
                    @click="turn(r.l, n)"
                  >
                    It was {{ n.before ? 'after' : 'before' }}
                  </button>
                </p>
                <p v-for="x in below(r)" :key="x.code" class="error">{{ x.message }}</p>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-else class="px-5 pb-5 soft">Nothing is counted yet.</p>
    </div>
  </section>
  <LeftLines />
</template>
<style scoped>
/* On a narrow screen the table is moved sideways under it: it stays in view, whole. */
.near {
  position: sticky;
  left: 20px;
  width: fit-content;
  max-width: calc(100vw - 76px);
}
.chip {
  border: 1px solid var(--buoy);
  color: var(--buoy);
  border-radius: 10px;
  padding: 0 9px;
  font-weight: 600;
}
</style>
