<script setup lang="ts">
/** What is waiting, most urgent first, each line leading to where it is dealt with; how the shelves stand; what was booked last. */
import { computed, ref } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import type { Today, Waiting } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { isTexts, usePreference, withNew } from '../shell/preferences.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import FigureOf from '../ui/FigureOf.vue'
import { howFar } from '../moving/how-far.ts'
import { unitFor } from '../jobs/whence.ts'
import { KIND_WORDS, useFormat } from '../ui/format.ts'
import ArrangeBlocks from './ArrangeBlocks.vue'
import ShelvesTable from './ShelvesTable.vue'

const session = useSession()
const f = useFormat()
const { it: today } = useReading<Today>(
  () => `/api/today${query({ place: session.placeId })}`,
  () => true,
)

/** The blocks there are, in the order they stand unless somebody arranges them. What is left out of `shown` is hidden. */
const WAITING_BLOCKS: Record<Waiting['kind'], string> = {
  expiring: 'Lots that run out of date',
  job: 'Jobs that are due or lack something',
  unkept: 'What was kept for a job and is not there',
  short: 'What is out or short',
  handed: 'What somebody asks you for',
  given_back: 'What you asked for and was given back',
  owed: 'What was asked for and never came',
  transfer: 'What arrives, or is late',
  count: 'Areas due to count',
  difference: 'Open differences',
  unpriced: 'Deliveries without a price',
  found: 'Items to be completed',
  sheet: 'Sheets to be entered',
  closed: 'Areas closed for counting',
  draft: 'Slips left lying',
}
const SIDE_BLOCKS = { shelves: 'On the shelves', coming: 'Coming', lately: 'Lately booked' }
const BLOCKS = { ...WAITING_BLOCKS, ...SIDE_BLOCKS }
/** All blocks in somebody's order, `-` before those that are hidden; a block that came since stands where it does for everybody. */
const arranged = usePreference<string[]>('today', Object.keys(BLOCKS), isTexts)
const arranging = ref(false)
const shown = computed(() => withNew(arranged.value.value, Object.keys(BLOCKS)).filter(b => b in BLOCKS))
const arrange = (order: string[]) =>
  void arranged.keep([
    ...order,
    ...Object.keys(BLOCKS)
      .filter(b => !order.includes(b))
      .map(b => `-${b}`),
  ])
const side = computed(() => shown.value.filter(b => b in SIDE_BLOCKS))
/** By urgency, unless somebody put the blocks in an order of their own. */
const own = computed(() => {
  const kinds = shown.value.filter(b => b in WAITING_BLOCKS)
  const standard = Object.keys(WAITING_BLOCKS).filter(b => kinds.includes(b))
  return kinds.join() === standard.join() ? null : kinds
})
const waiting = computed(() => {
  const rows = (today.value?.waiting ?? []).filter(w => shown.value.includes(w.kind))
  return own.value ? [...rows].sort((a, b) => own.value!.indexOf(a.kind) - own.value!.indexOf(b.kind)) : rows
})

const s = (n: number) => (n === 1 ? '' : 's')
function when(w: Waiting): string {
  if (w.kind === 'difference' || w.kind === 'unpriced' || w.kind === 'found') {
    const n = -f.daysTo(f.dayOf(new Date(w.at!)))
    return n < 1 ? 'since today' : n === 1 ? 'since yesterday' : `for ${n} days`
  }
  if (w.kind === 'draft' || w.kind === 'sheet' || w.kind === 'closed' || w.handed) return f.when(w.at)
  if (w.kind === 'job') return w.day === null ? 'no day said' : `${f.far(w.day)}${w.job!.time && ` ${w.job!.time}`}`
  if (w.kind === 'transfer')
    return w.transfer!.overdue ? `late ${howFar(f, w.day)}` : w.day === null ? 'no day said' : f.far(w.day)
  if (w.day === null) return 'at the minimum'
  const n = f.daysTo(w.day)
  if (w.kind === 'owed') return `for ${-n} days`
  if (w.kind === 'expiring') return n < 0 ? 'out of date' : f.far(w.day)
  if (w.kind === 'count') return n < 0 ? (n === -1 ? 'since yesterday' : `for ${-n} days`) : f.far(w.day)
  return w.out ? 'now' : f.far(w.day)
}
/** What runs out of date soon, beside what has. */
function soon({ n, out }: Waiting): string {
  const more = n - out
  if (!more) return ''
  return out ? `${more} more soon` : `${n} lot${s(n)} run${n === 1 ? 's' : ''} out of date soon`
}
const howMuch = (j: NonNullable<Waiting['job']>) =>
  j.wanted === '0' ? '' : ` for ${f.number(j.wanted)} ${unitFor({ wanted: j.wanted, wantedUnit: j.unit })}`
