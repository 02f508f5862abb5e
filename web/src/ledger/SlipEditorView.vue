<script setup lang="ts">
/** Paper on the left, shelf on the right: writes one slip of any kind that moves stock. */
import { computed, nextTick, onUnmounted, ref, toRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type BookedSlip, OFTEN_KINDS, type Place, saidOf, type SlipKind } from '@shelve/contract'
import { said } from '../shell/api.ts'
import { onEvent } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { newest } from '../shell/asked-once.ts'
import { useStrip } from '../shell/strip.ts'
import ReckonAnew from '../jobs/ReckonAnew.vue'
import MoveHead from '../moving/MoveHead.vue'
import MoveTabs from '../moving/MoveTabs.vue'
import PaperEnded from '../papers/PaperEnded.vue'
import { useScan } from '../scan/store.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import { useGoOn } from '../ui/go-on.ts'
import AskDialog from '../ui/AskDialog.vue'
import NumberPad from '../ui/NumberPad.vue'
import { useFormat } from '../ui/format.ts'
import { useReasons } from '../waste/reasons.ts'
import WhyFirst from '../waste/WhyFirst.vue'
import DifferingHead from './DifferingHead.vue'
import EffectPanel from './EffectPanel.vue'
import JustBooked from './JustBooked.vue'
import KindSwap from './KindSwap.vue'
import LyingSlips from './LyingSlips.vue'
import OftenWritten from './OftenWritten.vue'
import SlipHeadFields from './SlipHeadFields.vue'
import SlipLines from './SlipLines.vue'
import SlipTotals from './SlipTotals.vue'
import WitnessAsk from './WitnessAsk.vue'
import { takeSlipBack } from './book-slip.ts'
import { useEachScan } from './each-scan.ts'
import { drawnWith, firstLook } from './first-look.ts'
import { KINDS } from './kinds.ts'
import { useLines } from './lines.ts'
import { takesKeys, toFirst, toFirstLine, toGoal, toItemBox } from './on-paper.ts'
import { usePadLine } from './pad-line.ts'
import { useScanned } from './scanned.ts'
import { useSlip } from './slip-store.ts'
import { v7 } from '../shell/uuid.ts'
import { asks } from '../shell/under-way.ts'
import { useWay } from '../shell/way.ts'

const props = defineProps<{ kind: SlipKind; id?: string }>()
// Begun somewhere for one thing (`?back=`), it leads back there once it is booked.
const slip = useSlip()
const index = useIndex()
const session = useSession()
const scan = useScan()
const strip = useStrip()
const reasons = useReasons()
const route = useRoute()
const router = useRouter()
const way = useWay()
const f = useFormat()
const kind = computed(() => KINDS[props.kind]!)
const coarse = matchMedia('(pointer: coarse)').matches
const ready = ref(false)
/** The first slip here stands whole: until then nothing is drawn that its head would push away. */
const begun = ref(false)
const discarding = ref(false)
/** On a tablet what lies about stands below what is often written: it comes after that. */
const oftenCame = ref(false)
/** Whether what is often written is offered on such a slip. */
const offers = computed(() => (OFTEN_KINDS as readonly SlipKind[]).includes(props.kind))
const lines = useLines(toRef(props, 'kind'))
const { addItem, step } = lines

