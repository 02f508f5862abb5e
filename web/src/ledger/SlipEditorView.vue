<script setup lang="ts">
/** Paper on the left, shelf on the right: writes one slip of any kind that moves stock. */
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { CodeMeaning, IndexItem, Named, Place, SlipKind, SlipLine, SlipRow, SlipView } from '@shelve/contract'
import { call, get, said } from '../shell/api.ts'
import { live, onEvent } from '../shell/events.ts'
import { concernedBy } from './concerned.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useScan } from '../scan/store.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import AskDialog from '../ui/AskDialog.vue'
import FigureOf from '../ui/FigureOf.vue'
import NumberPad from '../ui/NumberPad.vue'
import { pressed } from '../ui/pad.ts'
import { useFormat } from '../ui/format.ts'
import EffectPanel from './EffectPanel.vue'
import SlipHeadFields from './SlipHeadFields.vue'
import SlipLineRow from './SlipLineRow.vue'
import { KINDS } from './kinds.ts'
import { freshLine, useSlip } from './slip-store.ts'
import { v7 } from './uuid.ts'

const props = defineProps<{ kind: SlipKind; id?: string }>()
const slip = useSlip()
const session = useSession()
const index = useIndex()
const scan = useScan()
const strip = useStrip()
const router = useRouter()
const f = useFormat()
const kind = computed(() => KINDS[props.kind]!)
const ready = ref(false)
const discarding = ref(false)
const lying = ref<SlipRow[]>([])
const lately = ref<SlipRow[]>([])

async function open() {
  ready.value = false
  await slip.open(props.kind, props.id)
  ready.value = true
}
/** A scan that comes while the slip is being opened waits for it. */
let opening: Promise<void> = Promise.resolve()
watch(
  () => [props.kind, props.id],
  () => {
    opening = open()
  },
  { immediate: true },
)
/** What else may change the effect of any slip. */
const ASKS = new Set(['setup', 'stock', 'reload'])
live(
  async () => {
    const [d, b] = await Promise.all([
      get<{ rows: SlipRow[] }>(`/api/slips?state=draft&kind=${props.kind}&limit=20`),
      get<{ rows: SlipRow[] }>(`/api/slips?state=booked&kind=${props.kind}&limit=6`),
    ])
    lying.value = d.rows
    lately.value = b.rows
  },
  e => e.kind === 'draft' || e.kind === 'booked',
)
// The books moved: what this slip would do may differ now, where it is about the same.
onEvent(e => {
  if (e.kind === 'booked' ? concernedBy(slip.content.lines, e.detail.items) : ASKS.has(e.kind)) slip.ask()
})
const others = computed(() => lying.value.filter(d => d.id !== slip.id))

const firstPack = (item: IndexItem) =>
  kind.value.pack === 'buying' ? (item.packs.find(p => p.buying && !p.issuing)?.name ?? null) : null
