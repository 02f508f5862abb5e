<script setup lang="ts">
/** A list that is picked: one line after the other in the order of the walk, by scan, by key or by finger; then put down with its jobs. */
import { computed, nextTick, onUnmounted, ref, watch } from 'vue'
import type { CodeMeaning, PickView, SlipLine } from '@shelve/contract'
import { freshLine } from '../ledger/fresh.ts'
import LineRefusals from '../ledger/LineRefusals.vue'
import { oneMore } from '../ledger/one-more.ts'
import { useSlip } from '../ledger/slip-store.ts'
import PaperEnded from '../papers/PaperEnded.vue'
import { useScan } from '../scan/store.ts'
import { get, noAnswer, post, said } from '../shell/api.ts'
import { live, onEvent } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { landOn } from '../shell/landing.ts'
import { useWay } from '../shell/way.ts'
import AskDialog from '../ui/AskDialog.vue'
import { unitBehind, useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import NumberPad from '../ui/NumberPad.vue'
import { pressed } from '../ui/pad.ts'
import { decimal, leastOf } from '@shelve/core'
import JobsTabs from './JobsTabs.vue'
import PickFetched from './PickFetched.vue'
import PickLines from './PickLines.vue'
import PickShort from './PickShort.vue'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const slip = useSlip()
const index = useIndex()
const session = useSession()
const strip = useStrip()
const scan = useScan()
const way = useWay()
const f = useFormat()
const pick = ref<PickView | null>(null)
const wrong = ref('')
const ready = ref(false)
const dropping = ref(false)
const coarse = matchMedia('(pointer: coarse)').matches
const load = live(
  async () => {
    try {
      pick.value = await get<PickView>(`/api/picks/${props.id}`)
    } catch (e) {
      // What the server does not answer is read again by itself: whoever picks goes on.
      if (noAnswer(e)) throw e
      wrong.value = said(e)
    }
  },
  e => ['job', 'booked', 'draft', 'stock'].includes(e.kind),
)
/** A scan that comes while the list is on its way waits for it. */
let came: () => void
const opened = new Promise<void>(ok => (came = ok))
let beginning: Promise<void> | undefined
async function begin() {
  await slip.open('move', props.id)
  ready.value = true
  toNext()
}
watch([pick, wrong], async () => {
  if (pick.value?.state === 'picking') await (beginning ??= begin())
  came()
})
onEvent(slip.heard)
onUnmounted(() => void slip.save())

const picking = computed(() => pick.value?.state === 'picking' && ready.value)
const lines = computed(() => (picking.value ? slip.content.lines : []))
const isTaken = (l: SlipLine) => l.typed.trim() !== ''
const at = ref<string | null>(null)
const line = computed(() => lines.value.find(l => l.id === at.value))
const item = computed(() => (line.value?.item ? index.byId.get(line.value.item) : undefined))
const taken = computed(() => lines.value.filter(isTaken).length)
// Where the names of things come after the list itself, its field stands there only then.
watch(
  () => !!item.value,
  there => there && ready.value && landOn('[data-taken]'),
)
const refusals = computed(() => (line.value ? slip.lineRefusals(line.value.id) : []))
const placeOf = (l: SlipLine) => pick.value?.places.find(p => p.id === l.to)
/** For what a line is, in a word: its job, or the place that it fills. */
const whither = (l: SlipLine) => placeOf(l)?.job?.name ?? placeOf(l)?.name
const forJobs = computed(() => pick.value?.jobs.length !== 0)
const bin = (l: SlipLine) => {
  const name = session.placeName(l.from)
  const area = session.placeName(slip.content.place)
  return name.startsWith(`${area}, `) ? name.slice(area.length + 2) : name
}
/** The next line that nobody has taken yet, from where one stands and then from the beginning. */
function toNext() {
  const all = lines.value
  const from = all.findIndex(l => l.id === at.value) + 1
  go([...all.slice(from), ...all.slice(0, from)].find(l => !isTaken(l))?.id ?? null)
}
function go(id: string | null) {
  at.value = slip.focused = id
  if (!coarse)
    void nextTick(() => document.querySelector<HTMLElement>(id ? '[data-taken]' : '[data-put-down]')?.focus())
}
/** All that is asked is taken. */
function takeAll() {
  if (line.value && !isTaken(line.value)) line.value.typed = line.value.asked
  toNext()
}
const begun = ref<string | null>(null)
function press(key: string) {
  if (!line.value || !item.value) return
  line.value.typed = pressed(begun.value === line.value.id ? line.value.typed : '', key, item.value.unit)
  begun.value = line.value.id
}
/** What is scanned is the line that asks for it; another scan of the same is one more. */
function scanned(m: CodeMeaning): boolean {
  if (!picking.value) return false
  if (m.kind === 'command' && m.command === 'next') return (takeAll(), true)
  if (m.kind === 'command' && m.command === 'book') return (void putDown(), true)
  if (m.place) {
    const there = lines.value.find(l => l.from === m.place && !isTaken(l)) ?? lines.value.find(l => l.from === m.place)
    if (there) go(there.id)
    else strip.say('Nothing on this list lies there.', 'bad')
    return true
  }
  if (!m.item) return false
  const code = m.lot?.code ?? ''
  const fits = (l: SlipLine) => l.item === m.item && (!code || !l.lot?.code || l.lot.code === code)
  const open = lines.value.filter(l => fits(l) && !isTaken(l))
  const of = open.find(l => l.id === at.value) ?? open[0] ?? lines.value.find(fits)
  const name = index.byId.get(m.item)?.name ?? 'That'
  if (!of) {
    const other = lines.value.find(l => l.item === m.item)
    strip.say(
      other ? `That is lot ${code} of ${name}; ${other.lot?.code} is asked for.` : `${name} is not on this list.`,
      'bad',
      other
        ? [{ label: `Take lot ${code}`, run: () => takeOther(other, m) }]
        : [{ label: 'Take it too', run: () => add(m.item!, m) }],
    )
    return true
  }
  go(of.id)
  const again = isTaken(of)
  of.typed = again
    ? oneMore(of.typed, decimal(m.quantity ?? '1'))
    : m.quantity && m.quantity !== '1'
      ? m.quantity
      : of.asked
  return true
}
function takeOther(l: SlipLine, m: CodeMeaning) {
  l.lot = m.lot ? { id: m.lot.id, code: m.lot.code, expiry: m.lot.expiry } : null
  l.from = null
  l.typed = l.asked
  go(l.id)
}
/** Something that nobody asked for goes along. */
function add(of: string, m?: CodeMeaning) {
  slip.add(freshLine({ item: of, typed: m?.quantity ?? '1', to: pick.value?.places[0]?.id ?? null }))
  go(slip.content.lines.at(-1)!.id)
}
scan.wants(async m => {
  await opened
  return scanned(m)
})
/** What its jobs need and is here by now goes on the list, behind what stands there. */
async function more() {
  try {
    await slip.save()
    pick.value = await post<PickView>(`/api/picks/${props.id}/more`)
    toNext()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
/** Something else is taken for a need, and picked at once where it is here. */
async function instead(s: PickView['short'][number], item: string) {
  try {
    await post(`/api/jobs/${s.job.id}/instead`, { need: s.need, item })
    await load()
    if (pick.value?.more.length) await more()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
const missing = computed(() => (taken.value ? '' : 'Nothing is taken yet.'))
async function putDown() {
  if (!picking.value || slip.booking) return
  if (missing.value) return strip.wants(missing.value)
  // Read before it is booked: the screen may hear of that, and hold no lines any more, before its own answer comes.
  const [lines, forJob] = [taken.value, forJobs.value]
  const booked = await slip.book()
  if (!booked && !way.isHere()) strip.say(slip.leftBehind(props.id), 'bad')
  if (!booked) return
  strip.say(
    `${booked.number} is put down: ${lines} line${lines === 1 ? '' : 's'}${forJob ? ', ready to fetch' : ''}.`,
    'good',
  )
  // What filled a shelf is there: no list is left to be fetched.
  if (!forJob) return void way.push({ name: 'slip', params: { id: booked.id } })
  ready.value = false
  await load()
}
const putDownPressed = useGoOn(putDown, { of: () => props.id, opened: () => opened })
const whitherWords = computed(() => {
  const [p] = pick.value?.places ?? []
  return p?.job ? `with ${p.job.name}` : `in ${p?.name ?? ''}`
})
const print = () => window.print()
const padPacks = computed(() =>
  item.value
    ? [
        ...item.value.packs.map(p => ({ name: p.name, note: `${p.size} ${item.value!.unit}` })),
        { name: item.value.unit, note: '' },
      ]
    : [],
)
</script>
<template>
  <JobsTabs />
  <NotThere v-if="wrong" :said="wrong" :to="{ name: 'picks' }" back="Back to Picking" />
  <div v-if="pick" class="two">
    <section class="slip">
      <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-start">
        <div class="min-w-0">
          <h1>{{ picking ? slip.content.head.pick : pick.name }}</h1>
          <p class="soft">
            {{ forJobs ? 'for' : `into ${pick.places.map(p => p.name).join(', ')}` }}
            <template v-for="(j, i) in pick.jobs" :key="j.id"
              >{{ i ? ', ' : ''
              }}<RouterLink class="go" :to="{ name: 'job', params: { id: j.id } }">{{ j.name }}</RouterLink></template
            >
            · {{ pick.place
            }}<template v-if="slip.company.length">
              · <b class="text-ink">{{ slip.company.join(', ') }}</b> picks too</template
            >
          </p>
        </div>
        <p v-if="picking || pick.state !== 'picking'" class="text-right">
          <span class="mono text-[16px]">{{ picking ? `${taken} of ${lines.length}` : pick.number }}</span>
          <span class="soft block">{{
            picking ? 'taken' : pick.state === 'ready' ? 'ready to fetch' : `fetched by ${pick.fetchedBy}`
          }}</span>
        </p>
      </div>
      <!-- Drawn with the names of its items: until they are known nothing is said to be left. -->
      <template v-if="picking && index.there">
        <div v-if="line && item" class="now px-5 py-4" aria-live="polite">
          <div class="flex flex-wrap gap-x-6 gap-y-1 items-baseline">
            <b class="bin">{{ bin(line) || 'any bin' }}</b>
            <span class="what">{{ item.name }}</span>
            <span v-if="line.lot?.code" class="soft"
              >lot <span class="mono">{{ line.lot.code }}</span><template v-if="line.lot.expiry"
                >, {{ f.date(line.lot.expiry) }}</template
              ></span
            >
            <span v-if="pick.places.length > 1" class="soft">for {{ whither(line) }}</span>
          </div>
          <div class="flex flex-wrap gap-3 items-center mt-3">
            <button
              type="button"
              class="btn btn-act big"
              :aria-label="`Take ${line.asked} of ${item.name}`"
              @click="scan.after('That', takeAll)"
            >
              {{ isTaken(line) ? 'Next' : `Take ${f.number(leastOf(line.asked || '1'))}${unitBehind(item.unit)}` }}
            </button>
            <label class="flex gap-2 items-center"
              ><span class="soft">or</span
              ><input
                v-model="line.typed"
                data-taken
                class="field field-num w-28!"
                :placeholder="line.asked"
                :aria-label="`Taken: ${item.name}`"
                :inputmode="coarse ? 'none' : 'decimal'"
                autocomplete="off"
                @keydown.enter.prevent="$event.ctrlKey || $event.metaKey || takeAll()"
              /><span>{{ item.unit }}</span></label
            ><button type="button" class="btn" @click="scan.after('That', toNext)">Leave it for now</button>
          </div>
          <LineRefusals v-if="isTaken(line) && refusals.length" :line="line" :said="refusals" class="mt-2" />
          <div v-if="coarse" class="mt-4">
            <NumberPad :packs="padPacks" @press="press"
              ><button type="button" class="key" @click="scan.after('“Clear”', () => line && (line.typed = ''))">
                Clear</button
              ><button type="button" class="key" @click="scan.after('“Next”', takeAll)">Next</button></NumberPad
            >
          </div>
        </div>
        <p v-else class="now px-5 py-4">
          {{ taken === lines.length ? 'All of it is taken.' : 'What is left is left for now.' }} Put it down
          {{ pick.places.length > 1 ? 'where it goes' : whitherWords }}.
        </p>
        <PickLines
          :lines="lines"
          :at="at"
          :bin="bin"
          :job-of="l => (pick!.places.length > 1 ? whither(l) : undefined)"
          :refused="l => isTaken(l) && slip.lineRefusals(l.id).length > 0"
          @go="go"
        />
        <p v-if="pick.more.length" class="notice mx-5 my-3 no-print">
          {{ pick.more.join(', ') }} {{ pick.more.length === 1 ? 'is' : 'are' }} here by now.
          <button type="button" class="btn btn-small ml-2" @click="more">Put it on the list</button>
        </p>
        <footer class="px-5 py-3 border-t border-hair flex flex-wrap gap-3 no-print foot">
          <button type="button" class="btn btn-act" data-put-down v-wants="missing" @click="putDownPressed">
            Put down {{ taken }} line{{ taken === 1 ? '' : 's' }}</button
          ><button type="button" class="btn" @click="print">Print it</button
          ><button type="button" class="btn btn-danger ml-auto" @click="dropping = true">Drop this list</button>
        </footer>
        <p v-for="r in slip.tried ? slip.headRefusals : []" :key="r.code" class="error px-5 pb-3" role="alert">
          {{ r.message }}
        </p>
        <p v-if="slip.trouble" class="error px-5 pb-3" role="alert">{{ slip.trouble }}</p>
      </template>
      <div v-else-if="pick.state !== 'picking'" class="px-5 pb-4">
        <p class="mb-3">
          {{ pick.taken }} of {{ pick.lines }} line{{ pick.lines === 1 ? '' : 's' }} taken by {{ pick.by }},
          {{ f.when(pick.at) }}<template v-if="pick.fetchedAt">; fetched {{ f.when(pick.fetchedAt) }}</template
          >.
          <RouterLink class="go" :to="{ name: 'slip', params: { id } }">See the slip</RouterLink>
        </p>
        <PickFetched v-if="pick.state === 'ready'" :id="id" :name="pick.name" class="justify-start!" @said="load" />
      </div>
    </section>
    <PickShort
      v-if="pick.short.length && (picking || pick.state !== 'picking')"
      :short="pick.short"
      :picking="picking"
      @take="instead"
    />
    <AskDialog :open="dropping" title="Drop this list?" @close="dropping = false">
      <p>
        Nothing of it was put down: what you hold goes back to where it lay.
        {{ forJobs ? 'Its jobs wait to be picked again.' : 'What it was to fill stays due.' }}
      </p>
      <div class="flex gap-3 mt-5">
        <button
          type="button"
          class="btn btn-danger"
          @click="
            async () => {
              dropping = false
              if (await slip.discard()) await way.push({ name: 'picks' })
            }
          "
        >
          Drop it</button
        ><button type="button" class="btn" @click="dropping = false">Keep it</button>
      </div>
    </AskDialog>
    <PaperEnded
      v-if="picking"
      :ended="slip.ended"
      what="list"
      @open="load"
      @leave="void way.push({ name: 'picks' })"
      @go-on="void way.push({ name: 'picks' })"
    />
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 2.2fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
.two > section:only-of-type:last-child {
  grid-column: 1 / -1;
}
.now {
  background: var(--frost);
  border-top: 1px solid var(--hair);
  border-bottom: 1px solid var(--hair);
}
.bin {
  font-size: 22px;
}
.what {
  font-size: 19px;
}
.big {
  font-size: 17px;
  min-height: 48px;
  padding: 8px 22px;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .now {
    display: none;
  }
}
</style>
