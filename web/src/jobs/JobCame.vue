<script setup lang="ts">
/** How a job came out: what came of it, what was used beside what was planned, what was wasted, what was booked for it. */
import { computed } from 'vue'
import { decimal, formatDecimal } from '@shelve/core'
import type { JobView } from '@shelve/contract'
import { useSession } from '../shell/session.ts'
import { KIND_WORDS, unitBehind, useFormat } from '../ui/format.ts'

const props = defineProps<{ job: JobView }>()
const session = useSession()
const f = useFormat()
const held = computed(() => props.job.lines.filter(l => l.planned !== null && (l.planned !== '0' || l.used !== '0')))
const places = computed(() => f.placesOf(held.value.flatMap(l => [l.planned, l.used, l.deviation])))
const differs = (l: JobView['lines'][number]) => l.deviation !== '0'
const all = (worths: readonly (string | null | undefined)[]) =>
  worths.some(w => w === null || w === undefined)
    ? null
    : formatDecimal(worths.reduce((sum, w) => sum + decimal(w!), 0n))
const together = computed(() => all(held.value.map(l => l.deviationWorth)))
</script>
<template>
  <section v-if="held.length || job.wasted.length || job.others.length || job.made !== '0'" class="slip mt-4">
    <div class="px-5 pt-4 pb-2 flex flex-wrap gap-3 justify-between items-baseline">
      <h2>How it came out</h2>
      <span v-if="job.makes" class="soft"
        >{{ f.number(job.made) }} of {{ f.number(job.wanted) }} {{ job.wantedUnit }} made</span
      >
    </div>
    <div v-if="held.length" class="overflow-x-auto">
      <table class="list edge" aria-label="What was used beside what was planned">
        <thead>
          <tr>
            <th>Item</th>
            <th class="text-right!">Planned</th>
            <th class="text-right!">Used</th>
            <th><span class="sr-only">Unit</span></th>
            <th class="text-right!">More or less</th>
            <th v-if="session.seeValue" class="text-right!">In value</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in held" :key="l.id">
            <td class="wrap-anywhere min-w-28">{{ l.named.name }}</td>
            <td class="num">{{ f.aligned(l.planned!, places) }}</td>
            <td class="num">{{ f.aligned(l.used, places) }}</td>
            <td class="soft unit">{{ l.named.unit }}</td>
            <td class="num">
              <template v-if="differs(l)"
                ><b>{{ f.number(l.deviation!, true) }}{{ f.pad(l.deviation!, places) }}</b></template
              ><span v-else class="soft">as planned</span>
            </td>
            <td v-if="session.seeValue" class="num">
              {{ !differs(l) ? '' : l.deviationWorth ? f.money(l.deviationWorth, true) : 'not known' }}
            </td>
          </tr>
          <tr v-if="session.seeValue && together !== null && held.some(differs)" class="font-semibold">
            <td colspan="5">Beside the plan, together</td>
            <td class="num">{{ f.money(together, true) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ul v-if="job.others.length || job.wasted.length" class="px-5 py-3 text-[13px]">
      <li v-for="o in job.others" :key="o.item.id" class="flex justify-between gap-3 py-1">
        <span
          >{{ o.item.name }} <span class="mono">{{ f.number(o.quantity) }}{{ unitBehind(o.item.unit) }}</span>
          <span class="soft">taken for it, and not on its list</span></span
        ><span v-if="o.worth" class="mono">{{ f.money(o.worth) }}</span>
      </li>
      <li v-for="x in job.wasted" :key="x.item.id + x.reason" class="flex justify-between gap-3 py-1">
        <span
          >{{ x.item.name }} <span class="mono">{{ f.number(x.quantity) }}{{ unitBehind(x.item.unit) }}</span>
          <span class="text-straw">wasted: {{ x.reason }}</span></span
        ><span v-if="x.worth" class="mono">{{ f.money(x.worth) }}</span>
      </li>
    </ul>
  </section>
  <section v-if="job.slips.length" class="slip mt-4 px-5 py-4">
    <h2 class="mb-2">What was booked for it</h2>
    <ul class="text-[13px]">
      <li v-for="s in job.slips" :key="s.id" class="flex flex-wrap gap-x-3 py-1">
        <RouterLink class="go mono" :to="{ name: 'slip', params: { id: s.id } }">{{ s.number }}</RouterLink><span
          >{{ KIND_WORDS[s.kind] }} {{ s.title }}</span
        ><span class="soft ml-auto">{{ f.when(s.at) }}</span>
      </li>
    </ul>
    <p v-if="job.earlier" class="text-[13px] mt-2">
      These are the latest.
      <RouterLink class="go" :to="{ name: 'ledger', query: { party: 'job', partyId: job.id, about: job.head.name } }"
        >All slips for it</RouterLink
      >
    </p>
  </section>
</template>
