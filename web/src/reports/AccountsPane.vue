<script setup lang="ts">
/** What a span of months comes to, by account code: for whoever keeps the books. Debits and credits are the same in all. */
import { computed, ref } from 'vue'
import { writtenMonth } from '@shelve/core'
import type { AccountSummary } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import MonthSpan from './MonthSpan.vue'

const session = useSession()
const f = useFormat()
const now = f.today().slice(0, 7)
const last = new Date(Date.parse(`${now}-01`) - 86_400_000).toISOString().slice(0, 7)
const span = ref({ from: last, to: last })
const wrong = ref('')
const path = () => `/api/look-back/accounts${query(span.value)}`
const { it: out } = useReading<AccountSummary>(path, undefined, wrong)
const open = computed(() => (out.value?.open ?? []).map(writtenMonth))
const money = (text: string) => (/^0(\.0*)?$/.test(text) ? '' : f.money(text))
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>What it comes to, by account code</h1>
        <p class="soft">
          in all places<template v-if="session.place"> (the books are not kept by place)</template
          ><template v-if="session.may('set_up')">
            · <RouterLink class="go" :to="{ name: 'setup-accounts' }">which code is used for what</RouterLink></template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <MonthSpan v-model="span" /><SaveAs :path="path()" name="accounts" :disabled="!out?.rows.length" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <template v-else-if="out">
      <p v-if="open.length" class="text-straw px-5 pb-2">
        {{ open.length === 1 ? `${open[0]} is` : `${open.slice(0, -1).join(', ')} and ${open.at(-1)} are` }} not closed
        yet: the figures may still change.
      </p>
      <div v-if="out.rows.length" class="overflow-x-auto">
        <table class="list edge">
          <thead>
            <tr>
              <th>Account</th>
              <th>What stands behind it</th>
              <th>Cost centre</th>
              <th class="text-right!">Opening</th>
              <th class="text-right!">Debit</th>
              <th class="text-right!">Credit</th>
              <th class="text-right!">Balance</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in out.rows" :key="r.code + r.party">
              <td class="mono font-medium">{{ r.code }}</td>
              <td class="wrap-anywhere min-w-28">{{ r.name }}</td>
              <td class="wrap-anywhere min-w-24">{{ r.party }}</td>
              <td class="num">{{ r.opening === null ? '' : money(r.opening) }}</td>
              <td class="num">{{ money(r.debit) }}</td>
              <td class="num">{{ money(r.credit) }}</td>
              <td class="num font-semibold">{{ f.money(r.balance) }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td colspan="4">Debits and credits together, each</td>
              <td class="num">{{ f.money(out.debit) }}</td>
              <td class="num">{{ f.money(out.credit) }}</td>
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
      <p v-else class="px-5 pb-6 soft">Nothing was booked in that time.</p>
    </template>
  </div>
</template>
<style scoped>
tfoot td {
  font-weight: 600;
  border-top: 1px solid var(--edge);
}
</style>
