<script setup lang="ts">
/** Everything about one item: where it lies and how it stands, its lots, what happened to it. */
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import type { Item, ItemStock, LotView, MovementRow } from '@shelve/contract'
import { forOne } from '@shelve/core'
import { call, get, query, said } from '../shell/api.ts'
import ItemNeeds from '../jobs/ItemNeeds.vue'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { freshLine } from '../ledger/fresh.ts'
import { useSlip } from '../ledger/slip-store.ts'
import FigureOf from '../ui/FigureOf.vue'
import LevelBar from '../ui/LevelBar.vue'
import LiesElsewhere from '../restocking/LiesElsewhere.vue'
import LotStrip from '../ui/LotStrip.vue'
import StateDisc from '../ui/StateDisc.vue'
import SaveAs from '../ui/SaveAs.vue'
import { LABEL_WORDS, useFormat } from '../ui/format.ts'
import NextPage from '../ui/NextPage.vue'
import LevelForm from './LevelForm.vue'
import LotStateForm from './LotStateForm.vue'
import NotThere from '../ui/NotThere.vue'

const ItemYearsPanel = defineAsyncComponent(() => import('../reports/ItemYearsPanel.vue'))
const props = defineProps<{ id: string }>()
const session = useSession()
const index = useIndex()
const strip = useStrip()
const slip = useSlip()
const way = useWay()
const f = useFormat()
const item = ref<Item | null>(null)
const stock = ref<ItemStock | null>(null)
const lots = ref<LotView[]>([])
const moved = ref<MovementRow[]>([])
const next = ref<string | null>(null)
const wrong = ref('')
const here = ref<string>('')
/** What comes later stands below all that is there at once, one under the other. */
const needsCame = ref(false)
watch(
  () => session.placeId,
  p => {
    here.value = p ?? ''
  },
  { immediate: true },
)
const movementsPath = (cursor?: string | null) =>
  `/api/items/${props.id}/movements${query({ place: here.value, limit: 12, cursor })}`
/** Of what question the movements are that stand there. */
const answered = ref('')
async function load() {
  const asked = movementsPath()
  try {
    const [i, s, l, m] = await Promise.all([
      get<Item>(`/api/items/${props.id}`),
      get<ItemStock>(`/api/items/${props.id}/stock`),
      get<{ rows: LotView[] }>(`/api/items/${props.id}/lots`),
      get<{ rows: MovementRow[]; next: string | null }>(asked),
    ])
    wrong.value = ''
    answered.value = asked
    item.value = i
    stock.value = s
    lots.value = l.rows
    moved.value = m.rows
    next.value = m.next
  } catch (e) {
    // What stands there is of another place: nobody reads it under this one's name.
    if (answered.value !== asked) answered.value = ''
    if (item.value) throw e
    wrong.value = said(e)
  }
}
const reload = live(load)
watch(here, () => void reload())
async function more() {
  const after = next.value
  const asked = movementsPath(after)
  const p = await get<{ rows: MovementRow[]; next: string | null }>(asked)
  // Pressed twice, or another list stands there by now.
  if (next.value !== after || asked !== movementsPath(after)) return
  moved.value = [...moved.value, ...p.rows]
  next.value = p.next
}
/** What is opened is one of what it comes in. */
const container = () => ({ typed: '1', unit: index.container(index.byId.get(props.id)) })
async function start(kind: 'issue' | 'waste' | 'move' | 'receipt' | 'relabel') {
  await slip.open(kind, undefined)
  // On another screen another slip stands by now.
  if (!way.isHere()) return
  if (!slip.content.lines.some(l => l.item === props.id))
    slip.add(freshLine({ item: props.id, ...(kind === 'relabel' ? container() : {}) }))
  await slip.save()
  await way.push({ name: kind === 'receipt' ? 'receive' : kind })
}
const places = computed(() =>
  f.placesOf(stock.value?.places.flatMap(p => [p.levels.available, p.levels.minimum, p.levels.target]) ?? []),
)
/** Where it stands, and whether there is anywhere else. */
const stands = computed(() => stock.value?.places.map(p => p.place) ?? [])
const elsewhere = computed(() => session.areas.some(a => !stands.value.includes(a.id)))
const changePlaces = computed(() => f.placesOf(moved.value.flatMap(m => [m.change, m.balance])))
const editing = ref<string | null>(null)
const openable = computed(() => item.value?.identifiedBy === 'lot' || item.value?.identifiedBy === 'lot_expiry')
const coded = computed(() => lots.value.filter(l => l.code !== null))
/** Where it lies that is not this place, the most first. */
const otherPlaces = (place: string) =>
  (stock.value?.places ?? [])
    .filter(p => p.place !== place && Number(p.levels.available) > 0)
    .map(p => ({ id: p.place, place: p.name, available: p.levels.available, spare: p.levels.over }))
    .sort((a, b) => Number(b.available) - Number(a.available))
