<script setup lang="ts">
/** All slips, booked and lying, latest first. */
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { SlipRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import { useSession } from '../shell/session.ts'
import { useTakers } from '../scan/takers.ts'
import ListTools from '../ui/ListTools.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useList } from '../ui/lists.ts'
import FigureOf from '../ui/FigureOf.vue'
import { KIND_WORDS, useFormat } from '../ui/format.ts'
import NextPage from '../ui/NextPage.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const f = useFormat()
const filter = (k: string) =>
  computed({
    get: () => (typeof route.query[k] === 'string' ? route.query[k] : ''),
    set: v => void router.replace({ query: { ...route.query, [k]: v || undefined } }),
  })
const kind = filter('kind')
const state = filter('state')
const q = filter('q')
/** What a bar of the look back was about: a span of days, and whom or why. */
const from = filter('from')
const until = filter('to')
const party = filter('party')
const partyId = filter('partyId')
const about = filter('about')
/** Of a bar of the look back besides: which flow, in which category and place it was. */
const one = (k: string) => (typeof route.query[k] === 'string' ? route.query[k] : undefined)
const narrowed = computed(() =>
  [about.value, from.value && until.value ? `${f.date(from.value, true)} to ${f.date(until.value, true)}` : '']
    .filter(Boolean)
    .join(', '),
)
const path = (cursor?: string) =>
  `/api/slips${query({ state: state.value || 'booked', kind: kind.value, q: q.value, from: from.value, to: until.value, party: party.value, partyId: partyId.value, flow: one('flow'), category: one('category'), alone: one('alone'), item: one('item'), person: one('person'), at: one('at'), place: one('area') ?? session.placeId, cursor, limit: 60 })}`
const { rows, next, more, loaded } = usePages<SlipRow>(path, e => e.kind === 'booked' || e.kind === 'draft')
const EDIT: Record<string, string> = {
  receipt: 'receive',
  issue: 'issue',
  bring_back: 'bring_back',
  waste: 'waste',
  move: 'move',
  make: 'make',
  dispatch: 'dispatch',
  relabel: 'relabel',
  supplier_return: 'supplier_return',
  arrival: 'arrival',
  count: 'sheet',
}
const to = (r: SlipRow) =>
  r.state === 'draft' && EDIT[r.kind]
    ? { name: EDIT[r.kind]!, params: { id: r.id } }
    : { name: 'slip', params: { id: r.id } }
const COLUMNS = [
  { id: 'place', label: 'Place' },
  { id: 'when', label: 'When' },
  { id: 'by', label: 'By' },
  { id: 'lines', label: 'Lines' },
  { id: 'value', label: 'Change of stock' },
]
const list = useList(
  'ledger',
  COLUMNS.map(c => c.id),
)
const scanned = useTakers().filter(words => {
  q.value = words
})
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div class="basis-48!">
        <h1>
          {{
            state === 'draft'
              ? 'Slips left lying'
              : state === 'unpriced'
                ? 'Deliveries that want a price'
                : 'What was booked'
          }}{{ session.place ? ` in ${session.place.name}` : '' }}
        </h1>
        <p class="soft">
          {{ narrowed ? `${narrowed} · ` : '' }}latest first<button
            v-if="narrowed"
            type="button"
            class="btn btn-quiet btn-small"
            @click="router.replace({ query: {} })"
          >
            Show all
          </button>
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <input
          v-model.lazy="q"
          v-code="scanned"
          class="field field-small w-44!"
          placeholder="Number, item, person"
          aria-label="Filter slips"
          @keyup.enter="($event.target as HTMLInputElement).blur()"
        /><select v-model="state" class="field field-small w-36!" aria-label="Booked or lying">
          <option value="">booked</option>
          <option value="draft">left lying</option>
          <option v-if="session.seeValue" value="unpriced">without a price</option></select
        ><select v-model="kind" class="field field-small w-36!" aria-label="Kind of slip">
          <option value="">every kind</option>
          <option
            v-for="k in [
              'receipt',
              'issue',
              'bring_back',
              'recharge',
              'make',
              'move',
              'dispatch',
              'relabel',
              'arrival',
              'waste',
              'count',
              'closing',
              'correction',
              'opening',
              'supplier_return',
            ]"
            :key="k"
            :value="k"
          >
            {{ KIND_WORDS[k] }}
          </option></select
        ><ListTools :list="list" :columns="COLUMNS" /><SaveAs :path="path()" name="slips" /><a
          class="btn btn-small"
          href="/api/ledger.journal"
          download
          >Whole ledger as journal</a
        >
      </div>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Number</th>
            <th>What</th>
            <th v-if="list.shows.value.has('place')">Place</th>
            <th v-if="list.shows.value.has('when')">When</th>
            <th v-if="list.shows.value.has('by')">By</th>
            <th v-if="list.shows.value.has('lines')" class="text-right!">Lines</th>
            <th v-if="session.seeValue && list.shows.value.has('value')" class="text-right!">Change of stock</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.id" class="link" @click="router.push(to(r))">
            <td class="mono whitespace-nowrap">
              <RouterLink class="go" :to="to(r)">{{ r.number ?? 'draft' }}</RouterLink>
            </td>
            <td class="wrap-anywhere min-w-28">
              <span class="font-medium">{{ KIND_WORDS[r.kind] }}</span> {{ r.title
              }}<span v-if="r.corrected" class="soft"> · corrected since</span>
            </td>
            <td v-if="list.shows.value.has('place')">{{ r.place ?? '' }}</td>
            <td v-if="list.shows.value.has('when')" class="whitespace-nowrap">{{ f.when(r.at) }}</td>
            <td class="wrap-anywhere min-w-20" v-if="list.shows.value.has('by')">
              {{ r.by }}<span v-if="r.taker" class="soft">, {{ r.taker }}</span>
            </td>
            <td v-if="list.shows.value.has('lines')" class="num">{{ r.lines }}</td>
            <td v-if="session.seeValue && list.shows.value.has('value')" class="num">
              <FigureOf v-if="r.number" figure="slip-value" :slip="r.id" :label="`Change of stock by ${r.number}`">{{
                r.state === 'booked' ? f.money(r.value, true) : ''
              }}</FigureOf>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="loaded" class="px-5 pb-6 soft">
      {{
        state === 'draft'
          ? 'No slip is left lying.'
          : state === 'unpriced'
            ? 'Every delivery has its prices.'
            : 'Nothing was booked yet, or nothing fits the filter.'
      }}
    </p>
    <NextPage v-if="next" class="m-4" label="Earlier ones" @more="more" />
  </div>
</template>
