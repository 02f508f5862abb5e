<script setup lang="ts">
/** What was wasted in a span of months: why, where and of what, beside what was used and as many months before; each bar opens its slips. */
import { computed, ref } from 'vue'
import { Bar } from 'vue-chartjs'
import { useRouter } from 'vue-router'
import { decimal, formatDecimal, shortMonth, writtenMonth } from '@shelve/core'
import type { WasteReport } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import DisposalList from './DisposalList.vue'
import MonthSpan from './MonthSpan.vue'
import TrimmedList from './TrimmedList.vue'
import { ink } from './charts.ts'

const session = useSession()
const router = useRouter()
const f = useFormat()
const span = ref({ from: `${f.today().slice(0, 4)}-01`, to: f.today().slice(0, 7) })
const wrong = ref('')
const path = () => `/api/look-back/waste${query({ from: span.value.from, to: span.value.to, place: session.placeId })}`
const { it: out } = useReading<WasteReport>(path, undefined, wrong)
const percent = (p: string | null) => (p === null ? '—' : `${f.number(Number(p).toFixed(1))} %`)
/** What a figure is more, or less, than before. */
const change = (r: { value: string; before: string }) => formatDecimal(decimal(r.value) - decimal(r.before))
/** The slips behind a figure. */
const slips = (about: string, more: Record<string, string | undefined>, month?: string) => ({
  name: 'ledger',
  query: {
    flow: 'wasted',
    from: `${month ?? span.value.from}-01`,
    to: lastDay(month ?? span.value.to),
    about: `Wasted: ${about}`,
    ...more,
  },
})
type Row = WasteReport['reasons'][number]
const TABLES = [
  {
    id: 'reasons',
    head: 'Why',
    of: (r: Row) => slips(r.name, { party: 'reason', partyId: r.id ?? 'none' }),
  },
  { id: 'places', head: 'Where', of: (r: Row) => slips(r.name, { area: r.id ?? undefined }) },
] as const
const chart = computed(() => {
  void session.theme
  const rows = out.value?.months ?? []
  return {
    labels: rows.map(r => shortMonth(r.month)),
    datasets: [
      {
        label: 'Wasted',
        data: rows.map(r => Number(r.wasted)),
        backgroundColor: ink('--buoy'),
        maxBarThickness: 34,
      },
    ],
  }
})
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  onClick: (_e: unknown, hit: { index: number }[]) => {
    const r = hit[0] && out.value?.months[hit[0].index]
    if (r) void router.push(slips(shortMonth(r.month), {}, r.month))
  },
  scales: {
    x: { grid: { display: false }, ticks: { color: ink('--soft') } },
    y: {
      grid: { color: ink('--hair') },
      ticks: { color: ink('--soft'), callback: (v: string | number) => f.number(String(v)) },
    },
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      callbacks: {
        label: (c: { dataIndex: number; parsed: { y: number | null } }) =>
          `${f.amount(String((c.parsed.y ?? 0).toFixed(2)))}, ${percent(out.value?.months[c.dataIndex]?.share ?? null)} of what went`,
      },
    },
  },
}))
</script>
<template>
  <div class="slip pb-4">
    <div class="view-head">
      <div>
        <h1>What was wasted{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p class="soft">
          <template v-if="out"
            >together <b class="mono text-ink">{{ f.amount(out.value) }}</b>,
            <b class="text-ink">{{ percent(out.share) }}</b> of what was used and wasted; before ({{
              out.before.from === out.before.to
                ? writtenMonth(out.before.from)
                : `${writtenMonth(out.before.from)} to ${writtenMonth(out.before.to)}`
            }}) <span class="mono">{{ f.amount(out.before.value) }}</span>, {{ percent(out.before.share) }}</template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2" :class="{ invisible: !out && !wrong }">
        <MonthSpan v-model="span" /><SaveAs :path="path()" name="wasted" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <p v-else-if="!out" class="px-5 pb-6 soft late" role="status">Adding up …</p>
    <template v-if="out && !wrong">
      <div v-if="out.months.length > 1" class="px-5 chart">
        <Bar
          aria-label="What was wasted, by month; pointing at a bar says its part of what went"
          :data="chart as never"
          :options="options as never"
        />
      </div>
      <div class="halves px-5 mt-4">
        <div v-for="t in TABLES" :key="t.id" class="overflow-x-auto">
          <table class="list" :aria-label="t.head">
            <thead>
              <tr>
                <th>{{ t.head }}</th>
                <th class="text-right!">Lines</th>
                <th class="text-right!">Value</th>
                <th class="text-right!">Than before</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in out[t.id]" :key="r.id ?? r.name">
                <td class="wrap-anywhere min-w-28">
                  <RouterLink class="go" :to="t.of(r)">{{ r.name }}</RouterLink>
                </td>
                <td class="num">{{ f.number(String(r.lines)) }}</td>
                <td class="num">{{ f.money(r.value) }}</td>
                <td class="num soft">{{ f.money(change(r), true) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
      <template
        v-for="[id, head, note] in [
          ['worst', 'Most was wasted of', 'the ten of most value'],
          ['changed', 'What changed most', 'more, or less, than before'],
        ] as const"
        :key="id"
      >
        <h2 v-if="out[id].length" class="px-5 mt-6">
          {{ head }} <span class="soft text-[13px] font-normal">{{ note }}</span>
        </h2>
        <div v-if="out[id].length" class="px-5 overflow-x-auto">
          <table class="list" :aria-label="head">
            <thead>
              <tr>
                <th>Item</th>
                <th class="text-right!">Quantity</th>
                <th><span class="sr-only">Unit</span></th>
                <th class="text-right!">Value</th>
                <th class="text-right!">Of what went</th>
                <th class="text-right!">Before</th>
                <th class="text-right!">Than before</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in out[id]" :key="r.id">
                <td class="wrap-anywhere min-w-28">
                  <RouterLink class="go" :to="slips(r.name, { item: r.id })">{{ r.name }}</RouterLink>
                  <span class="mono soft text-[12px] ml-2">{{ r.code }}</span>
                </td>
                <td class="num">
                  {{ f.aligned(r.quantity, f.placesOf(out[id].map(x => x.quantity))) }}
                </td>
                <td class="soft unit">{{ r.unit }}</td>
                <td class="num">{{ f.money(r.value) }}</td>
                <td class="num">{{ percent(r.share) }}</td>
                <td class="num soft">{{ f.money(r.before) }}</td>
                <td class="num">{{ f.money(change(r), true) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
      <TrimmedList :span="span" />
      <DisposalList :span="span" />
      <p v-if="!out.worst.length && !out.changed.length" class="px-5 pb-2 soft">Nothing was wasted in that time.</p>
    </template>
  </div>
</template>
<style scoped>
.chart {
  height: 190px;
}
.halves {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 420px), 1fr));
  gap: 24px;
  align-items: start;
}
</style>
