<script setup lang="ts">
/** Enters a sheet that was counted on paper, page by page, in its order; with the time that stands at the head of each page. */
import { computed, nextTick, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { IndexItem, PrintedSheetView, RefusalView, SlipLine } from '@shelve/contract'
import { get, post, said } from '../shell/api.ts'
import { onEvent } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useScan } from '../scan/store.ts'
import { freshLine } from '../ledger/fresh.ts'
import { useSlip } from '../ledger/slip-store.ts'
import { v7 } from '../shell/uuid.ts'
import { useWay } from '../shell/way.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import MomentField from '../ui/MomentField.vue'
import { useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import PaperEnded from '../papers/PaperEnded.vue'
import LotFields from './LotFields.vue'
import ReviewTable from './ReviewTable.vue'
import { sayBooked } from './begin.ts'
import PaperHead from './PaperHead.vue'
import { isCounted, isLeftOut, useEntries } from './entries.ts'
import { usePages } from './pages.ts'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const slip = useSlip()
const session = useSession()
const index = useIndex()
const scan = useScan()
const strip = useStrip()
const route = useRoute()
const router = useRouter()
const way = useWay()
const f = useFormat()
const sheet = ref<PrintedSheetView | null>(null)
const wrong = ref('')
const page = ref(Number(route.query.page) || 0)
const review = ref(false)
const { times, pageOf, begin } = usePages()
const { notCounted } = useEntries()
/** A scan that comes while the sheet is on its way waits for it. */
const opened = (async () => {
  try {
    const s = await get<PrintedSheetView>(`/api/sheets/${props.id}`)
    const { id } = await post<{ id: string }>(`/api/sheets/${props.id}/entry`, { id: v7() })
    await slip.open('count', id)
    if (slip.id !== id) return
    begin(s)
    sheet.value = s
    page.value ||= s.firstPage
    await nextTick()
    focusPage()
  } catch (e) {
    wrong.value = said(e)
  }
})()
onUnmounted(() => void slip.save())
onEvent(slip.heard)

const lines = computed(() => slip.content.lines)
const pages = computed(() =>
  Array.from({ length: sheet.value?.pages ?? 0 }, (_, i) => sheet.value!.firstPage + i)
    .map(n => ({ n, lines: lines.value.filter(l => pageOf.get(l.id) === n) }))
    .map(p => ({ ...p, counted: p.lines.filter(isRead).length })),
)
const shown = computed(() => pages.value.find(p => p.n === page.value)?.lines ?? [])
const lastPage = computed(() => pages.value.at(-1)?.n ?? 0)
const numbers = computed(() => new Map(lines.value.map((l, i) => [l.id, i + 1])))
const counted = computed(() => lines.value.filter(isRead).length)
const expected = computed(() => new Map(sheet.value?.lines.map(l => [l.id, l.expected])))
/** Whether anything of the sheet lies in a bin: else its place is said at the head. */
const bins = computed(() => lines.value.some(l => session.placeName(l.from) !== sheet.value?.placeName))
const places = computed(() => f.placesOf([...expected.value.values()]))
const name = (l: SlipLine) => index.byId.get(l.item ?? '')
const reads = (l: SlipLine) => {
  const it = name(l)
  return it && l.typed.trim() ? readQuantity(l.typed, index.measure(it), undefined, true) : undefined
}
const told = (l: SlipLine) => {
  if (l.counted === 'confirmed') return 'as expected'
  const r = reads(l)
  return r?.ok ? `${f.number(formatDecimal(r.quantity))} ${name(l)!.unit}` : ''
}
/** A figure that cannot be read is none yet; why is said at its line at once. */
const isRead = (l: SlipLine) => isCounted(l) && reads(l)?.ok !== false
const ofTime = (r: RefusalView) => r.field === 'countedAt' || r.field === 'effectiveAt'
const refusals = (l: SlipLine) =>
  slip.lineRefusals(l.id).filter(r => !ofTime(r) && (slip.tried || (r.field === 'typed' && !isRead(l))))
/** What is wrong with the page's time is said beside it, once, as soon as something stands on the page. */
const wrongTime = computed(() => shown.value.flatMap(l => slip.lineRefusals(l.id)).find(ofTime)?.message)
const unread = computed(() => lines.value.filter(l => isCounted(l) && !isRead(l)))

function setTime(at: string | null) {
  times[page.value] = at
  for (const l of shown.value) if (isCounted(l)) l.countedAt = at
}
function put(l: SlipLine, text: string) {
  // `=` is quicker than a click: what stands on the paper is what was expected.
  if (text.trim() === '=' && !sheet.value!.blind) return confirm(l)
  Object.assign(
    l,
    text.trim()
      ? { typed: text, counted: 'counted', countedAt: times[page.value] }
      : { typed: '', counted: 'not', countedAt: null, again: '', note: isLeftOut(l) ? '' : l.note },
  )
}
const confirm = (l: SlipLine) => {
  Object.assign(l, { counted: 'confirmed', typed: '', countedAt: times[page.value], again: '' })
}
function confirmRest() {
  for (const l of shown.value) if (l.counted === 'not') confirm(l)
}
function key(e: KeyboardEvent, i: number) {
  const by = e.key === 'Enter' || e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
  if (!by || e.ctrlKey) return
  e.preventDefault()
  const to = document.querySelector<HTMLInputElement>(`[data-row="${i + by}"]`)
  if (to) {
    to.focus()
    to.select()
  } else if (by > 0) forward()
}
function forward() {
  if (page.value < lastPage.value) turn(page.value + 1)
  else review.value = true
}
function turn(n: number) {
  review.value = false
  page.value = n
  void nextTick(focusPage)
}
function focusPage() {
  document.querySelector<HTMLInputElement>(times[page.value] ? '[data-row="0"]' : '[data-moment] input')?.focus()
}
/** After the day the time, after the time the first line. */
function timed(e: KeyboardEvent) {
  if (e.key !== 'Enter') return
  e.preventDefault()
  const [day, time] = document.querySelectorAll<HTMLInputElement>('[data-moment] input')
  const to =
    e.target === day ? time : times[page.value] ? document.querySelector<HTMLInputElement>('[data-row="0"]') : undefined
  to?.focus()
}
/** Pages of one sheet are counted on one day, as a rule. */
const likely = computed(() => {
  const at = times[page.value - 1]
  const day = at && f.dayOf(new Date(at))
  return day && day !== f.today() ? day : undefined
})
async function add(item: IndexItem) {
  const line = freshLine({
    item: item.id,
    from: shown.value.at(-1)?.from ?? slip.content.place,
    lot: item.identifiedBy === 'quantity' ? null : { id: null, code: '', expiry: null },
  })
  pageOf.set(line.id, page.value)
  slip.content.lines.push(line)
  await nextTick()
  document.querySelector<HTMLInputElement>(`[data-row="${shown.value.length - 1}"]`)?.focus()
}
scan.wants(async m => {
  await opened
  if (!sheet.value) return false
  if (m.sheet?.id === props.id) {
    turn(m.sheet.page)
    return true
  }
  if (m.kind === 'command' && m.command === 'book') {
    if (review.value) void book()
    else review.value = true
    return true
  }
  if (m.kind === 'command' && m.command === 'next') {
    forward()
    return true
  }
  if (!m.item) return false
  const l = lines.value.find(x => x.item === m.item && (!m.lot?.code || x.lot?.code === m.lot.code))
  if (!l) {
    void add(index.byId.get(m.item)!)
    return true
  }
  turn(pageOf.get(l.id)!)
  void nextTick(() => document.querySelector<HTMLInputElement>(`[data-row="${shown.value.indexOf(l)}"]`)?.focus())
  return true
})
/** Pages on which something is counted, but not when. */
const untimed = computed(() => pages.value.filter(p => p.counted && !times[p.n]).map(p => p.n))
/** It was booked or thrown away elsewhere. */
async function leave() {
  slip.goOn([])
  await way.push({ name: 'count' })
}
const missing = computed(() =>
  !counted.value
    ? 'Nothing is counted yet.'
    : untimed.value.length
      ? `When was page ${untimed.value.join(', ')} counted?`
      : unread.value.length
        ? 'Some figures cannot be read: see above.'
        : '',
)
async function book() {
  if (missing.value) return strip.wants(missing.value)
  if (!(await slip.mayBook())) return
  const [lines, { group }] = [counted.value, slip.content.head]
  const { id } = slip
  const booked = await slip.book()
  if (booked) {
    await sayBooked(booked, lines, group, strip, router, f)
    await way.push({ name: 'count' })
  } else if (!way.isHere()) strip.say(slip.leftBehind(id), 'bad')
}
// It is booked, and the answer got lost on its way.
watch(() => slip.wanted, book)
const bookPressed = useGoOn(() => (review.value ? book() : undefined), {
  of: () => props.id,
  opened: () => opened,
})
</script>
<template>
  <NotThere v-if="wrong" :said="wrong" :to="{ name: 'count' }" back="Back to Count" />
  <div v-else-if="sheet" class="paper">
    <PaperHead :sheet="sheet" :pages="pages" :page="page" :review="review" @turn="turn" @review="review = true" />
    <section v-if="!review" class="slip">
      <div class="px-5 pt-4 pb-3 flex flex-wrap gap-x-6 gap-y-3">
        <div data-moment @keydown="timed">
          <span class="label">Counted at, as page {{ page }} says</span
          ><MomentField
            :key="page"
            asked
            :likely="likely"
            :model-value="times[page] ?? null"
            :label="`Page ${page} was counted`"
            @update:model-value="setTime"
          />
        </div>
        <label
          ><span class="label">By</span
          ><input
            v-model="slip.content.taker"
            class="field field-small w-44!"
            placeholder="who counted"
            autocomplete="off"
        /></label>
        <button
          v-if="!sheet.blind && times[page] && shown.some(l => l.counted === 'not')"
          type="button"
          class="btn self-center mt-4"
          @click="confirmRest"
        >
          Take over the rest of this page as expected
        </button>
        <p v-if="!times[page]" class="text-straw self-center mt-5">
          First the time that stands on the page: what moved since is known by it.
        </p>
        <p v-else-if="wrongTime" class="error self-center mt-5" role="alert">{{ wrongTime }}</p>
      </div>
      <div class="overflow-x-auto">
        <table class="list">
          <thead>
            <tr>
              <th class="w-8">Line</th>
              <th>Item</th>
              <th v-if="bins">Place</th>
              <th>Lot</th>
              <th v-if="!sheet.blind" class="text-right!">On paper expected</th>
              <th class="text-right! w-36">Counted</th>
              <th class="w-32">Reads as</th>
              <th v-if="!sheet.blind"><span class="sr-only">Confirm</span></th>
            </tr>
          </thead>
          <tbody>
            <template v-for="(l, i) in shown" :key="l.id"
              ><tr>
                <td class="mono soft">{{ numbers.get(l.id) }}</td>
                <td class="wrap-anywhere min-w-28">
                  {{ name(l)?.name }} <span class="mono soft text-[12px] whitespace-nowrap">{{ name(l)?.code }}</span>
                </td>
                <td v-if="bins" class="soft">{{ session.placeName(l.from).replace(`${sheet.placeName}, `, '') }}</td>
                <td class="mono wrap-anywhere min-w-20">
                  <LotFields v-if="!expected.has(l.id) && l.lot && name(l)" :line="l" :item="name(l)!" /><template
                    v-else
                    >{{ l.lot?.code ?? '' }}</template
                  >
                </td>
                <td v-if="!sheet.blind" class="num soft">{{ f.aligned(expected.get(l.id), places) }}</td>
                <td class="text-right">
                  <input
                    class="field field-small field-num w-32!"
                    :data-row="i"
                    :value="l.counted === 'counted' ? l.typed : ''"
                    :disabled="!times[page]"
                    :aria-invalid="(isCounted(l) && !isRead(l)) || undefined"
                    :placeholder="l.counted === 'confirmed' ? 'as expected' : 'not counted'"
                    :aria-label="`Counted: ${name(l)?.name} ${l.lot?.code ?? ''}`"
                    autocomplete="off"
                    inputmode="decimal"
                    @input="put(l, ($event.target as HTMLInputElement).value)"
                    @keydown="key($event, i)"
                  />
                </td>
                <td class="mono soft">{{ told(l) }}</td>
                <td v-if="!sheet.blind" class="text-right">
                  <button type="button" class="btn btn-small" :disabled="!times[page]" @click="confirm(l)">
                    As expected
                  </button>
                </td>
              </tr>
              <tr v-if="refusals(l).length" class="said">
                <td :colspan="8" class="pt-0! text-right!">
                  <p v-for="r in refusals(l)" :key="r.code" class="error">{{ r.message }}</p>
                </td>
              </tr></template
            >
          </tbody>
        </table>
      </div>
      <div v-if="times[page]" class="px-5 py-3 max-w-md">
        <ItemPicker label="What else was written on this page" elsewhere @pick="add" />
      </div>
    </section>
    <template v-else
      ><p v-if="untimed.length" class="error mb-2" role="alert">
        When was page {{ untimed.join(', ') }} counted?
        <button type="button" class="btn btn-small" @click="turn(untimed[0]!)">Go there</button>
      </p>
      <p v-if="unread.length" class="error mb-2" role="alert">
        {{ unread.length }} figure{{ unread.length === 1 ? '' : 's' }} cannot be read.
        <button type="button" class="btn btn-small" @click="turn(pageOf.get(unread[0]!.id)!)">Go there</button>
      </p>
      <ReviewTable @back="i => turn(pageOf.get(lines[i]!.id) ?? sheet!.firstPage)"
    /></template>
    <footer class="flex flex-wrap gap-3 mt-4 items-center">
      <button
        v-if="review"
        type="button"
        class="btn btn-act"
        v-wants="missing"
        :disabled="slip.booking"
        @click="bookPressed"
      >
        Book {{ counted }} counted line{{ counted === 1 ? '' : 's' }}</button
      ><button v-else type="button" class="btn btn-act" @click="forward">
        {{ page < lastPage ? 'Next page' : `Review ${counted} counted` }}</button
      ><span class="soft text-[13px]"
        >{{ notCounted(unread.length) }} It saves itself.<template v-if="!sheet.blind && !review">
          Typing = takes a line over as expected.</template
        ></span
      >
    </footer>
    <p v-for="r in slip.tried ? slip.headRefusals : []" :key="r.code" class="error mt-2" role="alert">
      {{ r.message }}
    </p>
    <p v-if="slip.trouble" class="error mt-2" role="alert">{{ slip.trouble }}</p>
    <PaperEnded
      :ended="slip.ended"
      what="count"
      @open="void router.push({ name: 'slip', params: { id: slip.id } })"
      @leave="void leave()"
    />
  </div>
</template>
<style scoped>
.paper {
  max-width: 1040px;
  margin: 0 auto;
}
.paper table.list td {
  vertical-align: middle;
}
</style>