async function saveLot(lot: LotView, held: string, why: string) {
  try {
    await call('PUT', `/api/lots/${lot.id}/state`, { body: { held, why } })
    await reload()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <NotThere v-if="wrong" :said="wrong" :to="{ name: 'stock' }" back="Back to Stock" />
  <div v-if="item && stock" class="two">
    <article class="slip">
      <div class="px-5 pt-4 pb-3 flex justify-between gap-5">
        <div class="min-w-0">
          <h1>{{ item.name }}</h1>
          <p class="soft">
            <span class="mono">{{ item.code }}</span><template v-if="item.category">
              · {{ item.category.name }}</template
            >
            · by the {{ item.unit
            }}<template v-for="p in item.packs" :key="p.id">, {{ p.name }} of {{ f.number(p.size) }}</template
            ><template v-if="item.identifiedBy !== 'quantity'">
              ·
              {{
                { lot: 'with lots', lot_expiry: 'lot and expiry', serial: 'serial number' }[item.identifiedBy]
              }}</template
            ><template v-if="!item.active"> · <b>retired</b></template>
          </p>
        </div>
        <div class="sum text-right shrink-0">
          <p class="mono text-[17px]">
            <FigureOf figure="on-hand" :item="id" label="On hand everywhere">{{ f.number(stock.onHand) }}</FigureOf>
            {{ item.unit }}
          </p>
          <p v-if="session.seeValue && stock.cost" class="soft text-[13px]">
            worth
            <FigureOf figure="value" :item="id" label="Value of all that is there"
              ><span class="mono">{{ f.amount(stock.value) }}</span></FigureOf
            >,
            <FigureOf figure="unit-cost" :item="id" label="Cost of one"
              ><span class="mono">{{ f.money(stock.cost) }}</span></FigureOf
            >
            {{ forOne(item.unit) }}
            <span v-if="stock.provisional" class="block text-straw">not all of it has a price yet</span>
          </p>
        </div>
      </div>
      <table v-if="stock.places.length" class="list">
        <thead>
          <tr>
            <th>Place</th>
            <th class="bar">Level</th>
            <th>State</th>
            <th class="text-right!">Available</th>
            <th class="text-right!">Minimum</th>
            <th class="text-right!">Target</th>
            <th v-if="session.maySetUp"><span class="sr-only">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="p in stock.places" :key="p.place"
            ><tr>
              <td class="font-medium wrap-anywhere min-w-24">
                {{ p.name }}
                <div v-if="p.levels.days !== null && p.levels.onHand !== '0'" class="soft text-[12px] font-normal">
                  <FigureOf figure="days" :item="id" :place="p.place" :label="`How long it lasts in ${p.name}`"
                    ><span class="whitespace-nowrap">lasts {{ p.levels.days }} days</span></FigureOf
                  >
                </div>
              </td>
              <td class="bar w-[26%]"><LevelBar :levels="p.levels" /></td>
              <td>
                <FigureOf figure="state" :item="id" :place="p.place" :label="`State in ${p.name}`"
                  ><StateDisc :state="p.levels.state"
                /></FigureOf>
              </td>
              <td class="num">
                <FigureOf figure="available" :item="id" :place="p.place" :label="`Available in ${p.name}`">{{
                  f.number(p.levels.available)
                }}</FigureOf>{{ f.pad(p.levels.available, places) }}
              </td>
              <td class="num">{{ f.aligned(p.levels.minimum, places) }}</td>
              <td class="num">{{ f.aligned(p.levels.target, places) }}</td>
              <td v-if="session.maySetUp" class="w-16">
                <button
                  type="button"
                  class="btn btn-quiet btn-small"
                  :aria-label="`Change the levels in ${p.name}`"
                  @click="editing = editing === p.place ? null : p.place"
                >
                  Levels
                </button>
              </td>
            </tr>
            <tr v-if="['out', 'short'].includes(p.levels.state) && otherPlaces(p.place).length">
              <td colspan="7" class="pt-0! text-[13px]">
                <span class="soft mr-2">It lies elsewhere:</span
                ><span class="inline-flex flex-wrap gap-x-5"
                  ><LiesElsewhere
                    :item="id"
                    :name="item.name"
                    :place="p.place"
                    :bring="p.levels.bring"
                    :elsewhere="otherPlaces(p.place)"
                    :most="3"
                /></span>
              </td>
            </tr>
            <tr v-if="editing === p.place">
              <td colspan="7">
                <LevelForm :item="id" :place="p.place" :levels="p.levels" :bin="p.bin" @done="editing = null" />
              </td></tr
          ></template>
        </tbody>
      </table>
      <p v-else class="px-5 pb-3 soft">It lies nowhere and belongs nowhere yet.</p>
      <div v-if="session.maySetUp && elsewhere" class="px-5 py-2">
        <button
          v-if="editing !== 'new'"
          type="button"
          class="btn btn-name btn-quiet btn-small -ml-2"
          @click="editing = 'new'"
        >
          Set a minimum and target for another place</button
        ><LevelForm
          v-else
          :item="id"
          :place="null"
          :levels="null"
          :bin="null"
          :stands="stands"
          @done="editing = null"
        />
      </div>
      <div v-if="coded.length" class="px-5 py-3 border-t border-hair">
        <h2 class="mb-2">Lots, first to go on the left</h2>
        <LotStrip :lots="coded" />
        <details class="mt-2">
          <summary class="soft text-[13px] cursor-pointer">Where each lot lies, hold or recall one</summary>
          <table class="list mt-1">
            <tbody>
              <tr v-for="l in coded" :key="l.id">
                <td class="wrap-anywhere min-w-26">
                  <RouterLink class="go mono whitespace-normal!" :to="{ name: 'lot', params: { id: l.id } }">{{
                    l.code
                  }}</RouterLink>
                </td>
                <td>{{ l.state }}</td>
                <td class="wrap-anywhere min-w-26">
                  {{ l.places.map(p => `${f.number(p.quantity)} in ${p.name}`).join(', ') }}
                </td>
                <td class="text-right"><LotStateForm :lot="l" @save="(h, w) => saveLot(l, h, w)" /></td>
              </tr>
            </tbody>
          </table>
        </details>
      </div>
      <div v-if="session.mayAnywhere('book')" class="px-5 py-3 border-t border-hair flex flex-wrap gap-3">
        <button type="button" class="btn" @click="start('issue')">Issue</button
        ><button type="button" class="btn" @click="start('receipt')">Receive</button
        ><button type="button" class="btn" @click="start('move')">Move</button
        ><button type="button" class="btn" @click="start('waste')">Waste</button
        ><button v-if="openable" type="button" class="btn" @click="start('relabel')">Open one</button
        ><RouterLink class="btn" :to="{ name: 'count' }">Count</RouterLink
        ><RouterLink class="btn" :to="{ name: 'labels', query: { item: id } }">Labels</RouterLink
        ><RouterLink v-if="session.maySetUp" class="btn ml-auto" :to="{ name: 'item-edit', params: { id } }"
          >Edit item</RouterLink
        >
      </div>
    </article>
    <section class="moved">
      <div class="flex justify-between items-center gap-3 mb-2 mt-2">
        <h2 class="min-w-0">
          Movements
          <select
            v-model="here"
            class="here bg-transparent font-semibold max-w-full"
            aria-label="Movements of which place"
          >
            <option value="">everywhere</option>
            <option v-for="p in stock.places" :key="p.place" :value="p.place">in {{ p.name }}</option>
          </select>
        </h2>
        <SaveAs :path="movementsPath()" name="movements" />
      </div>
      <div v-if="answered && moved.length" class="card overflow-x-auto">
        <table class="list">
          <thead>
            <tr>
              <th>When</th>
              <th>Slip</th>
              <th class="text-right!">Change</th>
              <th class="text-right!">Left</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in moved" :key="m.seq" :class="{ gone: m.takenBack }">
              <td class="whitespace-nowrap">{{ f.when(m.at) }}</td>
              <td class="wrap-anywhere min-w-36">
                <RouterLink class="go mono" :to="{ name: 'slip', params: { id: m.slip.id } }">{{
                  m.slip.number
                }}</RouterLink>
                {{ LABEL_WORDS[m.kind] ?? m.kind
                }}<template v-if="m.lot"
                  >, lot <span class="mono">{{ m.lot }}</span></template
                >
                <div class="soft text-[12px]">
                  {{ m.from }} → {{ m.to }} · {{ m.by }}<template v-if="m.taker">, {{ m.taker }}</template
                  ><template v-if="m.takenBack"> · taken back since</template>
                </div>
              </td>
              <td class="num">
                {{ m.change === '0' ? '' : (m.change.startsWith('-') ? '' : '+') + f.aligned(m.change, changePlaces) }}
              </td>
              <td class="num">{{ f.aligned(m.balance, changePlaces) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else-if="answered" class="soft">Nothing happened to it here yet.</p>
      <NextPage v-if="answered && next" class="mt-3" label="Earlier ones" @more="more" />
    </section>
    <article class="slip empty:hidden">
      <ItemNeeds :item="id" :unit="item.unit" :place="session.placeId" @came="needsCame = true" />
      <ItemYearsPanel v-if="needsCame" :item="id" :name="item.name" :unit="item.unit" :place="session.placeId" />
    </article>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
  /* Beside what is long, what comes later keeps to what it belongs to. */
  grid-template-rows: auto 1fr;
  gap: 18px;
  align-items: start;
}
.moved {
  grid-row: span 2;
}
.gone td {
  color: var(--soft);
  text-decoration-line: none;
}
article td:first-child,
article th:first-child {
  padding-left: 20px;
}
@media (pointer: coarse) {
  .here {
    min-height: 48px;
  }
  .sum p {
    padding-block: 15px;
  }
}
h2 select option {
  background: var(--sheet);
  color: var(--ink);
}
/* Where there is no room for it, the figures say the same. */
@media (min-width: 1024px) and (max-width: 1150px) {
  .bar {
    display: none;
  }
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .moved {
    grid-row: auto;
  }
}
</style>
