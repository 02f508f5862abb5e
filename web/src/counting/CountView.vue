<script setup lang="ts">
/** Which area is counted: begin a sheet, go on with one, and settle what is still open from earlier counts. */
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { CountArea, DifferenceView, PrintedSheet, SlipView } from '@shelve/contract'
import { ApiProblem, call, get, query, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useScan } from '../scan/store.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import { v7 } from '../ledger/uuid.ts'
import AskDialog from '../ui/AskDialog.vue'
import FigureOf from '../ui/FigureOf.vue'
import { useFormat } from '../ui/format.ts'
import { beginSheet } from './begin.ts'

const session = useSession()
const index = useIndex()
const scan = useScan()
const strip = useStrip()
const router = useRouter()
const f = useFormat()
const areas = ref<CountArea[]>([])
const sheets = ref<PrintedSheet[]>([])
/** The areas that sheets are to be printed for. */
const chosen = reactive(new Set<string>())
const loaded = ref(false)
const open = ref<DifferenceView[]>([])
const blind = ref(true)
const wrong = ref('')
const waiting = ref<{ place: string; name: string; slips: { id: string; title: string; by: string }[] } | null>(null)
async function load() {
  const [a, o] = await Promise.all([
    get<{ rows: CountArea[]; sheets: PrintedSheet[] }>(`/api/count-areas${query({ place: session.placeId })}`),
    get<{ rows: DifferenceView[] }>(`/api/differences${query({ place: session.placeId })}`),
  ])
  areas.value = a.rows.filter(r => r.may)
  sheets.value = a.sheets
  open.value = o.rows
  loaded.value = true
}
const reload = live(load, () => true)
watch(
  () => session.placeId,
  () => void reload(),
)
const printing = computed(() => areas.value.filter(a => chosen.has(a.id)).map(a => a.id))
async function thrown(s: PrintedSheet) {
  try {
    await call('DELETE', `/api/sheets/${s.id}`)
    strip.say(`Sheet ${s.number} is not valid any more.`)
  } catch (e) {
    strip.say(said(e), 'bad')
  }
  await reload()
}
async function begin(place: string, name: string, sure = false) {
  try {
    const r = await beginSheet(place, blind.value, sure)
    if ('waiting' in r) {
      waiting.value = { place, name, slips: r.waiting }
      return
    }
    await router.push({ name: 'sheet', params: { id: r.id } })
  } catch (e) {
    wrong.value = said(e)
  }
}

// By scanner alone: a place's code begins or goes on with its sheet; *next* does so for the place where I am.
async function byScanner(id: string | null): Promise<boolean> {
  const area = areas.value.find(a => a.id === id) ?? (areas.value.length === 1 ? areas.value[0] : undefined)
  if (!area) return false
  if (area.draft && !area.draft.paper) await router.push({ name: 'sheet', params: { id: area.draft.id } })
  else await begin(area.id, area.name, waiting.value?.place === area.id)
  return true
}
scan.wants(m => {
  if (m.kind === 'command' && m.command === 'next') return byScanner(waiting.value?.place ?? session.placeId)
  if (m.place) return byScanner(m.place)
  // What was missing is held in the hand: its open difference.
  const lot = m.lot?.code
  const missing = open.value.find(d => d.item.id === m.item && (!lot || d.lot === lot))
  if (missing) find(missing)
  return missing !== undefined
})

