<script setup lang="ts">
/** A walk through one area: one line at a time, large, with the item's packs as keys; or all in a grid; then the review. */
import { computed, nextTick, onUnmounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { SlipLine } from '@shelve/contract'
import { onEvent } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { useScan } from '../scan/store.ts'
import { freshLine } from '../ledger/fresh.ts'
import { useSlip } from '../ledger/slip-store.ts'
import AskDialog from '../ui/AskDialog.vue'
import { useGoOn } from '../ui/go-on.ts'
import { useFormat } from '../ui/format.ts'
import NumberPad from '../ui/NumberPad.vue'
import { pressed } from '../ui/pad.ts'
import PaperEnded from '../papers/PaperEnded.vue'
import CountGrid from './CountGrid.vue'
import LotFields from './LotFields.vue'
import ReviewTable from './ReviewTable.vue'
import SheetFoot from './SheetFoot.vue'
import SheetHead from './SheetHead.vue'
import SheetNext from './SheetNext.vue'
import WeighedLine from './WeighedLine.vue'
import { liesIn, sayBooked } from './begin.ts'
import { lotAsked } from './lot-asked.ts'
import { isCounted, type Mode, useEntries } from './entries.ts'

const props = defineProps<{ id: string }>()
const slip = useSlip()
const session = useSession()
const index = useIndex()
const scan = useScan()
const strip = useStrip()
const router = useRouter()
const way = useWay()
const f = useFormat()
const { isMine, isHidden, nameOf, counted, write, rest, confirmRest, leaveOut, waits } = useEntries()
const mode = ref<Mode>('walk')
const at = ref(0)
const typed = ref('')
const wrong = ref('')
const ready = ref(false)
const leaving = ref(false)
/** A scan that comes while the sheet is on its way waits for it. */
const opened = slip.open('count', props.id).then(() => {
  ready.value = true
  if (slip.id !== props.id) {
    void way.replace({ name: 'count' })
    return
  }
  if (slip.content.head.sheet) {
    void way.replace({ name: 'paper', params: { id: slip.content.head.sheet } })
    return
  }
  const i = lines.value.findIndex(waits)
  at.value = i < 0 ? 0 : i
  if (i < 0 && lines.value.length) mode.value = 'review'
  take()
})
onUnmounted(() => void slip.save())
onEvent(slip.heard)

const lines = computed(() => slip.content.lines)
const line = computed(() => lines.value[at.value])
const item = computed(() => (line.value?.item ? index.byId.get(line.value.item) : undefined))
const blind = computed(() => slip.content.head.blind)
const expected = computed(() => slip.effectOf(line.value?.id ?? '')?.expected ?? null)
const placeShort = (l: SlipLine | undefined) =>
  session.placeName(l?.from).replace(`${session.placeName(slip.content.place)}, `, '')
const packs = computed(() =>
  item.value
    ? [
        ...item.value.packs.filter(p => p.counting).map(p => ({ name: p.name, note: `${p.size} ${item.value!.unit}` })),
        { name: item.value.unit, note: '' },
      ]
    : [],
)
function reads(text: string, l = line.value) {
  const it = l?.item ? index.byId.get(l.item) : undefined
  return it ? readQuantity(text, index.measure(it), undefined, true) : undefined
}
const reading = computed(() => {
  const r = typed.value.trim() ? reads(typed.value) : undefined
  return r?.ok ? f.number(formatDecimal(r.quantity)) : ''
})
const minute = () => new Date(Math.floor(session.now().getTime() / 1000) * 1000).toISOString().replace('.000', '')
/** The line that is walked at: it stays where it is when others put lines before it. */
let walked = ''
function take() {
  const l = line.value
  walked = l?.id ?? ''
  typed.value = l?.counted === 'counted' && isMine(l) ? l.typed : ''
  wrong.value = ''
}
watch(at, take)
watch(
  () => lines.value.map(l => l.id),
  ids => {
    const i = ids.indexOf(walked)
    if (i >= 0 && i !== at.value) at.value = i
    else if (i < 0) at.value = Math.min(at.value, Math.max(0, ids.length - 1))
  },
)

function press(key: string) {
  wrong.value = ''
  typed.value = pressed(typed.value, key, item.value?.unit ?? '')
}
function put(how: SlipLine['counted'], text = '') {
  if (line.value) write(line.value, how, text, minute())
}
function next() {
  if (typed.value.trim()) {
    const r = reads(typed.value)
    if (!r?.ok) {
      wrong.value =
        r?.code === 'ambiguous'
          ? `${r.choices[0]} or ${r.choices[1]}? Type it plainly.`
          : `“${typed.value}” cannot be read as a quantity in ${item.value?.unit}.`
      return
    }
    // It is kept whatever is still to be said; the package is in the hand now.
    put('counted', typed.value.trim())
    wrong.value = lotAsked(line.value!, item.value, r.quantity)
    if (wrong.value) return
  }
  on()
}
function weighed(left: string, said: string) {
  const l = line.value!
  typed.value = left
  next()
  if (isMine(l)) l.note = said
}
function on() {
  const later = lines.value.findIndex((l, i) => i > at.value && waits(l))
  const any = later >= 0 ? later : lines.value.findIndex(waits)
  if (any >= 0 && any !== at.value) at.value = any
  else if (any === at.value) {
    if (lines.value.length === 1 || lines.value.every((l, i) => i === at.value || !waits(l))) mode.value = 'review'
  } else mode.value = 'review'
  take()
  focus()
}
const none = () => {
  put('counted', '0')
  on()
}
const confirm = () => {
  put('confirmed')
  on()
}
/** It is not counted this time, on purpose; why can be said in the review. */
const out = () => {
  if (line.value) leaveOut([line.value], line.value.note)
  on()
}
const skip = () => {
  if (line.value && isMine(line.value)) put('not')
  at.value = (at.value + 1) % lines.value.length
  take()
  focus()
}
const focus = () => void nextTick(() => document.getElementById('counted')?.focus({ preventScroll: true }))

/** In the review digits go to the first line that is still to be counted again; *back* clears it. */
function recount(command: string): boolean {
  const l = lines.value.find(x =>
    slip.lineRefusals(x.id).some(r => r.code === 'count_twice' || r.code === 'counts_differ'),
  )
  if (!l) return false
  l.again =
    command === 'back' ? '' : /^\d$/.test(command) ? l.again + command : command === 'point' ? `${l.again}.` : l.again
  return true
}
scan.wants(async m => {
  await opened
  if (slip.id !== props.id) return false
  if (m.kind === 'command') {
    if (m.command === 'book') {
      if (mode.value === 'review') void book()
      else mode.value = 'review'
    } else if (mode.value === 'review') return recount(m.command!)
    else if (m.command === 'next') next()
    else if (m.command === 'none') none()
    else if (m.command === 'confirm' && !blind.value) confirm()
    else if (m.command === 'back') at.value = Math.max(0, at.value - 1)
    else if (m.command) press(m.command === 'point' ? '.' : m.command)
    return true
  }
  if (m.item) {
    mode.value = mode.value === 'review' ? 'walk' : mode.value
    const lot = m.lot?.code
    const same = (l: SlipLine) => l.item === m.item && (!lot || l.lot?.code === lot)
    let i = lines.value.findIndex(l => same(l) && waits(l))
    if (i < 0) i = lines.value.findIndex(same)
    if (i < 0) {
      const from = (await liesIn(m.item, slip.content.place)) ?? line.value?.from ?? slip.content.place
      slip.content.lines.push(
        freshLine({
          item: m.item,
          from,
          lot: m.lot ? { id: m.lot.id, code: m.lot.code, expiry: m.lot.expiry } : null,
        }),
      )
      i = lines.value.length - 1
      strip.say(`${index.byId.get(m.item)?.name ?? 'It'} joins the sheet.`)
    }
    at.value = i
    take()
    focus()
    return true
  }
  if (m.place) {
    const inside = new Set(session.within(m.place).map(p => p.id))
    const i = lines.value.findIndex(l => l.from && inside.has(l.from))
    if (i >= 0) {
      at.value = i
      return true
    }
  }
  return false
})
/** It was booked or thrown away elsewhere. */
async function leave() {
  slip.goOn([])
  await way.push({ name: 'count' })
}
async function book() {
  if (!(await slip.mayBook())) return
  const [n, { group }] = [counted.value, slip.content.head]
  const booked = await slip.book()
  if (booked) {
    await sayBooked(booked, n, group, strip, router, f)
    return way.push({ name: 'count' })
  }
  if (!way.isHere()) return strip.say(slip.leftBehind(props.id), 'bad')
  // What is to be counted once more is said, and the keyboard goes there.
  const far = lines.value.filter(l => slip.lineRefusals(l.id).length).length
  if (!far) return
  mode.value = 'review'
  strip.say(`Not booked yet: ${far} line${far === 1 ? ' wants' : 's want'} another look.`, 'bad')
  await nextTick()
  document.querySelector<HTMLInputElement>('[data-again]')?.focus()
}
function restAsExpected() {
  const n = rest.value.length
  const undo = confirmRest(minute())
  mode.value = 'review'
  strip.say(`${n} line${n === 1 ? '' : 's'} confirmed as expected.`, 'good', [{ label: 'Take that back', run: undo }])
}
// It is booked, and the answer got lost on its way.
watch(() => slip.wanted, book)
const bookPressed = useGoOn(() => mode.value === 'review' && book(), { of: () => props.id, opened: () => opened })
async function throwAway() {
  leaving.value = false
  // Where somebody counted meanwhile, that is shown first.
  if (await slip.discard()) await way.push({ name: 'count' })
}
const past = computed(() =>
  lines.value
    .map((l, i) => ({ l, i }))
    .filter(x => isCounted(x.l))
    .slice(-3),
)
</script>
<template>
  <div v-if="ready" class="sheet">
    <SheetHead v-model="mode" />

    <template v-if="mode === 'walk' && line">
      <p v-if="past.length" class="soft text-[13px] mb-2">
        Before:
        <button v-for="p in past" :key="p.l.id" type="button" class="mr-4 cursor-pointer" @click="at = p.i">
          {{ index.byId.get(p.l.item!)?.name }}
          <b class="text-ink" :class="{ mono: !isHidden(p.l) }">{{
            isHidden(p.l) ? `by ${nameOf(p.l)}` : p.l.counted === 'confirmed' ? 'as expected' : p.l.typed
          }}</b>
        </button>
      </p>
      <section class="slip p-6">
        <p class="mono text-tide text-[15px]">{{ placeShort(line) }}</p>
        <p class="text-[24px] font-bold leading-tight">{{ item?.name }}</p>
        <p class="soft mb-4">
          <span class="mono">{{ item?.code }}</span><template v-if="line.lot?.id">
            · lot <b class="mono text-ink">{{ line.lot.code }}</b><template v-if="line.lot.expiry"
              >, use by {{ f.date(line.lot.expiry) }}</template
            ></template
          ><template v-for="p in item?.packs" :key="p.name"> · {{ p.name }} of {{ p.size }}</template
          ><template v-if="!blind && expected !== null">
            · <b class="text-ink">expected {{ f.number(expected) }}</b></template
          >
        </p>
        <LotFields
          v-if="!line.lot?.id && item && item.identifiedBy !== 'quantity'"
          :key="line.id"
          :line="line"
          :item="item"
          class="mb-4"
        />
        <p v-if="line.counted === 'left_out'" class="mb-2 text-straw" role="status">
          Left out on purpose<template v-if="line.note">: {{ line.note }}</template
          >. Typing a figure counts it after all.
        </p>
        <p v-if="isCounted(line) && !isMine(line)" class="mb-2" role="status">
          <b>{{ nameOf(line) }}</b> counted it<template v-if="!isHidden(line)"
            >: <b class="mono">{{ line.counted === 'confirmed' ? 'as expected' : line.typed }}</b></template
          >. What you type stands beside it.
        </p>
        <div class="typed">
          <input
            id="counted"
            v-model="typed"
            class="mono"
            :aria-label="`How many: ${item?.name}`"
            :aria-invalid="!!wrong"
            autocomplete="off"
            inputmode="none"
            v-focus
            @keydown.enter.prevent="next"
          /><span class="soft text-[20px] whitespace-nowrap"
            ><template v-if="reading"
              >= <b class="mono text-ink">{{ reading }}</b>&nbsp;</template
            >{{ item?.unit }}</span
          >
        </div>
        <p v-if="wrong" class="error mt-1" role="alert">{{ wrong }}</p>
        <WeighedLine :line="line" @weighed="weighed" />
        <NumberPad class="mt-3.5" :packs="packs" @press="press"
          ><button type="button" class="key" @click="scan.after('“None here”', none)">None here</button
          ><button v-if="!blind" type="button" class="key" @click="scan.after('“As expected”', confirm)">
            As expected</button
          ><button type="button" class="key" @click="scan.after('“Skip for now”', skip)">Skip for now</button
          ><button v-if="!isCounted(line)" type="button" class="key" @click="scan.after('“Leave it out”', out)">
            Leave it out
          </button></NumberPad
        >
        <button
          type="button"
          class="btn btn-act w-full mt-3 text-[17px] min-h-14!"
          @click="scan.after('“Next line”', next)"
        >
          Next line
        </button>
      </section>
      <SheetNext :at="at" :brief="placeShort" @go="i => (at = i)" />
      <p class="soft mt-3">Something else lies here: scan it, and it joins the sheet.</p>
    </template>

    <CountGrid v-else-if="mode === 'grid'" :brief="placeShort" :reads="reads" :minute="minute" />
    <ReviewTable
      v-else-if="mode === 'review'"
      @back="
        i => {
          at = i
          mode = 'walk'
        }
      "
    />
    <p v-if="!lines.length" class="soft">Nothing should lie here. Scan what does, and it joins the sheet.</p>
    <SheetFoot v-model="mode" @book="bookPressed" @rest="restAsExpected" @leave="leaving = true" />
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
    <AskDialog :open="leaving" title="Throw this sheet away?" @close="leaving = false"
      ><p>{{ counted }} counted line{{ counted === 1 ? '' : 's' }} will be gone. The stock stays as it is.</p>
      <div class="flex gap-3 mt-4">
        <button type="button" class="btn btn-danger" @click="throwAway">Throw it away</button
        ><button type="button" class="btn" @click="leaving = false">Keep it</button>
      </div></AskDialog
    >
  </div>
</template>
<style scoped>
.sheet {
  max-width: 920px;
  margin: 0 auto;
}
.typed {
  display: flex;
  align-items: center;
  gap: 16px;
  border: 2px solid var(--kelp);
  border-radius: 6px;
  padding: 10px 18px;
}
.typed input {
  flex: 1;
  min-width: 0;
  font-size: 30px;
  background: none;
  outline: none;
}
.typed:focus-within {
  outline: 2px solid var(--kelp);
  outline-offset: 2px;
}
</style>
