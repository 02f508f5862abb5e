<script setup lang="ts">
/** Whoever may ask for things takes them from an open shelf themselves: badge, scan, done. */
import { X } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import type { IndexItem, SlipView } from '@shelve/contract'
import { decimal, ONE, plainly } from '@shelve/core'
import ForWhom, { type Receiver } from '../places/ForWhom.vue'
import { useScan } from '../scan/store.ts'
import { ApiProblem, noAnswer, post, said } from '../shell/api.ts'
import { drawer, ownKey } from '../shell/drawer.ts'
import { useIndex } from '../shell/index-store.ts'
import { usePreference } from '../shell/preferences.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import { useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import { oneMore } from '../ledger/one-more.ts'
import { v7 } from '../shell/uuid.ts'

interface Line {
  id: string
  item: string
  typed: string
  unit: string | null
  lot: { id: string | null; code: string } | null
}
interface Taking {
  id: string
  who: Receiver
  lines: Line[]
}
const session = useSession()
const index = useIndex()
const scan = useScan()
const strip = useStrip()
const way = useWay()
const f = useFormat()
const fresh = (who: Receiver = { job: null, costCentre: null }): Taking => ({ id: v7(), who, lines: [] })
/** What is not booked yet stays on this device, in the drawer of whoever takes it. */
const KEPT = ownKey('taking')
const taking = ref<Taking>(kept() ?? fresh())
function kept(): Taking | null {
  try {
    return JSON.parse(drawer.read(KEPT) ?? 'null') as Taking | null
  } catch {
    return null
  }
}
watch(taking, t => drawer.keep(KEPT, JSON.stringify(t)), { deep: true })
const isReceiver = (x: unknown): x is Receiver => typeof x === 'object' && x !== null && 'job' in x && 'costCentre' in x
/** For whom they took last, on any device. */
const last = usePreference<Receiver>('take-for', { job: null, costCentre: null }, isReceiver)
void last.ready.then(() => {
  const { who } = taking.value
  if (!who.job && !who.costCentre) taking.value.who = { ...last.value.value }
})
const areas = computed(() => session.areas.filter(a => a.openShelf && session.may('take', a.id)))
const chosen = ref(session.placeId)
const area = computed(() => areas.value.find(a => a.id === chosen.value) ?? areas.value[0] ?? null)
const wrong = ref('')
const lineWrong = ref<Record<string, string>>({})
const booking = ref(false)
/** Lines that are being booked: what is scanned meanwhile is no more of them, and is taken next. */
const sent = ref<ReadonlySet<string>>(new Set())
/** What was taken just now: whoever is next shows who they are first. */
const done = ref<{ slip: SlipView; back: string | null } | null>(null)
const name = (l: Line) => index.byId.get(l.item)?.name ?? ''
const unit = (l: Line) => l.unit ?? index.byId.get(l.item)?.unit ?? ''
function add(item: IndexItem, of: { pack?: string | null; quantity?: string | null; lot?: Line['lot'] } = {}) {
  if (done.value) return strip.say(`Scan your badge first. ${session.me?.person.name} took what stands here.`, 'bad')
  const pack = of.pack ?? null
  const step = of.quantity ? decimal(of.quantity) : ONE
  const there = taking.value.lines.find(
    l => l.item === item.id && l.unit === pack && (l.lot?.code ?? '') === (of.lot?.code ?? '') && !sent.value.has(l.id),
  )
  if (there) there.typed = oneMore(there.typed, step)
  else taking.value.lines.push({ id: v7(), item: item.id, typed: plainly(step), unit: pack, lot: of.lot ?? null })
}
/** One less, and nothing of it any more. */
function less(l: Line) {
  const now = /^\d+$/.test(l.typed.trim()) ? Number(l.typed) - 1 : 0
  if (now > 0) l.typed = String(now)
  else taking.value.lines = taking.value.lines.filter(x => x !== l)
}
scan.wants(async m => {
  if (m.kind === 'command') {
    if (m.command === 'book') await book()
    return m.command === 'book'
  }
  if (m.party?.kind === 'job') taking.value.who = { job: m.party.id, costCentre: null }
  else if (m.party?.kind === 'cost_centre') taking.value.who = { job: null, costCentre: m.party.id }
  else if (m.place) chosen.value = session.areaOf(m.place)
  else {
    const item = m.item ? index.byId.get(m.item) : undefined
    if (!item) return false
    add(item, {
      pack: m.pack ?? null,
      quantity: m.quantity ?? null,
      lot: m.lot ? { id: m.lot.id, code: m.lot.code ?? '' } : null,
    })
  }
  return true
})
const missing = computed(() =>
  !area.value
    ? 'No open shelf is within your reach.'
    : !taking.value.lines.length
      ? 'Scan or type what you take.'
      : !taking.value.who.job && !taking.value.who.costCentre
        ? 'Say for whom or what it is.'
        : '',
)
async function book() {
  if (done.value || booking.value) return
  if (missing.value) return strip.wants(missing.value)
  booking.value = true
  wrong.value = ''
  lineWrong.value = {}
  const { id, who } = taking.value
  const lines = [...taking.value.lines]
  sent.value = new Set(lines.map(l => l.id))
  try {
    const slip = await post<SlipView>(`/api/takings/${id}`, { place: area.value!.id, ...who, lines })
    if (!way.isHere()) strip.say(`${slip.number} is booked: what you took from ${area.value!.name}.`)
    else strip.clear()
    done.value = { slip, back: null }
    taking.value = { ...fresh({ ...who }), lines: taking.value.lines.filter(l => !sent.value.has(l.id)) }
    void last.keep({ ...who })
  } catch (e) {
    const fields = e instanceof ApiProblem ? e.problem.fields : []
    for (const x of fields) if (x.line) lineWrong.value[x.line] = x.message
    wrong.value = fields.length && fields.every(x => x.line) ? '' : said(e)
    if (!way.isHere())
      strip.say(noAnswer(e) ? said(e) : 'What you took is not written down yet. It stands under Take.', 'bad')
  } finally {
    booking.value = false
    sent.value = new Set()
  }
}
async function takeBack() {
  const it = done.value!
  try {
    const back = await post<SlipView>(`/api/takings/${it.slip.id}/reversal`, { id: v7() })
    done.value = { ...it, back: back.number }
  } catch (e) {
    wrong.value = said(e)
  }
}
const takePressed = useGoOn(book)
</script>
<template>
  <div class="slip max-w-3xl mx-auto">
    <div class="view-head">
      <div>
        <h1>Take from {{ area?.name ?? 'an open shelf' }}</h1>
        <p class="soft">
          As <b class="text-ink">{{ session.me?.person.name }}</b>. Somebody else scans their badge first.
        </p>
      </div>
      <label v-if="areas.length > 1"
        ><span class="label">From which shelf</span
        ><select v-model="chosen" class="field field-small">
          <option v-for="a in areas" :key="a.id" :value="a.id">{{ a.path }}</option>
        </select></label
      >
    </div>
    <p v-if="!areas.length" class="px-5 pb-5">
      No open shelf is within your reach. <RouterLink class="go" :to="{ name: 'restock' }">Ask for it</RouterLink>
      instead, and its keeper hands it out.
    </p>
    <section v-else-if="done" class="px-5 pb-6" aria-label="Taken">
      <p class="text-[20px] mb-1" role="status">
        <b>{{ done.slip.number }}</b> {{ done.slip.title
        }}{{ done.back ? ` is taken back by ${done.back}: put it where it was.` : ' is booked.' }}
      </p>
      <ul class="mb-4" :class="{ undone: done.back }">
        <li v-for="l in done.slip.lines" :key="l.id" class="py-1 border-b border-hair flex justify-between gap-3">
          <span>{{ l.item?.name }}</span><span class="mono whitespace-nowrap"
            >{{ f.number(l.quantity) }} {{ l.item?.unit }}</span
          >
        </li>
      </ul>
      <p class="soft mb-4">Whoever is next scans their badge.</p>
      <div class="flex flex-wrap gap-3">
        <button type="button" class="btn btn-act" @click="done = null">Take more</button
        ><button v-if="!done.back" type="button" class="btn" @click="takeBack">Take it back</button>
      </div>
    </section>
    <form v-else @submit.prevent="takePressed">
      <div class="px-5 pb-3">
        <span class="label">For</span>
        <ForWhom
          :model-value="taking.who"
          label="For"
          @update:model-value="who => (taking.who = { job: who.job, costCentre: who.costCentre })"
        />
      </div>
      <ul aria-label="What you take">
        <li v-for="l in taking.lines" :key="l.id" class="px-5 py-2 border-t border-hair">
          <div class="flex flex-wrap gap-3 items-center">
            <span class="grow min-w-40 font-medium text-[16px]"
              >{{ name(l) }}<span v-if="l.lot?.code" class="mono soft text-[13px] ml-2">{{ l.lot.code }}</span></span
            >
            <button
              type="button"
              class="btn step"
              :disabled="sent.has(l.id)"
              :aria-label="`One less: ${name(l)}`"
              @click="less(l)"
            >
              −
            </button>
            <input
              v-model="l.typed"
              class="field field-num w-20!"
              :disabled="sent.has(l.id)"
              :aria-label="`How much: ${name(l)}`"
              :aria-invalid="lineWrong[l.id] ? true : undefined"
              inputmode="decimal"
              autocomplete="off"
              @focus="($event.target as HTMLInputElement).select()"
            />
            <button
              type="button"
              class="btn step"
              :disabled="sent.has(l.id)"
              :aria-label="`One more: ${name(l)}`"
              @click="l.typed = oneMore(l.typed, ONE)"
            >
              +
            </button>
            <span class="w-14">{{ unit(l) }}</span><button
              type="button"
              class="btn btn-quiet btn-small px-1!"
              :disabled="sent.has(l.id)"
              :aria-label="`Remove ${name(l)}`"
              @click="taking.lines = taking.lines.filter(x => x !== l)"
            >
              <X :size="16" aria-hidden="true" />
            </button>
          </div>
          <p v-if="lineWrong[l.id]" class="error" role="alert">{{ lineWrong[l.id] }}</p>
        </li>
      </ul>
      <div class="px-5 py-3 border-t border-hair">
        <ItemPicker
          label="Scan or type what you take"
          elsewhere
          @pick="i => add(i)"
          @none="w => void scan.scanned(w)"
        />
      </div>
      <div class="px-5 pb-5">
        <button class="btn btn-act" :disabled="booking" v-wants="missing">
          {{
            taking.lines.length ? `Take ${taking.lines.length} thing${taking.lines.length === 1 ? '' : 's'}` : 'Take it'
          }}
        </button>
        <p v-if="wrong" class="error mt-2" role="alert">{{ wrong }}</p>
      </div>
    </form>
  </div>
</template>
<style scoped>
.step {
  min-width: 48px;
  min-height: 44px;
  font-size: 20px;
}
.undone {
  text-decoration: line-through;
  color: var(--soft);
}
</style>
