<script setup lang="ts">
/** Value of stock by month of a year: what came, went and was put right, what remained; as bars and as a table. */
import { computed, ref, watch } from 'vue'
import { Bar } from 'vue-chartjs'
import { useRoute, useRouter } from 'vue-router'
import { decimal, formatDecimal, shortMonth } from '@shelve/core'
import type { Category, LookMonth, LookYear } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useChoices, useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import { ink } from './charts.ts'

const session = useSession()
const router = useRouter()
const f = useFormat()
// What is looked at stands in the address: whoever goes back finds it as it was.
const route = useRoute()
const year = ref(/^\d{4}$/.test(String(route.query.year)) ? Number(route.query.year) : undefined)
const category = ref(typeof route.query.category === 'string' ? route.query.category : '')
watch([year, category], () =>
  router.replace({ query: { ...route.query, year: year.value, category: category.value || undefined } }),
)
const { choices: categories } = useChoices<Category>('/api/categories')
const wrong = ref('')
const path = () =>
  `/api/look-back/months${query({ year: year.value === undefined ? undefined : String(year.value), category: category.value, place: session.placeId })}`
const { it: out } = useReading<LookYear>(path, undefined, wrong)
/** Those there are, also where one of them cannot be read. */
const years = ref<readonly number[]>([])
watch(out, o => {
  if (o) years.value = o.years
})
const rows = computed(() => out.value?.rows ?? [])
const whole = computed(() => rows.value.every(r => r.closing !== null))
const COLUMNS: { id: keyof LookMonth; label: string; always: boolean }[] = [
  { id: 'opening', label: 'Was there', always: true },
  { id: 'begun', label: 'Opening stock', always: false },
  { id: 'received', label: 'Received', always: true },
  { id: 'made', label: 'Made', always: false },
  { id: 'used', label: 'Used', always: true },
  { id: 'wasted', label: 'Wasted', always: true },
  { id: 'differences', label: 'Differences', always: true },
  { id: 'price', label: 'Price differences', always: false },
  { id: 'closing', label: 'Remained', always: true },
  { id: 'direct', label: 'Straight to users', always: false },
]
const columns = computed(() =>
  COLUMNS.filter(
    c =>
      (whole.value || (c.id !== 'opening' && c.id !== 'closing')) &&
      (c.always || rows.value.some(r => r[c.id] !== '0')),
  ),
)
const total = (id: keyof LookMonth) =>
  (id === 'opening'
    ? rows.value[0]?.opening
    : id === 'closing'
      ? rows.value.at(-1)?.closing
      : formatDecimal(rows.value.reduce((s, r) => s + decimal(r[id] as string), 0n))) ?? null
