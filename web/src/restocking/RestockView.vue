<script setup lang="ts">
/** What should be asked for, one slip a source, each line saying why; and the slips that are being written or on their way. */
import { computed, reactive, watch } from 'vue'
import type { Proposal, Refilled, RestockRow, RestockView } from '@shelve/contract'
import { ApiProblem, post, query, said } from '../shell/api.ts'
import { landOn } from '../shell/landing.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { v7 } from '../shell/uuid.ts'
import { useWay } from '../shell/way.ts'
import FigureOf from '../ui/FigureOf.vue'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import { useFormat } from '../ui/format.ts'

const session = useSession()
const strip = useStrip()
const way = useWay()
const f = useFormat()
const { it: restock, reload } = useReading<{ proposals: Proposal[]; slips: RestockRow[] }>(
  () => `/api/restock${query({ place: session.placeId })}`,
)
const proposals = computed(() => restock.value?.proposals ?? [])
const slips = computed(() => restock.value?.slips ?? [])
const loaded = computed(() => restock.value !== undefined)
const whole = reactive(new Set<string>())
const SHOWN = 5
const key = (p: Proposal) => `${p.source.kind} ${p.source.id}`
// The keyboard begins at the first slip that is offered: Enter writes it.
watch(loaded, () => landOn('[data-write]'), { once: true })
const writing = computed(() => slips.value.filter(s => s.state === 'open'))
const asked = computed(() => slips.value.filter(s => s.state !== 'open'))
const items = computed(() => proposals.value.reduce((n, p) => n + p.lines.length, 0))
const s = (n: number) => (n === 1 ? '' : 's')
/** ↑ ↓ from one slip that is offered to the next. */
function step(e: KeyboardEvent, by: 1 | -1) {
  const all = [...document.querySelectorAll<HTMLElement>('main [data-write]')]
  all[all.indexOf(e.target as HTMLElement) + by]?.focus()
}
/** Pressed again after an answer that was lost, a proposal is the same slip, line by line; one that is read anew is another. */
const ids = new WeakMap<object, string>()
const idOf = (line: object) => {
  const id = ids.get(line) ?? v7()
  ids.set(line, id)
  return id
}
async function write(p: Proposal) {
  try {
    const { id } = await post<RestockView>('/api/restock', {
      id: v7(),
      source: p.source,
      lines: p.lines.map(l => ({
        id: idOf(l),
        item: l.item,
        place: l.place,
        typed: l.typed,
        unit: l.pack,
        why: l.why,
      })),
    })
    await way.push({ name: 'restock-slip', params: { id } })
  } catch (e) {
    strip.say(
      e instanceof ApiProblem && e.code === 'taken_already' ? `${e.message} It is taken off here.` : said(e),
      'bad',
    )
    await reload()
  }
}
/** Filled up from our own shelves: the list is picked at once; of several each waits under *Picking*. */
const fills = computed(
  () =>
    session.placeId !== null &&
    session.may('book', session.placeId) &&
    proposals.value.some(p => p.source.kind === 'shelves'),
)
async function fill() {
  try {
    const { lists, lacking } = await post<Refilled>(`/api/places/${session.placeId}/refill`)
    const [first] = lists
    const more = lacking ? ` Of ${lacking} item${s(lacking)} our shelves have too little: ask for those.` : ''
    strip.say(
      lists.length === 1
        ? `${first!.lines} line${s(first!.lines)} to pick in ${first!.from}.${more}`
        : `${lists.length} lists to pick: ${lists.map(l => `${l.lines} in ${l.from}`).join(', ')}.${more}`,
    )
    await way.push(lists.length === 1 ? { name: 'pick', params: { id: first!.id } } : { name: 'picks' })
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
async function blank() {
  try {
    const { id } = await post<RestockView>('/api/restock', {
      id: v7(),
      source: { kind: 'nobody', id: null },
      lines: [],
    })
    await way.push({ name: 'restock-slip', params: { id } })
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <div class="two">
    <div>
      <div class="flex flex-wrap gap-3 justify-between items-baseline mb-2">
        <h1>What to ask for {{ session.place ? `in ${session.place.name}` : 'in my places' }}</h1>
        <span class="flex gap-2"
          ><RouterLink class="btn btn-small" :to="{ name: 'short' }">As one list</RouterLink
          ><button v-if="fills" type="button" class="btn btn-small" @click="fill">Fill it up from our shelves</button
          ><button v-if="session.mayAnywhere('ask')" type="button" class="btn btn-small" @click="blank">
            Begin an empty slip
          </button></span
        >
      </div>
      <p v-if="loaded && items" class="soft mb-2">
        {{ items }} line{{ s(items) }} from {{ proposals.length }} source{{ s(proposals.length) }}: from our own shelves
        first, then whoever it last came from
      </p>
      <section v-for="p in proposals" :key="key(p)" class="slip answer mb-5">
        <div class="px-5 pt-3 pb-2 flex justify-between gap-4 items-start">
          <div class="min-w-0">
            <h2 class="name">{{ p.source.kind === 'shelves' ? `From our own shelves: ${p.name}` : p.name }}</h2>
            <p class="soft text-[13px]">
              {{ p.lines.length }} line{{ s(p.lines.length)
              }}{{
                p.source.kind === 'shelves'
                  ? ', nothing to buy'
                  : p.source.kind === 'nobody'
                    ? ', nobody supplied them yet'
                    : ''
              }}
            </p>
          </div>
          <button
            v-if="session.mayAnywhere('ask')"
            type="button"
            data-write
            class="btn btn-act"
            @click="write(p)"
            @keydown.down.prevent="step($event, 1)"
            @keydown.up.prevent="step($event, -1)"
          >
            Write this slip
          </button>
        </div>
        <div v-for="l in whole.has(key(p)) ? p.lines : p.lines.slice(0, SHOWN)" :key="l.item + l.place" class="line">
          <div class="min-w-0">
            <RouterLink
              class="touch-cut font-medium block truncate"
              :to="{ name: 'item', params: { id: l.item } }"
              :title="l.name"
              >{{ l.name }}</RouterLink><span class="mono soft text-[12px]"
              >{{ l.code }}<span class="font-sans"> · {{ l.placeName }}</span></span
            >
          </div>
          <LevelBar :levels="l.levels" />
          <div class="min-w-0">
            <FigureOf figure="state" :item="l.item" :place="l.place" :label="`State of ${l.name}`"
              ><StateDisc :state="l.levels.state"
            /></FigureOf>
            <div class="soft text-[12px]">
              {{ l.why
              }}<template v-if="l.elsewhere.length && p.source.kind !== 'shelves'">
                · {{ f.number(l.elsewhere[0]!.available) }} in {{ l.elsewhere[0]!.place }}</template
              >
            </div>
          </div>
          <div class="text-right">
            <span class="pill mono"
              ><FigureOf figure="bring" :item="l.item" :place="l.place" :label="`To bring of ${l.name}`"
                >{{ f.number(l.typed) }} {{ l.pack ?? l.unit }}</FigureOf
              ></span
            >
          </div>
        </div>
        <button
          v-if="p.lines.length > SHOWN"
          type="button"
          class="btn btn-quiet btn-small m-2"
          @click="whole.has(key(p)) ? whole.delete(key(p)) : whole.add(key(p))"
        >
          {{ whole.has(key(p)) ? 'Show fewer' : `and ${p.lines.length - SHOWN} more` }}
        </button>
      </section>
      <p v-if="loaded && !items" class="slip px-5 py-5 soft">
        Nothing is to be asked for{{ session.place ? ' here' : '' }}. What falls to its minimum, with nothing on its
        way, appears here.
      </p>
    </div>
    <div v-if="loaded">
      <h2 class="mt-2 mb-2">Being written</h2>
      <ul v-if="writing.length" class="card mb-5">
        <li v-for="r in writing" :key="r.id" class="row">
          <div class="min-w-0">
            <RouterLink class="go" :to="{ name: 'restock-slip', params: { id: r.id } }">{{ r.name }}</RouterLink>
            <div class="soft text-[12px]">
              <span class="mono">{{ r.number }}</span> · {{ r.count }} line{{ s(r.count) }} ·
              <b v-if="r.handed && r.sends" class="text-ink">{{ r.handed.by }} asks for it</b
              ><b v-else-if="r.back" class="text-straw">given back: {{ r.back.why }}</b
              ><template v-else>{{
                r.handed ? 'handed over' : r.mine ? 'yours' : `${r.by} has this slip open`
              }}</template>
            </div>
          </div>
          <span class="soft text-[13px]">{{ f.when(r.createdAt) }}</span>
        </li>
      </ul>
      <p v-else-if="loaded" class="soft mb-5">No slip. What stands on one is offered to nobody else.</p>
      <h2 class="mb-2">Asked for</h2>
      <ul v-if="asked.length" class="card">
        <li v-for="r in asked" :key="r.id" class="row">
          <div class="min-w-0">
            <RouterLink class="go" :to="{ name: 'restock-slip', params: { id: r.id } }">{{
              r.name
            }}</RouterLink><template v-if="r.asked?.number"
              >, theirs <span class="mono">{{ r.asked.number }}</span></template
            >
            <div class="soft text-[12px]">
              <span class="mono">{{ r.number }}</span> ·
              {{ r.state === 'arrived' ? 'nothing more to come' : `${r.owed} of ${r.count} line${s(r.count)} to come`
              }}<template v-if="r.late">, not counted on any more</template> · {{ r.asked!.where }}, {{ r.asked!.by }}
            </div>
            <div v-if="r.unsent" class="text-[12px]" :class="r.unsent.state === 'failed' ? 'text-buoy' : 'text-straw'">
              {{ r.unsent.state === 'failed' ? 'the letter was refused' : 'the letter waits to go out'
              }}<template v-if="r.unsent.trouble">: {{ r.unsent.trouble }}</template>
            </div>
          </div>
          <span class="soft text-[13px] text-right whitespace-nowrap"
            >{{ r.state === 'arrived' ? '' : r.asked!.expected ? f.far(r.asked!.expected) : '' }}
            <div>{{ f.when(r.asked!.at) }}</div></span
          >
        </li>
      </ul>
      <p v-else-if="loaded" class="soft">Nothing is on its way that was asked for here.</p>
    </div>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
.name {
  font-size: 16px;
  color: var(--ink);
  font-weight: 700;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) 118px minmax(0, 1.3fr) 112px;
  gap: 16px;
  align-items: center;
  padding: 7px 20px;
  border-top: 1px solid var(--hair);
}
.pill {
  display: inline-block;
  border: 1px solid var(--edge);
  border-radius: 6px;
  padding: 2px 9px;
  overflow-wrap: anywhere;
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
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .line {
    padding: 10px 14px;
    gap: 12px;
  }
}
</style>