function addItem(item: IndexItem, pack: string | null = null, meaning?: CodeMeaning) {
  // Scanning the same thing again adds one of what the code stands on to its line; another lot or pack is a line of its own.
  const lotCode = meaning?.lot?.code ?? ''
  const again = slip.content.lines.find(
    l => l.item === item.id && (!meaning || l.unit === pack) && (!lotCode || (l.lot?.code ?? '') === lotCode),
  )
  const step = Number(meaning?.quantity ?? 1)
  if (again && meaning) {
    const n = /^\d+$/.test(again.typed.trim()) ? Number(again.typed) + step : undefined
    again.typed = n === undefined ? (again.typed.trim() ? `${again.typed} + ${step}` : String(step)) : String(n)
    if (!again.lot && meaning.lot) again.lot = { id: null, code: lotCode, expiry: meaning.lot.expiry }
    slip.focused = again.id
    return
  }
  const last = slip.content.lines.at(-1)
  slip.add(
    freshLine({
      item: item.id,
      typed: meaning ? String(step) : '',
      unit: meaning ? pack : (pack ?? firstPack(item)),
      reason: kind.value.reason ? (last?.reason ?? null) : null,
      to: props.kind === 'move' ? (last?.to ?? null) : null,
      lot:
        meaning?.lot && kind.value.lot !== 'none'
          ? { id: kind.value.lot === 'out' ? meaning.lot.id : null, code: meaning.lot.code, expiry: meaning.lot.expiry }
          : null,
    }),
    kind.value.lot === 'in' && item.identifiedBy !== 'quantity'
      ? slip.content.lines.findLast(l => l.item === item.id)?.id
      : undefined,
  )
  void nextTick(() =>
    document.querySelector<HTMLInputElement>(`[data-line="${slip.focused}"] [data-quantity]`)?.focus(),
  )
}
/** Lots of one item that came together stand under each other and are added up: its first line with all that follow it. */
const groups = computed(() => {
  const out: { first: SlipLine; lines: SlipLine[] }[] = []
  for (const line of slip.content.lines) {
    const last = out.at(-1)
    if (
      last &&
      kind.value.lot === 'in' &&
      line.item !== null &&
      last.first.item === line.item &&
      index.byId.get(line.item)?.identifiedBy !== 'quantity'
    )
      last.lines.push(line)
    else out.push({ first: line, lines: [line] })
  }
  return out
})
const groupOf = (line: SlipLine) => groups.value.find(g => g.lines.includes(line))!
/** How much of all its lots together, in the base unit; undefined while a number cannot be read. */
function together(line: SlipLine): string | undefined {
  const g = groupOf(line)
  const item = line.item ? index.byId.get(line.item) : undefined
  if (g.first !== line || g.lines.length < 2 || !item) return undefined
  let sum = 0n
  for (const l of g.lines) {
    const r = readQuantity(l.typed, index.measure(item), l.unit ?? undefined, true)
    if (!r.ok) return undefined
    sum += r.quantity
  }
  return `${f.number(formatDecimal(sum))} ${item.unit}, ${g.lines.length} lots`
}
/** One more lot of what this line brought: same unit, same price. */
function anotherLot(line: SlipLine) {
  slip.add(
    freshLine({ item: line.item, unit: line.unit, price: line.price, to: line.to }),
    groupOf(line).lines.at(-1)!.id,
  )
  void nextTick(() =>
    document.querySelector<HTMLInputElement>(`[data-line="${slip.focused}"] [data-quantity]`)?.focus(),
  )
}
scan.wants(async m => {
  await opening
  if (m.kind === 'command') return command(m.command!)
  if (m.party) return party(m.party)
  if (m.item) {
    const item = index.byId.get(m.item)
    if (!item) return false
    addItem(item, m.pack, m)
    return true
  }
  if (m.place && props.kind === 'move') return movePlace(m.place)
  if (m.place) {
    const line = slip.content.lines.find(l => l.id === slip.focused) ?? slip.content.lines.at(-1)
    if (!line) {
      session.placeId = m.place
      return true
    }
    if (kind.value.to) line.to = m.place
    else line.from = m.place
    return true
  }
  return false
})
/** A scanned place on a move: first a bin to be emptied, then where all that has no goal yet goes. */
async function movePlace(place: string): Promise<boolean> {
  if (!slip.content.lines.length) {
    if (session.places.find(p => p.id === place)?.kind === 'bin') await takeAll(place)
    else session.placeId = place
    return true
  }
  const without = slip.content.lines.filter(l => l.to === null)
  if (without.length) for (const l of without) l.to = place
  else {
    const line = slip.content.lines.find(l => l.id === slip.focused) ?? slip.content.lines.at(-1)!
    line.to = place
  }
  return true
}
/** Everything that lies in a place, lot by lot. */
async function takeAll(place: string) {
  try {
    const { lines } = await get<{
      lines: {
        item: string
        lot: { id: string; code: string | null; expiry: string | null } | null
        place: string
        expected: string
      }[]
    }>(`/api/sheets?place=${place}&figures=yes`)
    const lying = lines.filter(l => l.expected !== '0')
    for (const l of lying)
      slip.add(
        freshLine({
          item: l.item,
          typed: l.expected,
          from: l.place,
          lot: l.lot ? { id: l.lot.id, code: l.lot.code ?? '', expiry: l.lot.expiry } : null,
        }),
      )
    strip.say(
      lying.length
        ? `All of ${session.placeName(place)}: ${lying.length} line${lying.length === 1 ? '' : 's'}. Now say where it goes.`
        : `Nothing lies in ${session.placeName(place)}.`,
      lying.length ? 'good' : 'bad',
    )
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
/** Where all lines go at once. */
const allTo = computed({
  get: () => {
    const to = new Set(slip.content.lines.map(l => l.to))
    return to.size === 1 ? ([...to][0] ?? null) : null
  },
  set: v => {
    for (const l of slip.content.lines) l.to = v
  },
})
const bins = computed(() =>
  (session.placeId ? session.within(session.placeId) : session.places).filter(p => p.active && p.kind === 'bin'),
)
const reasons = ref<Named[]>([])
watch(
  () => props.kind,
  k => {
    if (k === 'waste' && !reasons.value.length)
      void get<{ rows: Named[] }>('/api/waste-reasons').then(
        r => {
          reasons.value = r.rows
        },
        () => undefined,
      )
  },
  { immediate: true },
)
/** Why comes first: then each scan is a line of one, ready to be booked. */
function because(reason: string) {
  slip.content.head.reason = reason
  document.querySelector<HTMLInputElement>('[data-add] input')?.focus()
}
/** From whom, for whom or why, said by a printed card. */
function party(p: NonNullable<CodeMeaning['party']>): boolean {
  const { head } = slip.content
  const outward = props.kind === 'issue' || props.kind === 'bring_back'
  if (p.kind === 'supplier' && props.kind === 'receipt') head.supplier = p.name
  else if (p.kind === 'job' && outward) Object.assign(head, { job: p.id, costCentre: null })
  else if (p.kind === 'cost_centre' && outward) Object.assign(head, { job: null, costCentre: p.id })
  else if (p.kind === 'reason' && props.kind === 'waste') head.reason = p.id
  else return false
  return true
}
async function command(c: string): Promise<boolean> {
  const line = slip.content.lines.find(l => l.id === slip.focused) ?? slip.content.lines.at(-1)
  if (c === 'book') {
    await book()
    return true
  }
  if (c === 'back') {
    if (line) slip.remove(line.id)
    return true
  }
  if (c === 'next') {
    const i = slip.content.lines.findIndex(l => l.id === slip.focused)
    slip.focused = slip.content.lines[i + 1]?.id ?? slip.content.lines[0]?.id ?? null
    return true
  }
  const digit = c === 'point' ? '.' : /^\d$/.test(c) ? c : undefined
  if (digit && line) {
    line.typed = pad.value === line.id ? line.typed + digit : digit
    pad.value = line.id
    return true
  }
  return false
}
/** The line whose number is being scanned digit by digit. */
const pad = ref<string | null>(null)
watch(
  () => slip.focused,
  () => {
    pad.value = null
  },
)

async function book() {
  if (!slip.content.lines.length || slip.booking) return
  const id = slip.id
  const booked = await slip.book()
  if (!booked && slip.id !== id) {
    strip.say('The slip you left was not booked. It lies among the drafts, with what is missing.', 'bad')
    return
  }
  if (!booked) {
    void nextTick(() => document.querySelector<HTMLElement>('[role="alert"]')?.scrollIntoView({ block: 'center' }))
    return
  }
  const n = booked.lines.length
  strip.say(
    `${booked.number} is booked: ${n} line${n === 1 ? '' : 's'}${/^(from|to) /.test(booked.title) ? ' ' : ': '}${booked.title}.`,
    'good',
    [
      { label: 'Take it back', run: () => void takeBack(booked) },
      ...(props.kind === 'receipt'
        ? [{ label: 'Print labels', run: () => void router.push({ name: 'labels', query: { slip: booked.id } }) }]
        : []),
      { label: 'Open it', run: () => void router.push({ name: 'slip', params: { id: booked.id } }) },
    ],
  )
  // Whoever went on to something else meanwhile keeps what stands there.
  if (slip.id !== id) return
  slip.fresh(props.kind)
  if (props.id) await router.replace({ name: props.kind === 'receipt' ? 'receive' : props.kind })
}
async function takeBack(booked: SlipView) {
  try {
    const r = await call<SlipView>('POST', `/api/slips/${booked.id}/reversal`, { body: { id: v7() } })
    strip.say(`${booked.number} is taken back by ${r.number}.`)
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
function key(e: KeyboardEvent) {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
    e.preventDefault()
    void book()
  }
}
onMounted(() => window.addEventListener('keydown', key))
onUnmounted(() => {
  window.removeEventListener('keydown', key)
  void slip.save()
})

function step(from: string, by: 1 | -1) {
  const i = slip.content.lines.findIndex(l => l.id === from)
  const next = slip.content.lines[i + by]
  const target = next
    ? document.querySelector<HTMLInputElement>(`[data-line="${next.id}"] [data-quantity]`)
    : by > 0
      ? document.querySelector<HTMLInputElement>('[data-add] input')
      : null
  target?.focus()
  target?.select()
}
const coarse = matchMedia('(pointer: coarse)').matches
const padLine = computed(() => slip.content.lines.find(l => l.id === slip.focused))
const padItem = computed(() => (padLine.value?.item ? index.byId.get(padLine.value.item) : undefined))
const padPacks = computed(() =>
  padItem.value
    ? [
        ...padItem.value.packs.map(p => ({ name: p.name, note: `${p.size} ${padItem.value!.unit}` })),
        { name: padItem.value.unit, note: '' },
      ]
    : [],
)
/** The places of the slip's area: one list for all lines, so that a line is drawn anew only where it changed. */
const binsHere = computed<Place[]>(() => (slip.content.place ? session.within(slip.content.place) : []))
const count = computed(() => slip.content.lines.length)
const actLabel = computed(() => (count.value ? `Book ${count.value} line${count.value === 1 ? '' : 's'}` : 'Book'))
</script>
<template>
  <div class="two">
    <form class="slip paper" @submit.prevent>
      <div class="px-5 pt-4 pb-2">
        <div class="flex justify-between gap-4 items-start">
          <div class="min-w-0">
            <h1>
              {{ kind.title
              }}<template v-if="props.kind === 'receipt' && slip.content.head.supplier">
                from {{ slip.content.head.supplier }}</template
              >
            </h1>
            <div
              v-if="props.kind === 'issue' || props.kind === 'bring_back'"
              class="flex gap-3 text-[13px] mt-1"
              role="navigation"
              aria-label="Issue or bring back"
            >
              <RouterLink to="/issue" class="touch swap" :class="{ on: props.kind === 'issue' }">Issue</RouterLink
              ><RouterLink to="/bring-back" class="touch swap" :class="{ on: props.kind === 'bring_back' }"
                >Bring back</RouterLink
              >
            </div>
            <div v-if="props.kind === 'waste'" class="text-[13px] mt-1">
              <RouterLink class="go" :to="{ name: 'expiring' }">What runs out of date</RouterLink>
            </div>
          </div>
          <p class="soft text-[13px] text-right shrink-0">
            draft, numbered when booked<template v-if="slip.savedAt"
              ><br />saved {{ f.when(slip.savedAt).replace('today ', '') }}</template
            >
          </p>
        </div>
        <div v-if="props.kind === 'waste' && ready && !count" class="mt-3">
          <p class="label">What happened? Then each scan is one.</p>
          <div class="flex flex-wrap gap-2">
            <button
              v-for="r in reasons"
              :key="r.id"
              type="button"
              class="btn btn-small"
              :class="{ 'btn-act': slip.content.head.reason === r.id }"
              :aria-pressed="slip.content.head.reason === r.id"
              @click="because(r.id)"
            >
              {{ r.name }}
            </button>
          </div>
        </div>
        <div v-if="props.kind === 'move' && ready" class="mt-3 flex flex-wrap gap-4 items-end">
          <label v-if="!count && bins.length"
            ><span class="label">All that lies in one bin</span
            ><select
              class="field field-small w-44!"
              aria-label="All that lies in one bin"
              @change="void takeAll(($event.target as HTMLSelectElement).value)"
            >
              <option value="">choose, or scan it</option>
              <option v-for="b in bins" :key="b.id" :value="b.id">{{ b.path }}</option>
            </select></label
          >
          <label v-if="count"
            ><span class="label">All of it goes to</span
            ><select v-model="allTo" class="field field-small w-44!">
              <option :value="null">say it on each line</option>
              <option v-for="p in session.places.filter(x => x.active)" :key="p.id" :value="p.id">{{ p.path }}</option>
            </select></label
          >
        </div>
        <SlipHeadFields v-if="ready" :kind="props.kind" class="mt-3" />
        <p v-if="!slip.content.place" class="notice mt-3">
          You are working in all places. Choose one at the top left, so that it is known which shelf this is about.
        </p>
        <p v-else-if="slip.content.place !== session.placeId" class="notice mt-3">
          This slip is about {{ session.placeName(slip.content.place) }}.
        </p>
      </div>
      <div class="lines">
        <table v-if="count" class="list" :aria-label="kind.title">
          <thead>
            <tr>
              <th>Item</th>
              <th class="text-right!">{{ kind.what }}</th>
              <th v-if="kind.lot === 'in'">Lot, use by</th>
              <th v-else-if="kind.lot === 'out'">Lot</th>
              <th v-if="kind.from && props.kind !== 'waste'">From</th>
              <th v-if="kind.to">Into</th>
              <th v-if="kind.reason">Why</th>
              <th v-if="kind.price" class="text-right!">Price</th>
              <th><span class="sr-only">Remove</span></th>
            </tr>
          </thead>
          <tbody>
            <SlipLineRow
              v-for="line in slip.content.lines"
              :key="line.id"
              :line="line"
              :kind="props.kind"
              :bins="binsHere"
              :focused="slip.focused === line.id"
              :follows="groupOf(line).first !== line"
              :together="together(line)"
              :more="groupOf(line).lines.at(-1) !== line"
              @down="step(line.id, 1)"
              @up="step(line.id, -1)"
              @another="anotherLot(line)"
            />
          </tbody>
        </table>
        <div v-if="coarse && padItem && padLine" class="px-5 pt-4">
          <p class="soft text-[13px] mb-2">
            {{ kind.what }}: <b class="text-ink">{{ padItem.name }}</b> <b class="mono text-ink">{{ padLine.typed }}</b>
          </p>
          <NumberPad :packs="padPacks" @press="k => (padLine!.typed = pressed(padLine!.typed, k, padItem!.unit))"
            ><button type="button" class="key" @click="padLine.typed = ''">Clear</button
            ><button type="button" class="key" @click="step(padLine.id, 1)">Next line</button></NumberPad
          >
        </div>
        <div data-add class="px-5 py-3">
          <ItemPicker :label="kind.hint" @pick="i => addItem(i)" @none="w => void scan.scanned(w)" />
        </div>
      </div>
      <footer class="foot">
        <div class="flex gap-3 flex-wrap">
          <button type="button" class="btn btn-act" :disabled="!count || slip.booking" @click="book">
            {{ actLabel }}
          </button>
          <button v-if="!slip.empty" type="button" class="btn" @click="discarding = true">Throw away</button>
        </div>
        <div class="text-right soft text-[13px]">
          <template v-if="session.seeValue && slip.effect && props.kind === 'receipt'">
            <div class="mono">
              Goods {{ f.money(slip.effect.goods)
              }}<template v-if="slip.effect.charges !== '0'"> · freight {{ f.money(slip.effect.charges) }}</template>
            </div>
            <div>
              <b class="mono text-ink text-[14px]"
                ><FigureOf figure="slip-value" :ask="slip.working(null, 'value')" label="What comes into stock">{{
                  f.amount(slip.effect.value)
                }}</FigureOf></b
              >
              into stock
            </div>
          </template>
          <div v-else-if="session.seeValue && slip.effect?.value && slip.effect.value !== '0'">
            <b class="mono text-ink text-[14px]"
              ><FigureOf
                figure="slip-value"
                :ask="slip.working(null, 'value')"
                label="What it changes in the value of stock"
                >{{ f.amount(slip.effect.value, true) }}</FigureOf
              ></b
            >
            of stock
          </div>
        </div>
      </footer>
      <p v-for="r in slip.tried ? slip.headRefusals : []" :key="r.code" class="error px-5 pb-3" role="alert">
        {{ r.message }}
      </p>
      <p v-if="slip.trouble" class="error px-5 pb-3" role="alert">{{ slip.trouble }}</p>
    </form>
    <section class="shelf" aria-label="What the shelf will look like">
      <EffectPanel v-if="count" :kind="props.kind" />
      <template v-else>
        <template v-if="others.length">
          <h2 class="mb-2">Slips left lying</h2>
          <ul class="card mb-5">
            <li v-for="d in others" :key="d.id" class="row">
              <div>
                <RouterLink
                  class="go"
                  :to="{ name: props.kind === 'receipt' ? 'receive' : props.kind, params: { id: d.id } }"
                  >{{ d.title || 'a slip' }}</RouterLink
                >
                <div class="soft text-[12px]">
                  {{ d.mine ? 'yours' : d.by }} · {{ d.lines }} line{{ d.lines === 1 ? '' : 's' }}
                </div>
              </div>
              <span class="soft text-[13px]">{{ f.when(d.at) }}</span>
            </li>
          </ul>
        </template>
        <h2 class="mb-2">Lately booked</h2>
        <ul v-if="lately.length" class="card">
          <li v-for="b in lately" :key="b.id" class="row">
            <div class="min-w-0">
              <RouterLink class="go mono" :to="{ name: 'slip', params: { id: b.id } }">{{ b.number }}</RouterLink>
              {{ b.title }}
              <div class="soft text-[12px]">
                {{ b.by }}<template v-if="b.taker">, {{ b.taker }}</template> · {{ f.when(b.at) }}
              </div>
            </div>
            <span v-if="b.value && b.value !== '0'" class="mono text-[13px] whitespace-nowrap">{{
              f.amount(b.value, true)
            }}</span>
          </li>
        </ul>
        <p v-else class="soft">Nothing yet. {{ kind.hint }}, and the first slip stands here once it is booked.</p>
      </template>
    </section>
    <AskDialog :open="discarding" title="Throw this slip away?" @close="discarding = false">
      <p>
        Its {{ count }} line{{ count === 1 ? '' : 's' }} are not booked and will be gone. Nothing on the shelf changes.
      </p>
      <div class="flex gap-3 mt-5">
        <button
          type="button"
          class="btn btn-danger"
          @click="
            () => {
              discarding = false
              void slip.discard()
            }
          "
        >
          Throw it away</button
        ><button type="button" class="btn" @click="discarding = false">Keep it</button>
      </div>
    </AskDialog>
    <AskDialog :open="slip.clash" title="Somebody else saved this slip meanwhile" @close="slip.settleClash(false)">
      <p>What stands here and what was saved elsewhere differ.</p>
      <div class="flex gap-3 mt-5">
        <button type="button" class="btn btn-act" @click="slip.settleClash(false)">Take theirs</button
        ><button type="button" class="btn" @click="slip.settleClash(true)">Keep mine</button>
      </div>
    </AskDialog>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
.paper {
  min-height: calc(100vh - 100px);
  display: flex;
  flex-direction: column;
}
.lines {
  flex: 1;
}
.lines > table :deep(td:first-child),
.lines > table th:first-child {
  padding-left: 20px;
}
.foot {
  position: sticky;
  bottom: 0;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  padding: 12px 20px;
  border-top: 1px solid var(--hair);
  background: var(--sheet);
  border-radius: 0 0 6px 6px;
  z-index: 5;
}
.shelf {
  position: sticky;
  top: 66px;
  max-height: calc(100vh - 76px);
  overflow-y: auto;
  padding: 10px 2px;
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
.notice {
  background: var(--notice);
  border: 1px solid var(--hair);
  border-radius: 6px;
  padding: 8px 12px;
  font-size: 13px;
}
.swap {
  color: var(--soft);
  border-bottom: 2px solid transparent;
}
.swap.on {
  color: var(--kelp);
  font-weight: 650;
  border-color: var(--kelp);
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .shelf {
    position: static;
    max-height: none;
  }
  .paper {
    min-height: 0;
  }
  .foot {
    bottom: 68px;
  }
}
</style>