/** The slips that a bar adds up; of all flows: those that changed the value of stock in that month. */
const slips = (m: string, flow = 'any', label = '') => ({
  name: 'ledger',
  query: {
    flow,
    from: `${m}-01`,
    to: lastDay(m),
    category: category.value || undefined,
    about: [label, categories.value.find(c => c.id === category.value)?.name].filter(Boolean).join(', ') || undefined,
  },
})
const FLOWS: Partial<Record<keyof LookMonth, string>> = {
  begun: 'opening',
  received: 'received',
  made: 'made',
  used: 'used',
  wasted: 'wasted',
  differences: 'differences',
  price: 'price',
}
const BARS = [
  { id: 'received', label: 'Received', colour: '--kelp' },
  { id: 'used', label: 'Used', colour: '--tide' },
  { id: 'wasted', label: 'Wasted', colour: '--buoy' },
  { id: 'differences', label: 'Differences', colour: '--straw' },
] as const
const chart = computed(() => {
  void session.theme
  return {
    labels: rows.value.map(r => shortMonth(r.month)),
    datasets: [
      ...(whole.value
        ? [
            {
              type: 'line' as const,
              label: 'Remained',
              data: rows.value.map(r => Number(r.closing)),
              borderColor: ink('--ink'),
              backgroundColor: ink('--ink'),
              borderWidth: 2,
              pointRadius: 3,
            },
          ]
        : []),
      ...BARS.map(b => ({
        type: 'bar' as const,
        label: b.label,
        data: rows.value.map(r => Number(r[b.id])),
        backgroundColor: ink(b.colour),
        stack: 'flow',
        maxBarThickness: 34,
      })),
    ],
  }
})
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  onClick: (_e: unknown, hit: { index: number; datasetIndex: number }[]) => {
    const r = hit[0] && rows.value[hit[0].index]
    const bar = BARS.find(b => b.label === chart.value.datasets[hit[0]?.datasetIndex ?? -1]?.label)
    if (r) void router.push(slips(r.month, bar?.id, bar?.label))
  },
  scales: {
    x: { stacked: true, grid: { display: false }, ticks: { color: ink('--soft') } },
    y: {
      stacked: true,
      grid: { color: ink('--hair') },
      ticks: { color: ink('--soft'), callback: (v: string | number) => f.number(String(v)) },
    },
  },
  plugins: {
    legend: { position: 'bottom' as const, labels: { color: ink('--ink'), boxWidth: 14, boxHeight: 9 } },
    tooltip: {
      callbacks: {
        label: (c: { dataset: { label?: string }; parsed: { y: number | null } }) =>
          `${c.dataset.label}: ${f.amount(String((c.parsed.y ?? 0).toFixed(2)), true)}`,
      },
    },
  },
}))
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>What came, what went, what remained{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p class="soft">
          Value by month of when it happened<template v-if="!whole"
            >; moving between places carries no value, so nothing is said to remain in one of them</template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2" :class="{ invisible: !out && !wrong }">
        <select
          class="field field-small w-24!"
          aria-label="Year"
          :value="out?.year ?? year"
          @change="year = Number(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="y in years" :key="y" :value="y">{{ y }}</option></select
        ><select v-model="category" class="field field-small w-40!" aria-label="Category">
          <option value="">every category</option>
          <option v-for="c in categories" :key="c.id" :value="c.id">{{ c.name }}</option></select
        ><SaveAs :path="path()" name="value-by-month" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <p v-else-if="!out" class="px-5 pb-6 soft late" role="status">Adding up …</p>
    <template v-if="out && !wrong">
      <div class="px-5 chart">
        <Bar
          :aria-label="`Bars of ${out.year}; the table below says the same`"
          :data="chart as never"
          :options="options as never"
        />
      </div>
      <div class="overflow-x-auto mt-3">
        <table class="list edge">
          <thead>
            <tr>
              <th>Month</th>
              <th v-for="c in columns" :key="c.id" class="text-right!">{{ c.label }}</th>
              <th><span class="sr-only">Closed</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.month">
              <td>
                <RouterLink class="go" :to="slips(r.month)">{{ shortMonth(r.month) }}</RouterLink>
              </td>
              <td v-for="c in columns" :key="c.id" class="num" :class="{ 'font-semibold': c.id === 'closing' }">
                <RouterLink
                  v-if="FLOWS[c.id] && r[c.id] !== '0'"
                  class="plain"
                  :to="slips(r.month, FLOWS[c.id], c.label)"
                  >{{ f.money(r[c.id] as string, true) }}</RouterLink><template
                  v-else-if="!FLOWS[c.id] && (r[c.id] !== '0' || c.id !== 'direct')"
                  >{{ f.money(r[c.id] as string, c.id === 'direct') }}</template
                >
              </td>
              <td class="soft">{{ r.closed ? 'closed' : '' }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr class="font-semibold">
              <td>{{ out.year }}</td>
              <td v-for="c in columns" :key="c.id" class="num">
                {{ f.money(total(c.id), c.id !== 'opening' && c.id !== 'closing') }}
              </td>
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
    </template>
  </div>
</template>
<style scoped>
.plain {
  border-bottom: 1px dotted var(--soft);
}
.plain:hover {
  color: var(--kelp);
}
.chart {
  height: 300px;
  position: relative;
} /* A canvas of yesterday’s width must not hold its place open. */
.chart :deep(canvas) {
  position: absolute;
  top: 0;
  left: 20px;
}
tfoot td {
  border-top: 1px solid var(--edge);
}
</style>