const finding = ref<DifferenceView | null>(null)
const closing = ref<DifferenceView | null>(null)
const typed = ref('')
const where = ref('')
const reading = computed(() => {
  const item = finding.value && index.byId.get(finding.value.item.id)
  if (!item || !typed.value.trim()) return ''
  const r = readQuantity(typed.value, index.measure(item))
  return r.ok ? `= ${formatDecimal(r.quantity)} ${item.unit}` : ''
})
function find(d: DifferenceView) {
  finding.value = d
  typed.value = d.open.replace('-', '')
  where.value = d.place.id
  wrong.value = ''
}
async function settle(d: DifferenceView, act: 'found' | 'close') {
  try {
    const s = await call<SlipView>('POST', `/api/slips/${v7()}/booking`, {
      body: {
        content: {
          ...freshContent('closing', d.place.id),
          lines: [
            freshLine({
              difference: d.id,
              act,
              item: d.item.id,
              typed: act === 'found' ? typed.value : '',
              to: act === 'found' ? where.value : null,
            }),
          ],
        },
        seen: null,
      },
    })
    strip.say(
      act === 'found' ? `${d.item.name} is back on the shelf (${s.number}).` : `Closed as unexplained (${s.number}).`,
    )
    finding.value = closing.value = null
    await reload()
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? (e.problem.fields[0]?.message ?? e.message) : said(e)
  }
}
const positive = (d: DifferenceView) => !d.open.startsWith('-')
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <div class="flex flex-wrap justify-between gap-4 items-end mb-3">
        <div>
          <h1>Which area is counted?</h1>
          <p class="soft">In walking order, one line at a time or in a grid; stock may move meanwhile.</p>
        </div>
        <fieldset class="flex gap-4">
          <legend class="sr-only">How</legend>
          <label class="flex gap-2 items-center"><input v-model="blind" type="radio" :value="true" /> blind</label
          ><label class="flex gap-2 items-center"
            ><input v-model="blind" type="radio" :value="false" /> with figures</label
          >
        </fieldset>
      </div>
      <p v-if="wrong" class="error mb-2" role="alert">{{ wrong }}</p>
      <table class="list">
        <thead>
          <tr>
            <th>Area</th>
            <th>Last counted</th>
            <th>Next</th>
            <th class="text-right!">Lines</th>
            <th><span class="sr-only">Begin</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in areas" :key="a.id">
            <td>
              <label class="flex gap-2.5 items-center font-medium"
                ><input
                  type="checkbox"
                  :checked="chosen.has(a.id)"
                  :aria-label="`Print a sheet of ${a.name}`"
                  @change="chosen.has(a.id) ? chosen.delete(a.id) : chosen.add(a.id)"
                />{{ a.name }}</label
              >
            </td>
            <td class="whitespace-nowrap">
              <RouterLink v-if="a.lastSlip" class="go" :to="{ name: 'slip', params: { id: a.lastSlip.id } }">{{
                f.when(a.last)
              }}</RouterLink><span v-else class="soft">never</span>
            </td>
            <td class="whitespace-nowrap">
              <template v-if="a.due"
                >{{ f.date(a.due)
                }}<span class="block text-[12px]" :class="a.due <= f.today() ? 'text-buoy' : 'soft'">{{
                  a.due < f.today()
                    ? f.daysTo(a.due) === -1
                      ? 'due since yesterday'
                      : `due for ${-f.daysTo(a.due)} days`
                    : a.due === f.today()
                      ? 'due today'
                      : f.far(a.due)
                }}</span></template
              ><span v-else class="soft">no cycle</span>
            </td>
            <td class="num">{{ a.lines }}</td>
            <td class="text-right">
              <RouterLink
                v-if="a.draft && !a.draft.paper"
                class="btn btn-act btn-small"
                :to="{ name: 'sheet', params: { id: a.draft.id } }"
                >Go on with {{ a.draft.mine ? 'my sheet' : `the sheet of ${a.draft.by}` }}</RouterLink
              ><button
                v-else
                type="button"
                class="btn btn-small"
                :class="{ 'btn-act': a.due !== null && a.due <= f.today() }"
                @click="begin(a.id, a.name)"
              >
                Count it here
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="loaded && !areas.length" class="soft py-3">There is no area here that you may count.</p>
      <div class="flex flex-wrap gap-3 items-center mt-3">
        <RouterLink
          v-if="printing.length"
          class="btn"
          :to="{ name: 'print-sheets', query: { areas: printing.join(','), ...(blind ? {} : { figures: 'yes' }) } }"
          >Print {{ printing.length === 1 ? 'a sheet' : `${printing.length} sheets` }} on paper</RouterLink
        ><button v-else type="button" class="btn" disabled>Print on paper</button
        ><span class="soft text-[13px]">Tick the areas that are to be counted with a pencil.</span>
      </div>
    </section>
    <section>
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
              >, {{ s.placeName }}
              <div class="soft text-[12px]">
                {{ s.pages }} page{{ s.pages === 1 ? '' : 's' }}, {{ s.blind ? 'blind' : 'with figures' }} · printed
                {{ f.when(s.printedAt) }} by {{ s.printedBy
                }}<template v-if="s.entry"> · begun by {{ s.entry.by }}</template>
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
                :aria-label="`Throw sheet ${s.number} away`"
                @click="thrown(s)"
              >
                Throw away
              </button></span
            >
          </li>
        </ul>
      </template>
      <h2 class="mt-2 mb-2">
        Open differences<template v-if="open.length"> · {{ open.length }}</template>
      </h2>
      <ul v-if="open.length" class="card">
        <li v-for="d in open" :key="d.id" class="px-4 py-3 border-b border-hair last:border-0">
          <div class="flex justify-between gap-3">
            <RouterLink class="touch font-semibold" :to="{ name: 'item', params: { id: d.item.id } }">{{
              d.item.name
            }}</RouterLink><FigureOf
              roomy
              figure="difference"
              :difference="d.id"
              :label="`Difference of ${d.item.name}`"
              ><span class="mono whitespace-nowrap"
                >{{ f.number(d.open, true) }} {{ d.item.unit
                }}<template v-if="d.value"> · {{ f.amount(d.value, true) }}</template></span
              ></FigureOf
            >
          </div>
          <p class="soft text-[13px]">
            {{ d.place.name
            }}<template v-if="d.lot"
              >, lot <span class="mono">{{ d.lot }}</span></template
            >
            · counted {{ f.number(d.counted) }}, expected {{ f.number(d.expected) }} · {{ f.when(d.countedAt) }} ·
            <RouterLink class="go mono" :to="{ name: 'slip', params: { id: d.slip.id } }">{{
              d.slip.number
            }}</RouterLink>
          </p>
          <p v-for="e in d.elsewhere" :key="e.difference" class="text-straw text-[13px]">
            {{ f.number(e.open, true) }} at the same time in {{ e.place }}: perhaps the same ones.
          </p>
          <div class="flex gap-2 mt-2">
            <button v-if="!positive(d)" type="button" class="btn btn-small" @click="find(d)">Found again</button
            ><button
              type="button"
              class="btn btn-small"
              @click="
                () => {
                  closing = d
                  wrong = ''
                }
              "
            >
              Close as unexplained
            </button>
          </div>
        </li>
      </ul>
      <p v-else class="soft">
        None. What a count finds too few or too many waits here until it is found, anywhere, or closed.
      </p>
    </section>
    <AskDialog :open="finding !== null" :title="`${finding?.item.name} found again`" @close="finding = null">
      <form class="flex flex-col gap-3" @submit.prevent="settle(finding!, 'found')">
        <label
          ><span class="label">How many</span><input v-model="typed" class="field field-num" /><span
            class="soft mono text-[13px]"
            >{{ reading }}</span
          ></label
        ><label
          ><span class="label">Where it lies now</span
          ><select v-model="where" class="field">
            <option v-for="p in session.places.filter(x => x.active)" :key="p.id" :value="p.id">{{ p.path }}</option>
          </select></label
        >
        <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
        <div class="flex gap-3">
          <button class="btn btn-act">Book it</button
          ><button type="button" class="btn" @click="finding = null">Leave it</button>
        </div>
      </form>
    </AskDialog>
    <AskDialog :open="closing !== null" title="Close it as unexplained?" @close="closing = null">
      <p>
        {{ f.number(closing?.open, true) }} {{ closing?.item.unit }} of {{ closing?.item.name
        }}<template v-if="closing?.value">, {{ f.amount(closing?.value, true) }},</template> count as unexplained from
        now on. Taking the closing back opens it again.
      </p>
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <div class="flex gap-3 mt-4">
        <button type="button" class="btn btn-act" @click="settle(closing!, 'close')">Close it</button
        ><button type="button" class="btn" @click="closing = null">Leave it open</button>
      </div>
    </AskDialog>
    <AskDialog :open="waiting !== null" :title="`Slips of ${waiting?.name} are not booked yet`" @close="waiting = null">
      <p>What stands on them has perhaps moved already; book them first, then the count fits the shelf.</p>
      <ul class="my-3 list-disc pl-5">
        <li v-for="s in waiting?.slips" :key="s.id">{{ s.title || 'a slip' }}, {{ s.by }}</li>
      </ul>
      <div class="flex flex-wrap gap-3">
        <RouterLink class="btn btn-act" :to="{ name: 'ledger', query: { state: 'draft' } }">See them first</RouterLink
        ><button type="button" class="btn" @click="begin(waiting!.place, waiting!.name, true)">
          Count all the same
        </button>
      </div>
    </AskDialog>
  </div>
</template>
<style scoped>
td:first-child,
th:first-child {
  padding-left: 0;
}
td:last-child {
  padding-right: 0;
}
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