const ask = newest()
async function open() {
  ready.value = false
  const mine = ask()
  await slip.open(props.kind, props.id)
  // Another slip is being opened here by now.
  if (!mine()) return
  // What is picked has a page of its own.
  if (slip.content.head.pick) return void way.replace({ name: 'pick', params: { id: slip.id } })
  // Of many reasons there are more rows on a small screen.
  if (props.kind === 'waste') await drawnWith(reasons.need())
  if (slip.content.lines.length) await firstLook(() => slip.looks)
  ready.value = begun.value = true
  if (way.isHere()) await begin()
}
/** The keyboard is where writing begins: whom it is for or from, else the box for items. Fingers choose for themselves. */
async function begin() {
  if (coarse) return
  await nextTick()
  const now = document.activeElement
  if (asks() || takesKeys(now) || (now instanceof HTMLInputElement && now.value)) return
  // What is made or awaited is looked at first: how much of it came.
  if ((kind.value.out || slip.content.lines.some(l => l.asked)) && slip.content.lines.length) toFirstLine()
  else if (slip.content.lines.length) toItemBox()
  else toFirst()
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
const each = useEachScan(toRef(props, 'kind'), addItem, book)
useScanned(toRef(props, 'kind'), { opened: () => opening, addItem: each.scanned, book })
onEvent(slip.heard)
/** It was booked or thrown away elsewhere. */
async function goOn(lines: readonly string[]) {
  slip.goOn(lines)
  if (props.id) await way.replace({ name: props.kind === 'receipt' ? 'receive' : props.kind })
}

async function book() {
  if (missing.value) return strip.wants(missing.value)
  if (!(await slip.mayBook())) return
  const { id } = slip
  const { sent } = slip.content.head
  const booked = await slip.book()
  if (!booked && (slip.id !== id || !way.isHere())) return strip.say(slip.leftBehind(id), 'bad')
  if (!booked) {
    // What was said of the slip before is no answer to this one.
    strip.clear()
    void nextTick(() => document.querySelector<HTMLElement>('[role="alert"]')?.scrollIntoView({ block: 'center' }))
    return
  }
  const n = booked.lines
  strip.say(
    `${booked.number} is booked: ${n} line${n === 1 ? '' : 's'}${/^(from|to) /.test(booked.title) ? ' ' : ': '}${booked.title}.`,
    'good',
    [
      { label: 'Take it back', run: () => void takeBack(booked) },
      ...(props.kind === 'receipt' || kind.value.opens
        ? [{ label: 'Print labels', run: () => void router.push({ name: 'labels', query: { slip: booked.id } }) }]
        : []),
      { label: 'Open it', run: () => void router.push({ name: 'slip', params: { id: booked.id } }) },
    ],
  )
  // Whoever went on to something else meanwhile keeps what stands there.
  if (slip.id !== id) return
  const { content } = slip
  slip.fresh(props.kind)
  if (each.on.value) return each.goesOn(content, slip.handedIn().lines, booked)
  if (!way.isHere()) return
  if (sent) return way.push({ name: 'transfer', params: { id: sent } })
  // Whoever was sent here to do this one thing is where they were before.
  if (typeof route.query.back === 'string') return way.push(route.query.back)
  if (!coarse) void nextTick(toFirst)
  if (props.id) await way.replace({ name: props.kind === 'receipt' ? 'receive' : props.kind })
}
// It is booked, and the answer got lost on its way.
watch(() => slip.wanted, book)
async function takeBack(booked: BookedSlip) {
  try {
    const r = await takeSlipBack(booked.id, { id: v7() })
    strip.say(`${booked.number} is taken back by ${r.number}.`)
    each.takenBack(booked.id, r.number)
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
const bookPressed = useGoOn(book, {
  of: () => `${props.kind} ${props.id}`,
  opened: () => opening,
})
onUnmounted(() => void slip.save())

const { line: padLine, item: padItem, packs: padPacks, press } = usePadLine()
/** The places of the slip's area: one list for all lines, so that a line is drawn anew only where it changed. */
const binsHere = computed<Place[]>(() => (slip.content.place ? session.within(slip.content.place) : []))
const count = computed(() => slip.content.lines.length)
/** Of what is awaited a line says nothing until somebody says how much of it came. */
const saying = computed(() => slip.content.lines.filter(l => !l.asked || l.typed.trim()).length)
/** What stands on it already is drawn with its head and the names of its items: what is below would move away otherwise. */
const shown = computed(() => begun.value && ((ready.value && index.there) || !slip.content.lines.length))
const missing = computed(() =>
  saying.value
    ? ''
    : count.value
      ? 'Say first how much of it has come.'
      : 'Nothing stands on this slip yet: scan or type what it is about.',
)
const actLabel = computed(() => (saying.value ? `Book ${saying.value} line${saying.value === 1 ? '' : 's'}` : 'Book'))
</script>
<template>
  <div class="two">
    <form class="slip paper" @submit.prevent>
      <div class="px-5 pt-4 pb-2">
        <div class="flex justify-between gap-4 items-start">
          <div class="min-w-0">
            <h1>
              {{ kind.out?.title ?? kind.title
              }}<template v-if="props.kind === 'receipt' && slip.content.head.supplier">
                from {{ slip.content.head.supplier }}</template
              >
            </h1>
            <KindSwap :kind="props.kind" />
            <div v-if="props.kind === 'waste'" class="text-[13px] mt-1">
              <RouterLink class="go" :to="{ name: 'expiring' }">What runs out of date</RouterLink>
            </div>
          </div>
          <p class="soft text-[13px] text-right shrink-0">
            draft, numbered when booked<template v-if="slip.savedAt"
              ><br />saved {{ f.when(slip.savedAt).replace('today ', '') }}</template
            ><template v-if="slip.company.length"
              ><br /><b class="text-ink">{{ slip.company.join(', ') }}</b> writes on it too</template
            >
          </p>
        </div>
        <WhyFirst v-if="props.kind === 'waste' && ready && !count" />
        <label v-if="props.kind === 'issue'" class="flex gap-2 items-center text-[13px] mt-1"
          ><input v-model="each.on.value" type="checkbox" /> Book each scan at once</label
        >
        <MoveTabs v-if="['move', 'dispatch', 'relabel'].includes(props.kind)" small />
        <MoveHead v-if="props.kind === 'move' && ready" />
        <p v-if="props.kind === 'make' && slip.content.head.corrects" class="notice mt-2">
          Once it is booked, this stands in the place of the make that it puts right: it happened when that one did,
          unless you say another time.
        </p>
        <DifferingHead class="mt-3" />
        <SlipHeadFields v-if="ready" :kind="props.kind" class="mt-3" @done="toItemBox" />
        <p v-if="!slip.content.place" class="notice mt-3">
          You are working in all places. Choose one at the top left, so that it is known which shelf this is about.
        </p>
        <p v-else-if="slip.content.place !== session.placeId" class="notice mt-3">
          This slip is about {{ session.placeName(slip.content.place) }}.
        </p>
      </div>
      <div v-if="shown" class="lines">
        <template v-if="kind.out">
          <SlipLines
            v-if="lines.of('out').length"
            :kind="props.kind"
            :way="kind.out"
            :title="kind.out.title"
            :lines="lines.of('out')"
            :bins="binsHere"
            :does="lines"
          />
          <div class="px-5 pt-3 pb-4">
            <ItemPicker :label="kind.out.hint" elsewhere @pick="i => lines.addItem(i, null, undefined, 'out')" />
          </div>
          <ReckonAnew v-if="props.kind === 'make'" />
          <h2 class="px-5 pt-2">{{ kind.title }}</h2>
        </template>
        <SlipLines
          v-if="lines.of('in').length"
          :kind="props.kind"
          :way="kind"
          :title="kind.title"
          :lines="lines.of('in')"
          :bins="binsHere"
          :does="lines"
        />
        <div v-if="coarse && padItem && padLine" class="px-5 pt-4">
          <p class="soft text-[13px] mb-2">
            {{ kind.what }}: <b class="text-ink">{{ padItem.name }}</b> <b class="mono text-ink">{{ padLine.typed }}</b>
          </p>
          <NumberPad :packs="padPacks" @press="press"
            ><button type="button" class="key" @click="padLine.typed = ''">Clear</button
            ><button type="button" class="key" @click="step(padLine.id, 1)">Next line</button></NumberPad
          >
        </div>
        <div data-add class="px-5 py-3">
          <ItemPicker
            :label="kind.hint"
            elsewhere
            @enough="toGoal"
            @pick="i => addItem(i)"
            @none="w => void scan.scanned(w)"
          />
          <OftenWritten
            v-if="offers"
            :kind="props.kind"
            @pick="(i, unit) => addItem(i, unit)"
            @came="oftenCame = true"
          />
        </div>
      </div>
      <footer v-if="shown" class="foot stays">
        <div class="flex gap-3 flex-wrap">
          <button type="button" class="btn btn-act" v-wants="missing" :disabled="slip.booking" @click="bookPressed">
            {{ actLabel }}
          </button>
          <button v-if="!slip.empty" type="button" class="btn" @click="discarding = true">Drop this draft</button>
        </div>
        <SlipTotals :kind="props.kind" />
      </footer>
      <template v-for="r in slip.tried ? slip.headRefusals : []" :key="r.code">
        <WitnessAsk
          v-if="r.code === 'witness_wanted'"
          :slip="slip.id"
          :content="() => saidOf(slip.content)"
          :message="r.message"
          class="mx-5 mb-4"
          @shown="book"
        />
        <p v-else class="error px-5 pb-3" role="alert">{{ r.message }}</p>
      </template>
      <p v-if="slip.trouble" class="error px-5 pb-3" role="alert">{{ slip.trouble }}</p>
    </form>
    <section class="shelf" aria-label="What the shelf will look like">
      <EffectPanel v-if="count && shown" :kind="props.kind" />
      <JustBooked v-if="each.booked.value.length" :booked="each.booked.value" class="mb-6" @back="takeBack" />
      <LyingSlips
        v-if="!count && (oftenCame || !offers || (ready && !slip.content.place))"
        :key="props.kind"
        :kind="props.kind"
      />
    </section>
    <AskDialog :open="discarding" title="Drop this draft?" @close="discarding = false">
      <p>
        {{ count === 1 ? 'Its line is' : `Its ${count} lines are` }} not booked and will be gone. Nothing on the shelf
        changes.
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
          Drop it</button
        ><button type="button" class="btn" @click="discarding = false">Keep it</button>
      </div>
    </AskDialog>
    <PaperEnded
      :ended="slip.ended"
      what="slip"
      @open="void router.push({ name: 'slip', params: { id: slip.id } })"
      @leave="goOn([])"
      @go-on="goOn"
    />
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
  /* The line that is written stands out by as much on either side. */
  padding: 10px 8px;
  margin: 0 -6px;
}
/* Beside the shelf the lines have no room on a tablet. */
@media (max-width: 1279px) {
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
}
/* Above the bar of works that is there only then. */
@media (max-width: 1023px) {
  .foot {
    bottom: 68px;
  }
}
@media print {
  .paper {
    min-height: 0;
  }
}
</style>
