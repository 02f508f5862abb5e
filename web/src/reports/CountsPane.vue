<script setup lang="ts">
/** How right the books were where they were counted: by month, area and item, beside as many months before; each row opens its counts. */
import { ref } from 'vue'
import { writtenMonth } from '@shelve/core'
import type { CountAccuracy, CountedRight } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import MonthSpan from './MonthSpan.vue'

const session = useSession()
const f = useFormat()
const span = ref({ from: `${f.today().slice(0, 4)}-01`, to: f.today().slice(0, 7) })
const wrong = ref('')
const path = () => `/api/look-back/counts${query({ ...span.value, place: session.placeId })}`
const { it: out } = useReading<CountAccuracy>(path, undefined, wrong)
const percent = (p: string | null) => (p === null ? '—' : `${f.number(Number(p).toFixed(1))} %`)
/** The counts behind a row. */
const counts = (
  about: string,
  more: Record<string, string | undefined>,
  from = span.value.from,
  to = span.value.to,
) => ({
  name: 'ledger',
  query: { kind: 'count', from: `${from}-01`, to: lastDay(to), about: `Counted: ${about}`, ...more },
})
interface Row extends CountedRight {
  readonly key: string
  readonly name: string
  readonly code?: string
  readonly before?: string | null
  readonly to: object
}
const TABLES = [
  {
    head: 'By area',
    note: '',
    rows: (r: CountAccuracy): Row[] =>
      r.places.map(p => ({ ...p, key: p.id ?? p.name, to: counts(p.name, { place: p.id ?? undefined }) })),
  },
  {
    head: 'By month',
    note: '',
    rows: (r: CountAccuracy): Row[] =>
      r.months
        .filter(m => m.lines)
        .map(m => ({
          ...m,
          key: m.month,
          name: writtenMonth(m.month),
          to: counts(writtenMonth(m.month), {}, m.month, m.month),
        })),
  },
  {
    head: 'By item',
    note: 'those that were off, most by value first',
    rows: (r: CountAccuracy): Row[] => r.items.map(i => ({ ...i, key: i.id, to: counts(i.name, { item: i.id }) })),
  },
] as const
</script>
<template>
  <div class="slip pb-4">
    <div class="view-head">
      <div>
        <h1>How right the books were{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p v-if="out?.lines" class="soft">
          <b class="text-ink">{{ percent(out.share) }}</b> of {{ f.number(String(out.lines)) }} counted lines were
          within tolerance when first counted; before ({{
            out.before.from === out.before.to
              ? writtenMonth(out.before.from)
              : `${writtenMonth(out.before.from)} to ${writtenMonth(out.before.to)}`
          }}) {{ percent(out.before.share) }}. Put right <b class="mono text-ink">{{ f.money(out.net, true) }}</b>, of
          <span class="mono">{{ f.amount(out.gross) }}</span> in all.
        </p>
      </div>
      <div class="flex flex-wrap gap-2" :class="{ invisible: !out && !wrong }">
        <MonthSpan v-model="span" /><SaveAs :path="path()" name="counts" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <p v-else-if="!out" class="px-5 pb-6 soft late" role="status">Adding up …</p>
    <p v-else-if="!out.lines" class="px-5 pb-4 soft">
      Nothing was counted in that time. Once a count is booked it says here how near the books were.
    </p>
    <div v-else class="px-5 overflow-x-auto">
      <table class="list" aria-label="How right the books were">
        <thead>
          <tr>
            <th>Where, when, what</th>
            <th class="text-right!">Counted</th>
            <th class="text-right!">Agreed</th>
            <th class="text-right!">Within</th>
            <th class="text-right!">Per cent</th>
            <th class="text-right!">Before</th>
            <th class="text-right!">Missing</th>
            <th class="text-right!">Over</th>
            <th class="text-right!">Net</th>
            <th class="text-right!">Gross</th>
          </tr>
        </thead>
        <tbody v-for="t in TABLES.filter(x => x.rows(out!).length)" :key="t.head">
          <tr>
            <th colspan="10" scope="rowgroup" class="pt-5!">
              {{ t.head }} <span v-if="t.note" class="soft font-normal">{{ t.note }}</span>
            </th>
          </tr>
          <tr v-for="r in t.rows(out)" :key="r.key">
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="go" :to="r.to">{{ r.name }}</RouterLink>
              <span v-if="r.code" class="mono soft text-[12px] ml-2">{{ r.code }}</span>
            </td>
            <td class="num">{{ f.number(String(r.lines)) }}</td>
            <td class="num">{{ f.number(String(r.exact)) }}</td>
            <td class="num">{{ f.number(String(r.hits)) }}</td>
            <td class="num font-semibold">{{ percent(r.share) }}</td>
            <td class="num soft">{{ r.before === undefined ? '' : percent(r.before) }}</td>
            <td class="num">{{ f.money(r.missing, true) }}</td>
            <td class="num">{{ f.money(r.over, true) }}</td>
            <td class="num">{{ f.money(r.net, true) }}</td>
            <td class="num">{{ f.money(r.gross) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>