function title(w: Waiting): string {
  const worth = w.value && w.value !== '0' ? f.amount(w.value, w.kind === 'difference') : ''
  switch (w.kind) {
    case 'expiring':
      return (
        [w.out ? `${w.out} lot${s(w.out)} out of date` : '', soon(w)].filter(Boolean).join(', ') +
        (worth && `: ${worth}`)
      )
    case 'short':
      return [w.out ? `${w.out} item${s(w.out)} out` : '', w.n - w.out ? `${w.n - w.out} short` : '']
        .filter(Boolean)
        .join(', ')
    case 'job':
      return w.job!.name + howMuch(w.job!) + (w.n ? `: ${w.n} thing${s(w.n)} missing` : '')
    case 'unkept':
      return `Of ${w.n} item${s(w.n)} less is there than is kept for ${w.jobs.join(', ')}`
    case 'handed':
      return `${w.handed!.by} asks for ${w.n} thing${s(w.n)}`
    case 'given_back':
      return `${w.handed!.by} gave back what you asked for`
    case 'owed':
      return `${w.n} line${s(w.n)} asked for ${w.n === 1 ? 'has' : 'have'} not come`
    case 'transfer':
      return `From ${w.transfer!.from.name} to ${w.transfer!.to.name}: ${w.n} thing${s(w.n)} on the way`
    case 'count':
      return `Count ${w.place!.name}`
    case 'difference':
      return `${w.n} open difference${s(w.n)}${worth && `, ${worth}`}`
    case 'unpriced':
      return `${w.n} line${s(w.n)} of ${w.slip ? w.slip.number : `${w.out} deliveries`} ${w.n === 1 ? 'has' : 'have'} no price`
    case 'found':
      return `${w.n} item${s(w.n)} to be completed`
    case 'sheet':
      return `Sheet ${w.sheet!.number} of ${w.place!.name} is to be entered`
    case 'closed':
      return `${w.place!.name} is closed for counting`
    case 'draft':
      return `${KIND_WORDS[w.slip!.kind] ?? 'Slip'} left lying${w.slip!.title ? `: ${w.slip!.title}` : ''}`
  }
}
function detail(w: Waiting): string {
  const names = w.named
    .map(n => {
      const far = n.day && w.kind !== 'owed' ? ` ${f.far(n.day)}` : ''
      return `${n.name.split(',')[0]} ${f.number(n.quantity, w.kind === 'difference')} ${n.unit}${far}`
    })
    .join(' · ')
  switch (w.kind) {
    case 'count':
      return `${w.n} line${s(w.n)}, ${w.at ? `last counted ${f.when(w.at)}` : 'never counted yet'}`
    case 'unpriced':
      return w.slip
        ? `${w.slip.title}; its cost is only guessed until then`
        : `${w.slips.map(x => `${x.number} ${x.title}`).join(' · ')}${w.out > w.slips.length ? ' …' : ''}`
    case 'sheet':
      return `${w.n} page${s(w.n)}, printed by ${w.sheet!.by}`
    case 'closed':
      return `by ${w.closed!.by}; nothing is booked there until it is counted or opened`
    case 'draft':
      return `${w.n} line${s(w.n)}, ${w.slip!.mine ? 'yours' : `by ${w.slip!.by}`}`
    case 'handed':
      return `${w.handed!.number}, to be sent out`
    case 'given_back':
      return `${w.handed!.number}, ${w.n} line${s(w.n)}: ${w.handed!.why}`
    case 'job':
      return w.n
        ? `${w.job!.code}: ${names}${w.n > w.named.length ? ' …' : ''}`
        : `${w.job!.code}, ${w.job!.met} of ${w.job!.needs} need${s(w.job!.needs)} can be met`
    case 'transfer':
      return `${w.transfer!.number}${w.transfer!.carrier && `, with ${w.transfer!.carrier}`}: ${w.transfer!.named.join(', ')}`
    case 'found':
      return w.named.map(n => n.name).join(' · ') + (w.n > w.named.length ? ' …' : '')
    default:
      return names + (w.n > w.named.length ? ' …' : '')
  }
}
const to = (w: Waiting): RouteLocationRaw => {
  switch (w.kind) {
    case 'expiring':
      return { name: 'expiring' }
    case 'short':
    case 'owed':
      return { name: 'restock' }
    case 'transfer':
      return { name: 'transfer', params: { id: w.transfer!.id } }
    case 'job':
      return { name: 'job', params: { id: w.job!.id } }
    case 'unkept':
      return { name: 'jobs' }
    case 'handed':
    case 'given_back':
      return { name: 'restock-slip', params: { id: w.handed!.id } }
    case 'count':
    case 'closed':
    case 'difference':
      return { name: 'count' }
    case 'found':
      return w.n === 1
        ? { name: 'item-edit', params: { id: w.named[0]!.item } }
        : { name: 'setup-items', query: { active: 'found' } }
    case 'unpriced':
      return w.slip ? { name: 'slip', params: { id: w.slip.id } } : { name: 'ledger', query: { state: 'unpriced' } }
    case 'sheet':
      return { name: 'paper', params: { id: w.sheet!.id } }
    case 'draft':
      return {
        name: w.slip!.kind === 'receipt' ? 'receive' : w.slip!.kind === 'count' ? 'sheet' : w.slip!.kind,
        params: { id: w.slip!.id },
      }
  }
}
const ACT: Record<Waiting['kind'], string> = {
  expiring: 'Use, move or waste',
  job: 'See the job',
  unkept: 'See the jobs',
  short: 'See what is short',
  handed: 'Look at it',
  given_back: 'Change it, or drop it',
  owed: 'Ask again, or drop it',
  transfer: 'See it',
  count: 'Count it',
  difference: 'Look at it',
  unpriced: 'Price',
  found: 'Complete',
  sheet: 'Enter it',
  closed: 'Count or open it',
  draft: 'Go on',
}
</script>
<template>
  <div class="two">
    <section class="slip paper">
      <div class="px-5 pt-4 pb-3 flex justify-between gap-4 items-start">
        <div>
          <h1>{{ today ? f.longDay(today.day) : 'Today' }}: what is waiting</h1>
          <p class="soft">
            {{ session.place ? session.place.path : 'In all my places'
            }}{{ own ? ', in your order' : ', most urgent first' }}
          </p>
        </div>
        <button type="button" class="btn btn-small" @click="arranging = true">Arrange</button>
      </div>
      <ul v-if="waiting.length">
        <li
          v-for="w in waiting"
          :key="w.kind + (w.slip?.id ?? w.job?.id ?? w.handed?.id ?? w.place?.id ?? '')"
          class="line"
        >
          <span class="soft">{{ when(w) }}</span>
          <div class="min-w-0">
            <div class="font-semibold">{{ title(w) }}</div>
            <div class="soft text-[13px]">{{ detail(w) }}</div>
          </div>
          <RouterLink class="btn" :to="to(w)">{{
            w.kind === 'expiring' && !session.mayAnywhere('book') ? 'See the lots' : ACT[w.kind]
          }}</RouterLink>
        </li>
      </ul>
      <p v-else-if="today" class="px-5 py-6 soft">
        Nothing is waiting{{ session.place ? ' here' : '' }}. What runs out, runs out of date, is due to be counted or
        was left half done appears here by itself.
      </p>
    </section>
    <div>
      <template v-for="b in side" :key="b">
        <section v-if="b === 'shelves' && today" class="mb-5">
          <ShelvesTable :shelves="today.shelves" :on-the-way="today.onTheWay" :place="session.placeId" />
        </section>
        <section v-else-if="b === 'coming' && today?.coming.length" class="mb-5">
          <h2 class="mb-2">Coming</h2>
          <ul class="card">
            <li v-for="r in today.coming" :key="r.id" class="row">
              <div class="min-w-0">
                <RouterLink class="go" :to="{ name: 'restock-slip', params: { id: r.id } }">{{
                  r.name
                }}</RouterLink><template v-if="r.asked?.number"
                  >, <span class="mono">{{ r.asked.number }}</span></template
                >
                <div class="soft text-[12px]">
                  {{ r.owed }} of {{ r.count }} line{{ s(r.count) }} to come, asked for by {{ r.asked!.by }}
                </div>
              </div>
              <span class="soft text-[13px] whitespace-nowrap">{{
                r.asked!.expected ? f.far(r.asked!.expected) : 'day not known'
              }}</span>
            </li>
          </ul>
        </section>
        <section v-else-if="b === 'lately' && today" class="mb-5">
          <h2 class="mb-2">Lately booked</h2>
          <ul v-if="today.lately.length" class="card">
            <li v-for="r in today.lately" :key="r.id" class="row">
              <div class="min-w-0">
                <RouterLink class="go mono" :to="{ name: 'slip', params: { id: r.id } }">{{ r.number }}</RouterLink>
                {{ KIND_WORDS[r.kind] }} {{ r.title }}
                <div class="soft text-[12px]">
                  {{ r.by }}<template v-if="r.taker">, {{ r.taker }}</template> · {{ f.when(r.at) }}
                </div>
              </div>
              <span v-if="r.value && r.value !== '0'" class="mono text-[13px] whitespace-nowrap"
                ><FigureOf figure="slip-value" :slip="r.id" :label="`Change of stock by ${r.number}`">{{
                  f.amount(r.value, true)
                }}</FigureOf></span
              >
            </li>
          </ul>
          <p v-else class="soft">Nothing yet.</p>
        </section>
      </template>
    </div>
    <ArrangeBlocks
      :open="arranging"
      title="What stands on Today"
      :blocks="BLOCKS"
      :shown="shown"
      @close="arranging = false"
      @keep="arrange"
    />
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
.paper {
  min-height: calc(100vh - 100px);
}
.line {
  display: grid;
  grid-template-columns: 108px minmax(0, 1fr) auto;
  gap: 14px;
  align-items: center;
  padding: 9px 20px;
  border-top: 1px solid var(--hair);
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 9px 14px;
  border-bottom: 1px solid var(--hair);
}
.row:last-child {
  border-bottom: 0;
}
@media (max-width: 1219px) {
  .two {
    grid-template-columns: minmax(0, 1fr) 366px;
  }
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .paper {
    min-height: 0;
  }
  .line {
    grid-template-columns: 92px minmax(0, 1fr) auto;
    padding: 10px 14px;
  }
}
/* On a telephone what can be done stands below what it is about. */
@media (max-width: 479px) {
  .line {
    grid-template-columns: 92px minmax(0, 1fr);
    row-gap: 8px;
  }
  .line > :last-child {
    grid-column: 2;
    justify-self: start;
  }
}
@media print {
  .paper {
    min-height: 0;
  }
}
</style>
