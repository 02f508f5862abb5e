<script setup lang="ts">
/** Closed months, and closing the next: from then on nothing that is written changes what happened in it. */
import { ref } from 'vue'
import type { MonthToClose, MonthView } from '@shelve/contract'
import { get, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import AskDialog from '../ui/AskDialog.vue'
import { useFormat } from '../ui/format.ts'
import { fullMonth } from '../ui/months.ts'

type Months = { rows: MonthView[]; next: MonthToClose | null }
const session = useSession()
const strip = useStrip()
const f = useFormat()
const rows = ref<MonthView[]>()
const next = ref<MonthToClose | null>(null)
const sure = ref(false)
const wrong = ref('')
const took = (m: Months) => {
  rows.value = m.rows
  next.value = m.next
}
live(
  async () => took(await get<Months>('/api/months')),
  e => e.kind === 'month' || e.kind === 'booked' || e.kind === 'draft',
)
async function close() {
  const name = next.value!.month
  try {
    took(await post<Months>('/api/months', { month: name }))
    sure.value = false
    strip.say(`${fullMonth(name)} is closed.`)
  } catch (e) {
    wrong.value = said(e)
  }
}
</script>
<template>
  <div class="slip max-w-4xl">
    <div class="view-head">
      <div>
        <h1>Closed months</h1>
        <p class="soft">What is written after a month was closed falls, in value, into the open one.</p>
      </div>
      <button
        v-if="next && session.mayAnywhere('close_month')"
        type="button"
        class="btn btn-act"
        @click="
          () => {
            sure = true
            wrong = ''
          }
        "
      >
        Close {{ fullMonth(next.month) }}
      </button>
    </div>
    <table v-if="rows?.length" class="list edge">
      <thead>
        <tr>
          <th>Month</th>
          <th>Closed</th>
          <th>By</th>
          <th class="text-right!">Last line</th>
          <th>Seal of the ledger then</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.month">
          <td class="font-medium">{{ fullMonth(r.month) }}</td>
          <td>{{ f.when(r.closedAt) }}</td>
          <td class="wrap-anywhere min-w-20">{{ r.by }}</td>
          <td class="num">{{ f.number(String(r.lastSeq)) }}</td>
          <td class="mono soft text-[12px]" :title="r.headHash">{{ r.headHash.slice(0, 16) }}…</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="rows" class="px-5 pb-6 soft">
      No month is closed yet. Closing one keeps its figures as they are, whatever is written later.
    </p>
    <AskDialog :open="sure" :title="`Close ${next ? fullMonth(next.month) : ''}?`" @close="sure = false">
      <p v-if="next">
        {{ f.number(String(next.slips)) }} slips happened in it; stock was worth
        <b class="mono">{{ f.amount(next.value) }}</b> at its end. It cannot be opened again: a mistake in it is
        corrected in the open month.
      </p>
      <p v-if="next?.drafts" class="mt-3 text-straw">
        {{ next.drafts }} slip{{ next.drafts === 1 ? ' is' : 's are' }} still lying from that time or before, and could
        then no longer be booked into it.
        <RouterLink class="go" :to="{ name: 'ledger', query: { state: 'draft' } }">See them first</RouterLink>
      </p>
      <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
      <div class="flex gap-3 mt-4">
        <button type="button" class="btn btn-act" @click="close">Close it</button
        ><button type="button" class="btn" @click="sure = false">Leave it open</button>
      </div>
    </AskDialog>
  </div>
</template>
