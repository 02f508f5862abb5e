<script setup lang="ts">
/** An item over time: how much was used in each month, and what one cost at each delivery. */
import { computed } from 'vue'
import { Bar, Line } from 'vue-chartjs'
import { useRouter } from 'vue-router'
import { shortMonth, writtenMonth } from '@shelve/core'
import type { ItemYears } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import { ink } from './charts.ts'

const props = defineProps<{ item: string; name: string; unit: string; place: string | null }>()
const session = useSession()
const router = useRouter()
const f = useFormat()
const path = () => `/api/items/${props.item}/years${query({ place: props.place })}`
const { it: out } = useReading<ItemYears>(path, e => e.kind === 'booked')
/** The running month is not over: it stands apart in the sentence, not in the bars' mean. */
const months = computed(() => out.value?.months.slice(-13) ?? [])
const used = computed(() => months.value.map(m => -Number(m.used)))
const mean = computed(() => {
  const whole = used.value.slice(0, -1)
  return whole.length ? whole.reduce((a, b) => a + b, 0) / whole.length : 0
})
const prices = computed(() => out.value?.prices ?? [])
const axes = (unit: string) => ({
  x: { grid: { display: false }, ticks: { color: ink('--soft'), maxRotation: 0, autoSkip: true } },
  y: {
    beginAtZero: true,
    grid: { color: ink('--hair') },
    ticks: { color: ink('--soft'), maxTicksLimit: 5 },
    title: { display: true, text: unit, color: ink('--soft') },
  },
})
const base = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: { legend: { display: false } },
}
/** A bar opens the slips it adds up, a point its delivery. */
const openMonth = (_e: unknown, hit: { index: number }[]) => {
  const m = hit[0] && months.value[hit[0].index]
  if (m)
    void router.push({
      name: 'ledger',
      query: {
        flow: 'used',
        item: props.item,
        from: `${m.month}-01`,
        to: lastDay(m.month),
        about: `Used: ${props.name}`,
        area: props.place ?? undefined,
      },
    })
}
const openDelivery = (_e: unknown, hit: { index: number }[]) => {
  const p = hit[0] && prices.value[hit[0].index]
  if (p) void router.push({ name: 'slip', params: { id: p.slip.id } })
}
const bars = computed(() => {
  void session.theme
  return {
    data: {
      labels: months.value.map(m => shortMonth(m.month)),
      datasets: [{ label: 'Used', data: used.value, backgroundColor: ink('--kelp'), maxBarThickness: 26 }],
    },
    options: { ...base, onClick: openMonth, scales: axes(props.unit) },
  }
})
const line = computed(() => {
  void session.theme
  return {
    data: {
      labels: prices.value.map(p => f.date(f.dayOf(new Date(p.at)))),
      datasets: [
        {
          label: 'Cost of one',
          data: prices.value.map(p => Number(p.cost)),
          borderColor: ink('--tide'),
          backgroundColor: ink('--tide'),
          borderWidth: 2,
          pointRadius: 3,
          stepped: 'after' as const,
        },
      ],
    },
    options: {
      ...base,
      onClick: openDelivery,
      scales: { ...axes(f.symbol().trim()), y: { ...axes(f.symbol().trim()).y, beginAtZero: false } },
    },
  }
})
const change = computed(() => {
  const [first, last] = [prices.value[0], prices.value.at(-1)]
  return first && last && prices.value.length > 1 && Number(first.cost) > 0
    ? (Number(last.cost) / Number(first.cost) - 1) * 100
    : null
})
</script>
<template>
  <div v-if="months.some(m => m.used !== '0') || prices.length > 1" class="px-5 py-3 border-t border-hair">
    <div class="flex justify-between gap-3 items-baseline">
      <h2>Over time</h2>
      <SaveAs :path="path()" name="months" />
    </div>
    <div class="grid gap-5 grid-cols-1 sm:grid-cols-2 mt-1">
      <figure v-if="months.length > 1">
        <figcaption class="text-[13px] mb-1">
          Used by month<span class="soft"
            >, about <span class="mono">{{ f.number(mean.toFixed(mean < 10 ? 1 : 0)) }} {{ unit }}</span> a month</span
          >
        </figcaption>
        <div class="h-36">
          <Bar
            :aria-label="`Used by month: ${months.map((m, i) => `${writtenMonth(m.month)} ${used[i]}`).join(', ')}`"
            :data="bars.data"
            :options="bars.options as never"
          />
        </div>
      </figure>
      <figure v-if="prices.length > 1">
        <figcaption class="text-[13px] mb-1">
          What one cost, freight in it<span v-if="change !== null" class="soft"
            >, <span class="mono">{{ f.number(change.toFixed(1), true) }} %</span> since
            {{ f.date(f.dayOf(new Date(prices[0]!.at)), true) }}</span
          >
        </figcaption>
        <div class="h-36">
          <Line
            :aria-label="`Cost of one at each delivery: ${prices.map(p => `${f.date(f.dayOf(new Date(p.at)), true)} ${f.money(p.cost)}`).join(', ')}`"
            :data="line.data as never"
            :options="line.options as never"
          />
        </div>
      </figure>
    </div>
  </div>
</template>
