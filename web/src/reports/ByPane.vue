<script setup lang="ts">
/** What was used, wasted or received, by cost centre, job, reason, supplier, category or place: the largest first, each bar opens its slips. */
import { computed, ref, watch } from 'vue'
import type { LookRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { remembered } from '../shell/remembered.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import MonthSpan from './MonthSpan.vue'

const session = useSession()
const f = useFormat()
const FLOWS = { used: 'Used', wasted: 'Wasted', received: 'Received' } as const
const BY = {
  cost_centre: 'cost centre',
  job: 'job',
  reason: 'reason',
  supplier: 'supplier',
  category: 'category',
  place: 'place',
} as const
const OF: Record<keyof typeof FLOWS, (keyof typeof BY)[]> = {
  used: ['cost_centre', 'job', 'category', 'place'],
  wasted: ['reason', 'category', 'place'],
  received: ['supplier', 'category', 'place'],
}
const flow = remembered('look-back-flow', Object.keys(FLOWS) as (keyof typeof FLOWS)[], 'used')
const by = remembered('look-back-by', Object.keys(BY) as (keyof typeof BY)[], 'cost_centre')
if (!OF[flow.value].includes(by.value)) by.value = OF[flow.value][0]!
watch(flow, x => {
  if (!OF[x].includes(by.value)) by.value = OF[x][0]!
})
const span = ref({ from: `${f.today().slice(0, 4)}-01`, to: f.today().slice(0, 7) })
const wrong = ref('')
const path = () =>
  `/api/look-back/by${query({ by: by.value, flow: flow.value, from: span.value.from, to: span.value.to, place: session.placeId })}`
const { it: out } = useReading<{ rows: LookRow[]; value: string }>(path, undefined, wrong)
const rows = computed(() => out.value?.rows ?? [])
/** What all of it comes to; undefined while that is not known. */
const value = computed(() => out.value?.value)
const most = computed(() => Math.max(0, ...rows.value.map(r => Math.abs(Number(r.value)))))
/** The slips that a bar adds up. */
const slips = (r: LookRow) => ({
  name: 'ledger',
  query: {
    flow: flow.value,
    from: `${span.value.from}-01`,
    to: lastDay(span.value.to),
    about: `${FLOWS[flow.value]}: ${r.name}`,
    ...(by.value === 'place'
      ? { area: r.id ?? undefined }
      : by.value === 'category'
        ? { category: r.id ?? 'none', alone: 'yes' }
        : { party: by.value, partyId: r.id ?? 'none' }),
  },
})
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>{{ FLOWS[flow] }} by {{ BY[by] }}{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p class="soft min-h-[1lh]">
          <template v-if="value !== undefined"
            >together <b class="mono text-ink">{{ f.amount(value) }}</b></template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <select v-model="flow" class="field field-small w-28!" aria-label="What">
          <option v-for="(l, k) in FLOWS" :key="k" :value="k">{{ l }}</option></select
        ><select v-model="by" class="field field-small w-36!" aria-label="By what">
          <option v-for="k in OF[flow]" :key="k" :value="k">by {{ BY[k] }}</option></select
        ><MonthSpan v-model="span" /><SaveAs :path="path()" name="look-back" :disabled="!rows.length" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <table v-else-if="rows.length" class="list edge">
      <thead>
        <tr>
          <th>{{ BY[by][0]!.toUpperCase() + BY[by].slice(1) }}</th>
          <th><span class="sr-only">Share</span></th>
          <th class="text-right!">Lines</th>
          <th class="text-right!">Value</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.id ?? r.name">
          <td class="font-medium wrap-anywhere min-w-28">
            <RouterLink class="go" :to="slips(r)">{{ r.name }}</RouterLink>
          </td>
          <td class="w-1/2">
            <RouterLink class="block" :to="slips(r)" tabindex="-1" aria-hidden="true"
              ><span class="bar" :style="{ width: `${most ? (Math.abs(Number(r.value)) / most) * 100 : 0}%` }"
            /></RouterLink>
          </td>
          <td class="num">{{ f.number(String(r.lines)) }}</td>
          <td class="num">{{ f.money(r.value) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="value !== undefined" class="px-5 pb-6 soft">
      Nothing was {{ flow }} in that time{{ session.place ? ' here' : '' }}.
    </p>
    <p v-else class="px-5 pb-6 soft late" role="status">Adding up …</p>
  </div>
</template>
<style scoped>
.bar {
  display: block;
  height: 12px;
  margin-top: 4px;
  background: var(--kelp);
  border-radius: 2px;
  min-width: 1px;
}
</style>
