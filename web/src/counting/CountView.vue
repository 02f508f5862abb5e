<script setup lang="ts">
/** Which area is counted: begin a sheet, go on with one, and settle what is still open from earlier counts. */
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { CountArea, DifferenceView, PrintedSheet, SlipView } from '@shelve/contract'
import { get, put, query, remove, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { sayBehind } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { useScan } from '../scan/store.ts'
import AskDialog from '../ui/AskDialog.vue'
import { useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import AreaTable from './AreaTable.vue'
import OpenDifferences from './OpenDifferences.vue'
import { beginSheet } from './begin.ts'

const session = useSession()
const scan = useScan()
const strip = useStrip()
const router = useRouter()
const way = useWay()
const f = useFormat()
const areas = ref<CountArea[]>([])
const sheets = ref<PrintedSheet[]>([])
/** The areas and groups that sheets are to be printed for, by their ids. */
const chosen = reactive(new Set<string>())
const loaded = ref(false)
const open = ref<DifferenceView[]>([])
const differences = ref<InstanceType<typeof OpenDifferences> | null>(null)
const blind = ref(true)
const byTwo = ref(false)
const closed = ref(false)
const wrong = ref('')
const waiting = ref<{
  area: CountArea
  rest: string | null
  slips: { id: string; title: string; by: string }[]
} | null>(null)
/** Of which place that is which stands there. */
const of = ref<string | null>()
sayBehind(() => loaded.value && of.value !== session.placeId)
async function load() {
  const place = session.placeId
  const [a, o] = await Promise.all([
    get<{ rows: CountArea[]; sheets: PrintedSheet[] }>(`/api/count-areas${query({ place })}`),
    get<{ rows: DifferenceView[] }>(`/api/differences${query({ place })}`),
  ]).catch((e: unknown) => {
    // Nobody reads the areas of one place under the name of another.
    if (of.value !== place) {
      loaded.value = false
      areas.value = []
    }
    throw e
  })
  of.value = place
  areas.value = overdueFirst(a.rows.filter(r => r.may))
  sheets.value = a.sheets
  open.value = o.rows
  loaded.value = true
}
/** What is due comes first, what has been due for longest before all; the rest as the walk goes. */
function overdueFirst(rows: readonly CountArea[]): CountArea[] {
  const isDue = (a: CountArea) => a.due !== null && a.due <= f.today()
  const due = rows.filter(isDue).sort((a, b) => (a.due! < b.due! ? -1 : a.due! > b.due! ? 1 : 0))
  return [...due, ...rows.filter(a => !isDue(a))]
}
/** A scan that comes while the areas are on their way waits for them. */
let came: () => void
const asked = new Promise<void>(ok => (came = ok))
const reload = live(
  () => load().finally(() => came()),
  () => true,
)
watch(
  () => session.placeId,
  () => void reload(),
)
const printing = computed(() => ({
  areas: areas.value.filter(a => a.group === null && chosen.has(a.id)).map(a => a.id),
  groups: areas.value.flatMap(a => (a.group && chosen.has(a.group.id) ? [a.group.id] : [])),
}))
const onPaper = computed(() => ({
  name: 'print-sheets',
  query: {
    areas: printing.value.areas.join(',') || undefined,
    groups: printing.value.groups.join(',') || undefined,
    figures: blind.value ? undefined : 'yes',
  },
}))
useGoOn(() => prints.value && router.push(onPaper.value), { opened: () => asked })
const prints = computed(() => printing.value.areas.length + printing.value.groups.length)
const sheetOf = (s: PrintedSheet) => (s.group ? `${s.group.name}, ${s.placeName}` : s.placeName)
const pages = (s: PrintedSheet) =>
  s.pages === 1 ? `page ${s.firstPage}` : `pages ${s.firstPage} to ${s.firstPage + s.pages - 1}`
async function does(run: () => Promise<unknown>, done = '') {
  try {
    await run()
    if (done) strip.say(done)
  } catch (e) {
    strip.say(said(e), 'bad')
  }
  await reload()
}
const thrown = (s: PrintedSheet) =>
  does(() => remove(`/api/sheets/${s.id}`), `Sheet ${s.number} of ${sheetOf(s)} is not valid any more.`)
const openAgain = (a: CountArea) => does(() => remove(`/api/count-areas/${a.id}/closing`), `${a.name} is open again.`)
let beginning: Promise<void> | undefined
/** Pressed again while a sheet is on its way it is the same one. */
const begin = (area: CountArea, rest: string | null = null, sure = false): Promise<void> =>
  (beginning ??= makeSheet(area, rest, sure).finally(() => {
    beginning = undefined
  }))
async function makeSheet(area: CountArea, rest: string | null, sure: boolean): Promise<void> {
  try {
    // What was left is counted as the count that left it.
    const before = rest === null ? undefined : (await get<SlipView>(`/api/slips/${rest}`)).content?.head
    const how = { blind: before?.blind ?? blind.value, byTwo: before?.byTwo ?? byTwo.value }
    const wanted = { place: area.id, group: area.group?.id ?? null, rest, ...how }
    const r = await beginSheet(wanted, sure)
    if ('waiting' in r) {
      waiting.value = { area, rest, slips: r.waiting }
      return
    }
    if (closed.value) await put(`/api/count-areas/${area.id}/closing`)
    await way.push({ name: 'sheet', params: { id: r.id } })
  } catch (e) {
    wrong.value = said(e)
  }
}

// By scanner alone: a place's code begins or goes on with its sheet; *next* does so for the place where I am.
async function byScanner(id: string | null): Promise<boolean> {
  const whole = areas.value.filter(a => a.group === null)
  const area = whole.find(a => a.id === id) ?? (whole.length === 1 ? whole[0] : undefined)
  if (!area) return false
  if (area.draft && !area.draft.paper) await way.push({ name: 'sheet', params: { id: area.draft.id } })
  else await begin(area, null, waiting.value?.area === area)
  return true
}
scan.wants(async m => {
  await asked
  if (m.kind === 'command' && m.command === 'next') return byScanner(waiting.value?.area.id ?? session.placeId)
  if (m.kind === 'command' && m.command === 'book') return differences.value?.book() ?? false
  if (m.place) return byScanner(m.place)
  // What was missing is held in the hand: its open difference.
  const lot = m.lot?.code
  const missing = open.value.find(d => d.item.id === m.item && (!lot || d.lot === lot))
  if (missing) differences.value?.find(missing)
  return missing !== undefined
})
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <div class="flex flex-wrap justify-between gap-4 items-end mb-3">
        <div>
          <h1>Which area is counted?</h1>
          <p class="soft">In walking order, one line at a time or in a grid; stock may move meanwhile.</p>
        </div>
        <fieldset class="flex flex-wrap gap-x-4 gap-y-1">
          <legend class="sr-only">How</legend>
          <label class="flex gap-2 items-center"><input v-model="blind" type="radio" :value="true" /> blind</label
          ><label class="flex gap-2 items-center"
            ><input v-model="blind" type="radio" :value="false" /> with figures</label
          ><label class="flex gap-2 items-center" title="Each line is counted by two people, unseen by each other"
            ><input v-model="byTwo" type="checkbox" /> each line by two</label
          ><label class="flex gap-2 items-center" title="Nothing is booked there until it is counted or opened again"
            ><input v-model="closed" type="checkbox" /> closed meanwhile</label
          >
        </fieldset>
      </div>
      <p v-if="wrong" class="error mb-2" role="alert">{{ wrong }}</p>
      <AreaTable
        v-if="areas.length"
        :areas="areas"
        :chosen="chosen"
        @choose="key => (chosen.has(key) ? chosen.delete(key) : chosen.add(key))"
        @begin="a => void begin(a)"
        @go-on="id => void router.push({ name: 'sheet', params: { id } })"
        @rest="a => void begin(a, a.lastSlip!.id)"
        @open="openAgain"
      />
      <p v-if="loaded && !areas.length" class="soft py-3">There is no area here that you may count.</p>
      <!-- Comes with the areas: what stands below them would move away from under the finger. -->
      <div v-if="loaded" class="flex flex-wrap gap-3 items-center mt-3">
        <RouterLink v-if="prints" class="btn" :to="onPaper"
          >Print {{ prints === 1 ? 'a sheet' : `${prints} sheets` }} on paper</RouterLink
        ><button v-else v-wants="'Tick the areas that are to be counted on paper.'" type="button" class="btn">
          Print on paper</button
        ><span class="soft text-[13px]">Tick the areas that are to be counted with a pencil.</span
        ><RouterLink class="go ml-auto" :to="{ name: 'count-groups' }">What is counted together</RouterLink>
      </div>
    </section>
    <section v-if="loaded">
      <template v-if="sheets.length">
        <h2 class="mt-2 mb-2">On paper, to be entered</h2>
        <ul class="card mb-5">
          <li
            v-for="s in sheets"
            :key="s.id"
            class="px-4 py-2.5 border-b border-hair last:border-0 flex justify-between gap-3 items-center"
          >
            <div class="min-w-0">
              <b>Sheet {{ s.number }}</b
              >, {{ sheetOf(s) }}
              <div class="soft text-[12px]">
                {{ pages(s) }}, {{ s.blind ? 'blind' : 'with figures' }} · printed {{ f.when(s.printedAt) }} by
                {{ s.printedBy }}<template v-if="s.entry"> · begun by {{ s.entry.by }}</template>
              </div>
            </div>
            <span class="flex gap-2 shrink-0"
              ><RouterLink class="btn btn-small btn-act" :to="{ name: 'paper', params: { id: s.id } }">{{
                s.entry ? 'Go on' : 'Enter it'
              }}</RouterLink
              ><button
                v-if="!s.entry"
                type="button"
                class="btn btn-small"
                :aria-label="`Throw sheet ${s.number} of ${sheetOf(s)} away`"
                @click="thrown(s)"
              >
                Throw away
              </button></span
            >
          </li>
        </ul>
      </template>
      <OpenDifferences ref="differences" :open="open" @settled="reload" />
    </section>
    <AskDialog
      :open="waiting !== null"
      :title="`Slips of ${waiting?.area.name} are not booked yet`"
      @close="waiting = null"
    >
      <p>What stands on them has perhaps moved already; book them first, then the count fits the shelf.</p>
      <ul class="my-3 list-disc pl-5">
        <li v-for="s in waiting?.slips" :key="s.id">{{ s.title || 'a slip' }}, {{ s.by }}</li>
      </ul>
      <div class="flex flex-wrap gap-3">
        <RouterLink class="btn btn-act" :to="{ name: 'ledger', query: { state: 'draft' } }">See them first</RouterLink
        ><button type="button" class="btn" @click="begin(waiting!.area, waiting!.rest, true)">
          Count all the same
        </button>
      </div>
    </AskDialog>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
