<script setup lang="ts">
/** Who booked how much where, in a span of months. */
import { computed, ref } from 'vue'
import type { ActivityRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import MonthSpan from './MonthSpan.vue'

const session = useSession()
const f = useFormat()
const span = ref({ from: f.today().slice(0, 7), to: f.today().slice(0, 7) })
const path = () =>
  `/api/look-back/activity${query({ from: span.value.from, to: span.value.to, place: session.placeId })}`
const { it } = useReading<{ rows: ActivityRow[] }>(path, e => e.kind === 'booked')
const rows = computed(() => it.value?.rows ?? [])
/** The slips that a line counts: by whom, where they were written, and when they were booked. */
const slips = (r: ActivityRow) => ({
  name: 'ledger',
  query: {
    person: r.personId,
    at: r.placeId ?? 'none',
    from: `${span.value.from}-01`,
    to: lastDay(span.value.to),
    about: `${r.person}, ${r.place ?? 'no place'}, booked`,
  },
})
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <h1>Who booked how much{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
      <div class="flex flex-wrap gap-2">
        <MonthSpan v-model="span" /><SaveAs :path="path()" name="activity" :disabled="!rows.length" />
      </div>
    </div>
    <table v-if="rows.length" class="list edge">
      <thead>
        <tr>
          <th>Person</th>
          <th>Place</th>
          <th class="text-right!">Slips</th>
          <th class="text-right!">Lines</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.personId + r.placeId">
          <td class="font-medium">
            <RouterLink class="go" :to="slips(r)">{{ r.person }}</RouterLink>
          </td>
          <td>{{ r.place ?? 'no place' }}</td>
          <td class="num">{{ f.number(String(r.slips)) }}</td>
          <td class="num">{{ f.number(String(r.lines)) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="it" class="px-5 pb-6 soft">Nothing was booked in that time.</p>
  </div>
</template>
