<script setup lang="ts">
/** Everything about one lot: where it came from, where it lies, to whom it went, how its state changed. */
import { computed, ref } from 'vue'
import type { LotPage, LotView, SlipLine } from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useBeginning } from '../ledger/begin-slip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import SaveAs from '../ui/SaveAs.vue'
import { LABEL_WORDS, useFormat } from '../ui/format.ts'
import LeftInIt from './LeftInIt.vue'
import LotStateForm from './LotStateForm.vue'
import LotTraced from './LotTraced.vue'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const session = useSession()
const strip = useStrip()
const f = useFormat()
const lot = ref<LotPage | null>(null)
const wrong = ref('')
/** What happened to it stands below its trace on a tablet: it comes after that. */
const traced = ref(false)
async function load() {
  try {
    lot.value = await get<LotPage>(`/api/lots/${props.id}`)
    wrong.value = ''
  } catch (e) {
    wrong.value =
      e instanceof ApiProblem && e.code === 'not_found'
        ? 'There is no such lot, or it lies where you may not look.'
        : said(e)
  }
}
const reload = live(load, e => e.kind === 'booked' || e.kind === 'stock' || e.kind === 'setup')
async function save(held: string, why: string) {
  try {
    await call('PUT', `/api/lots/${props.id}/state`, { body: { held, why } })
    await reload()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
const index = useIndex()
const begin = useBeginning()
const openable = computed(
  () =>
    lot.value?.opened === null &&
    lot.value.state === 'usable' &&
    lot.value.quantity !== '0' &&
    ['lot', 'lot_expiry'].includes(lot.value.item.identifiedBy) &&
    session.mayAnywhere('book'),
)
/** A slip about this lot, where it lies; it is looked at and booked like any other. */
async function write(kind: 'relabel' | 'waste', more: Partial<SlipLine>) {
  const { id, item, code, expiry, places: lies } = lot.value!
  const from = lies[0]!.place
  const line = freshLine({ item: item.id, lot: { id, code: code ?? '', expiry }, from, ...more })
  await begin({ ...freshContent(kind, session.areaOf(from)), lines: [line] })
}
const openOne = () => write('relabel', { typed: '1', unit: index.container(index.byId.get(lot.value!.item.id)) })
const throwAway = () => write('waste', { typed: lot.value!.quantity })
const places = computed(() =>
  f.placesOf(
    [
      ...(lot.value?.came ?? []),
      ...(lot.value?.places ?? []),
      ...(lot.value?.went ?? []),
      ...(lot.value?.movements ?? []),
    ].map(x => x.quantity),
  ),
)
const STATES: Record<string, string> = { usable: 'usable', held: 'held', recalled: 'recalled', expired: 'out of date' }
</script>
<template>
  <NotThere v-if="wrong" :said="wrong" :to="{ name: 'lots' }" back="Back to the lots" />
  <div v-else-if="lot" class="two">
    <div>
      <article class="slip">
        <div class="px-5 pt-4 pb-3 flex flex-wrap justify-between gap-5">
          <div class="min-w-0 wrap-anywhere">
            <p class="soft text-[13px]">
              <RouterLink class="go" :to="{ name: 'item', params: { id: lot.item.id } }">{{
                lot.item.name
              }}</RouterLink>
              <span class="mono ml-1">{{ lot.item.code }}</span>
            </p>
            <h1>
              {{ lot.item.identifiedBy === 'serial' ? 'Serial number' : 'Lot' }}
              <span class="mono">{{ lot.code ?? 'without a code' }}</span>
            </h1>
            <p class="soft">
              <b class="text-ink">{{ STATES[lot.state] }}</b><template v-if="lot.expiry">
                · use by {{ f.date(lot.expiry, true) }} ({{ f.far(lot.expiry) }})</template
              >
              · {{ lot.opened ? `opened ${f.when(lot.opened)}` : `here since ${f.when(lot.received)}` }}
            </p>
            <p v-if="lot.parent" class="soft">
              opened from
              <RouterLink class="go mono" :to="{ name: 'lot', params: { id: lot.parent.id } }">{{
                lot.parent.code
              }}</RouterLink>
            </p>
            <p v-if="lot.children.length" class="soft">
              opened of it:
              <span v-for="c in lot.children" :key="c.id" class="mr-3 inline-block"
                ><RouterLink class="go mono whitespace-normal!" :to="{ name: 'lot', params: { id: c.id } }">{{
                  c.code
                }}</RouterLink
                >, {{ c.quantity === '0' ? 'empty' : `${f.number(c.quantity)} ${lot.item.unit} left` }}</span
              >
            </p>
            <p v-if="lot.lastUsed" class="soft">
              last used {{ f.when(lot.lastUsed.at) }} by <b class="text-ink">{{ lot.lastUsed.by }}</b> for
              {{ lot.lastUsed.what }},
              <RouterLink class="go mono" :to="{ name: 'slip', params: { id: lot.lastUsed.slip.id } }">{{
                lot.lastUsed.slip.number
              }}</RouterLink>
            </p>
          </div>
          <p class="mono text-[17px]">
            {{ f.number(lot.quantity) }} {{ lot.item.unit }} <span class="soft text-[13px] font-sans">left</span>
          </p>
        </div>
        <div class="px-5 py-3 border-t border-hair grid sm:grid-cols-3 gap-5">
          <div>
            <h2 class="mb-1">Came from</h2>
            <p v-for="c in lot.came" :key="c.name" class="flex justify-between gap-3">
              <span class="min-w-0 wrap-anywhere">{{ c.name }}</span><span class="mono whitespace-pre">{{
                f.aligned(c.quantity, places)
              }}</span>
            </p>
            <p v-if="!lot.came.length" class="soft">Not from outside of these places.</p>
          </div>
          <div>
            <h2 class="mb-1">Lies in</h2>
            <p v-for="p in lot.places" :key="p.place" class="flex justify-between gap-3">
              <span class="min-w-0 wrap-anywhere">{{ p.name }}</span><span class="mono whitespace-pre">{{
                f.aligned(p.quantity, places)
              }}</span>
            </p>
            <p v-if="!lot.places.length" class="soft">Nothing of it is left.</p>
          </div>
          <div>
            <h2 class="mb-1">Went to</h2>
            <p v-for="w in lot.went" :key="w.name" class="flex justify-between gap-3">
              <span class="min-w-0 wrap-anywhere"
                >{{ w.name }}<span class="soft text-[12px] block">last {{ f.when(w.last) }}</span></span
              ><span class="mono whitespace-pre">{{ f.aligned(w.quantity, places) }}</span>
            </p>
            <p v-if="!lot.went.length" class="soft">Nobody took any yet.</p>
          </div>
        </div>
        <LeftInIt
          v-if="lot.opened && lot.places.length === 1 && session.mayAnywhere('book')"
          :key="lot.id"
          :lot="lot"
          @booked="reload"
        />
        <div class="px-5 py-3 border-t border-hair flex flex-wrap gap-5 items-start justify-between">
          <div>
            <h2 class="mb-1">Its state</h2>
            <p v-for="s in lot.states" :key="s.since" class="text-[13px]">
              <b>{{ STATES[s.held] }}</b> since {{ f.when(s.since) }}, {{ s.by
              }}<template v-if="s.why">: {{ s.why }}</template>
            </p>
            <p v-if="!lot.states.length" class="soft">Never held or recalled.</p>
          </div>
          <span v-if="index.there" class="flex flex-wrap gap-3 items-center"
            ><button v-if="openable" type="button" class="btn btn-small" @click="openOne">Open one of it</button
            ><button v-if="lot.opened && lot.quantity !== '0'" type="button" class="btn btn-small" @click="throwAway">
              Waste the rest</button
            ><LotStateForm
              v-if="session.mayAnywhere('book')"
              :lot="lot as unknown as LotView"
              @save="save"
            /><RouterLink class="btn btn-small" :to="{ name: 'labels', query: { item: lot.item.id, lot: lot.id } }"
              >Labels</RouterLink
            ></span
          >
        </div>
      </article>
      <LotTraced :id="props.id" :code="lot.code" @held="reload" @came="traced = true" />
    </div>
    <section v-if="traced">
      <div class="flex justify-between items-center gap-3 mb-2 mt-2">
        <h2>All that happened to it</h2>
        <SaveAs :path="`/api/lots/${props.id}`" name="lot" />
      </div>
      <div class="card overflow-x-auto">
        <table class="list">
          <thead>
            <tr>
              <th>When</th>
              <th>Slip</th>
              <th>From → to</th>
              <th class="text-right!">Quantity</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in lot.movements" :key="m.seq">
              <td class="whitespace-nowrap">{{ f.when(m.at) }}</td>
              <td>
                <RouterLink class="go mono" :to="{ name: 'slip', params: { id: m.slip.id } }">{{
                  m.slip.number
                }}</RouterLink>
                <div class="soft text-[12px]">{{ LABEL_WORDS[m.kind] ?? m.kind }}</div>
              </td>
              <td class="wrap-anywhere min-w-28">
                {{ m.from }} → {{ m.to }}
                <div class="soft text-[12px]">
                  {{ m.by }}<template v-if="m.taker">, {{ m.taker }}</template>
                </div>
              </td>
              <td class="num">{{ f.aligned(m.quantity, places) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="lot.earlier" class="soft text-[13px] px-2 py-3">
          These are the latest. The file also has
          {{ lot.earlier === 1 ? 'the one movement' : `the ${lot.earlier} movements` }} before them.
        </p>
      </div>
    </section>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
