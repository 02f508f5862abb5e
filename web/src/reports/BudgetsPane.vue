<script setup lang="ts">
/** How cost centres stand in a year: what they may use, have used, what their jobs will still use, and what is left; month by month, with the slips behind each. */
import { computed, ref, watch } from 'vue'
import { shortMonth } from '@shelve/core'
import type { BudgetRow, Budgets } from '@shelve/contract'
import { ApiProblem, call, query, said } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import AskDialog from '../ui/AskDialog.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'
import NumberField from '../ui/NumberField.vue'
import { decimalTyped, numberTyped } from '../ui/typed.ts'
import { unread } from '../ui/unread.ts'

const session = useSession()
const strip = useStrip()
const f = useFormat()
const year = ref<number>()
const wrong = ref('')
const path = () => `/api/budgets${query({ year: year.value === undefined ? undefined : String(year.value) })}`
const { it: out, reload } = useReading<Budgets>(path, undefined, wrong)
/** Those there are, also where one of them cannot be read. */
const years = ref<readonly number[]>([])
watch(out, o => {
  if (o) years.value = o.years
})
const open = ref<string | null>(null)
const months = computed(() =>
  Array.from({ length: 12 }, (_, i) => `${out.value?.year ?? 0}-${String(i + 1).padStart(2, '0')}`),
)
const slips = (r: BudgetRow, month?: string) => ({
  name: 'ledger',
  query: {
    flow: 'used',
    party: 'cost_centre',
    partyId: r.id,
    from: `${month ?? `${out.value!.year}-01`}-01`,
    to: lastDay(month ?? `${out.value!.year}-12`),
    about: `Used: ${r.name}`,
  },
})
/** How full it is, and in which state: said in a word, not by colour alone. */
const percent = (r: BudgetRow) => Number(r.percent ?? 0)
function state(r: BudgetRow): string {
  if (r.amount === null) return 'no budget'
  if (r.stop !== null && percent(r) > r.stop) return 'stopped'
  if (Number(r.left) < 0) return 'more is planned than is left'
  if (r.warn !== null && percent(r) > r.warn) return 'nearly used up'
  return 'within'
}
const editing = ref<BudgetRow | null>(null)
const refused = ref('')
const form = ref({ amount: '', warn: '', stop: '' })
type Budget = Pick<BudgetRow, 'amount' | 'warn' | 'stop'>
/** What stood there when the form was opened, or is known to stand there since. */
let seen: Budget = { amount: null, warn: null, stop: null }
function edit(r: BudgetRow) {
  form.value = { amount: r.amount ?? '', warn: String(r.warn ?? 80), stop: r.stop === null ? '' : String(r.stop) }
  seen = { amount: r.amount, warn: r.warn, stop: r.stop }
  refused.value = ''
  editing.value = r
}
async function save() {
  const r = editing.value!
  const { amount, warn, stop } = form.value
  refused.value = unread.value ?? ''
  if (refused.value) return
  try {
    await call('PUT', `/api/cost-centres/${r.id}/budgets/${out.value!.year}`, {
      body: { amount: decimalTyped(amount) || null, warn: numberTyped(warn), stop: numberTyped(stop), seen },
    })
    strip.say(
      amount.trim()
        ? `${r.name} may use ${f.amount(amount.trim())} in ${out.value!.year}.`
        : `${r.name} has no budget any more.`,
    )
    editing.value = null
    await reload()
  } catch (e) {
    refused.value = said(e)
    if (e instanceof ApiProblem && e.code === 'changed_meanwhile') {
      seen = e.problem.stands as Budget
      const percent = (n: number | null) => (n === null ? 'never' : `${n} %`)
      refused.value += ` Now it is ${seen.amount === null ? 'no budget' : f.money(seen.amount)}, warned from ${percent(seen.warn)}, stopped beyond ${percent(seen.stop)}.`
    }
  }
}
</script>
<template>
  <div class="slip pb-3">
    <div class="view-head">
      <div>
        <h1>Cost centres and their budgets</h1>
        <p class="soft">Used by when it happened; set aside, asked for and planned is what their jobs will still use</p>
      </div>
      <div class="flex flex-wrap gap-2">
        <select
          class="field field-small w-24!"
          aria-label="Year"
          :value="out?.year ?? year"
          @change="year = Number(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="y in years" :key="y" :value="y">{{ y }}</option></select
        ><SaveAs :path="path()" name="budgets" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4">{{ wrong }}</p>
    <p v-else-if="!out" class="px-5 pb-6 soft late" role="status">Adding up …</p>
    <div v-if="out && !wrong" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Cost centre</th>
            <th class="text-right!">Budget</th>
            <th class="text-right!">Used</th>
            <th class="text-right!">Set aside</th>
            <th class="text-right!">Asked for</th>
            <th class="text-right!">Planned</th>
            <th class="text-right!">Left</th>
            <th>Of the budget</th>
            <th><span class="sr-only">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in out.rows" :key="r.id">
            <tr>
              <td class="wrap-anywhere min-w-28">
                <button
                  type="button"
                  class="touch go font-medium cursor-pointer text-left"
                  :aria-expanded="open === r.id"
                  @click="open = open === r.id ? null : r.id"
                >
                  {{ r.name }}
                </button>
                <div class="mono soft text-[12px]">{{ r.code }}</div>
              </td>
              <td class="num">{{ r.amount === null ? '—' : f.money(r.amount) }}</td>
              <td class="num">
                <RouterLink v-if="r.used !== '0'" class="plain" :to="slips(r)">{{
                  f.money(r.used)
                }}</RouterLink><template v-else>{{ f.money(r.used) }}</template>
              </td>
              <td class="num">{{ f.money(r.kept) }}</td>
              <td class="num">{{ f.money(r.asked) }}</td>
              <td class="num">{{ f.money(r.planned) }}</td>
              <td class="num font-semibold">{{ r.left === null ? '—' : f.money(r.left) }}</td>
              <td class="w-1/5">
                <div v-if="r.amount !== null" class="meter" aria-hidden="true">
                  <span
                    class="full"
                    :class="{ beyond: percent(r) > 100 }"
                    :style="{ width: `${Math.min(100, percent(r))}%` }"
                  />
                  <i v-if="r.warn !== null && r.warn <= 100" :style="{ left: `${r.warn}%` }" />
                </div>
                <span class="text-[12px]" :class="state(r) === 'within' || r.amount === null ? 'soft' : 'text-straw'"
                  ><template v-if="r.percent !== null">{{ f.number(Number(r.percent).toFixed(1)) }} %, </template
                  >{{ state(r) }}</span
                >
              </td>
              <td class="text-right">
                <button
                  v-if="session.maySetUp"
                  type="button"
                  class="btn btn-quiet btn-small"
                  :aria-label="`Set the budget of ${r.name}`"
                  @click="edit(r)"
                >
                  {{ r.amount === null ? 'Set a budget' : 'Change' }}
                </button>
              </td>
            </tr>
            <tr v-if="open === r.id">
              <td colspan="9">
                <ul class="months" :aria-label="`${r.name} by month`">
                  <li v-for="(m, i) in months" :key="m">
                    <span class="soft text-[12px] block">{{ shortMonth(m) }}</span>
                    <RouterLink v-if="r.months[i] !== '0'" class="plain mono" :to="slips(r, m)">{{
                      f.money(r.months[i]!)
                    }}</RouterLink><span v-else class="mono soft">—</span>
                  </li>
                </ul>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <AskDialog :open="editing !== null" :title="`Budget of ${editing?.name} in ${out?.year}`" @close="editing = null">
      <form @submit.prevent="save">
        <label class="block"
          ><span class="label">It may use in the year</span
          ><NumberField v-model="form.amount" focus placeholder="no budget"
        /></label>
        <div class="flex gap-4 mt-3">
          <label class="grow"
            ><span class="label">Warn from, in per cent</span
            ><input v-model="form.warn" class="field field-num" inputmode="numeric" placeholder="never" /></label
          ><label class="grow"
            ><span class="label">Stop beyond, in per cent</span
            ><input v-model="form.stop" class="field field-num" inputmode="numeric" placeholder="never"
          /></label>
        </div>
        <p class="soft text-[13px] mt-2">
          Whoever hands something out is told from the first on; beyond the second a manager must say why.
        </p>
        <p v-if="refused" class="error mt-2" role="alert">{{ refused }}</p>
        <div class="flex gap-3 mt-4">
          <button class="btn btn-act">Save</button
          ><button type="button" class="btn" @click="editing = null">Leave it</button>
        </div>
      </form>
    </AskDialog>
  </div>
</template>
<style scoped>
.meter {
  position: relative;
  height: 8px;
  background: var(--frost);
  border: 1px solid var(--hair);
  border-radius: 2px;
}
.full {
  display: block;
  height: 100%;
  background: var(--kelp);
}
.full.beyond {
  background: var(--buoy);
}
.meter i {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px solid var(--ink);
}
.months {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(72px, 1fr));
  gap: 8px 14px;
}
</style>
