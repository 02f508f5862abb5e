<script setup lang="ts">
/** All lines of a booked slip in one table: the prices of a delivery put right, what of an issue comes back (or was wasted), or is charged to somebody else. One slip is booked. */
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { decimal, forOne, formatDecimal, plainly, readQuantity } from '@shelve/core'
import type { CodeMeaning, SlipContentInput, SlipView } from '@shelve/contract'
import ForWhom, { type Receiver } from '../places/ForWhom.vue'
import { useReasons } from '../waste/reasons.ts'
import { useIndex } from '../shell/index-store.ts'
import { useStrip } from '../shell/strip.ts'
import { useFormat } from '../ui/format.ts'
import { ofCost } from './cost-said.ts'
import { oneMore } from './one-more.ts'
import ReadingChoices from './ReadingChoices.vue'
import { useTrial } from './trial.ts'
import { v7 } from '../shell/uuid.ts'

const props = defineProps<{ slip: SlipView; what: 'prices' | 'back' | 'charge' }>()
const emit = defineEmits<{ done: []; leave: []; wrong: [message: string] }>()
const index = useIndex()
const strip = useStrip()
const f = useFormat()
const ids = new Map<string, string>()
/** The line that each will be: the same at a second try. */
function idOf(line: string): string {
  if (!ids.has(line)) ids.set(line, v7())
  return ids.get(line)!
}
/** Lines that stand, as they were written. */
const lines = computed(() =>
  props.slip.lines.flatMap(l => {
    const was = props.slip.content?.lines.find(x => x.id === l.id)
    const item = index.byId.get(l.item?.id ?? '')
    const stands = l.state === 'stands' || l.state === 'part_taken_back'
    return was && item && stands && !ofCost(l.act) ? [{ id: l.id, was, item, new: idOf(l.id), said: l }] : []
  }),
)
const typed = ref(
  new Map(
    lines.value.map(l => [
      l.id,
      { price: props.what === 'prices' ? l.was.price : '', unit: l.was.unit, reason: null as string | null },
    ]),
  ),
)
const changed = computed(() =>
  lines.value.filter(l => {
    const t = typed.value.get(l.id)!
    return props.what === 'prices'
      ? t.price.trim() !== '' && (t.price.trim() !== l.was.price.trim() || t.unit !== l.was.unit)
      : t.price.trim() !== ''
  }),
)
/** Whom it is charged to instead. */
const whom = ref<Receiver>({ job: null, costCentre: null })
const reasons = useReasons()
if (props.what === 'back') void reasons.need()
/** All that was handed out. */
function all() {
  for (const l of lines.value) Object.assign(typed.value.get(l.id)!, { price: l.was.typed, unit: l.was.unit })
}
function content(): SlipContentInput {
  const { slip } = props
  const base = { place: slip.place?.id ?? null, taker: slip.taker }
  if (props.what === 'back')
    return {
      ...base,
      kind: 'bring_back',
      head: { job: slip.content!.head.job, costCentre: slip.content!.head.costCentre },
      lines: changed.value.map(l => {
        const t = typed.value.get(l.id)!
        return { id: l.new, item: l.item.id, ref: l.id, typed: t.price, unit: t.unit, reason: t.reason }
      }),
    }
  if (props.what === 'charge')
    return {
      ...base,
      kind: 'recharge',
      head: { ...whom.value },
      lines: changed.value.map(l => {
        const t = typed.value.get(l.id)!
        return { id: l.new, item: l.item.id, ref: l.id, typed: t.price, unit: t.unit }
      }),
    }
  return {
    ...base,
    kind: 'correction',
    head: { ...slip.content!.head, charges: [], sheet: null, corrects: slip.id },
    lines: changed.value.map(l => {
      const t = typed.value.get(l.id)!
      return { ...l.was, id: l.new, ref: l.id, act: 'price', typed: '', price: t.price, unit: t.unit }
    }),
  }
}
const { effect, look, forget, book } = useTrial(content, m => emit('wrong', m))
watch(
  [typed, whom],
  () => {
    forget()
    if (changed.value.length) void look()
  },
  { deep: true },
)
const busy = ref(false)
async function bookIt() {
  if (!changed.value.length || busy.value) return
  busy.value = true
  const r = await book()
  busy.value = false
  if (!r) return
  strip.say(
    props.what === 'prices'
      ? `Put right by ${r.number}.`
      : `${r.number} is booked: ${props.what === 'back' ? 'brought back' : `charged ${r.title}`}.`,
  )
  emit('done')
}
const refused = (line: string) => effect.value?.refusals.filter(r => r.line === line) ?? []
/** What a number means in the item's own unit, where that is not what stands there. */
function meant(l: (typeof lines.value)[number]): string {
  const t = typed.value.get(l.id)!
  if (props.what === 'prices' || !t.price.trim()) return ''
  const r = readQuantity(t.price, index.measure(l.item), t.unit ?? undefined, true)
  return r.ok && (t.unit ?? l.item.unit) !== l.item.unit
    ? `= ${f.number(formatDecimal(r.quantity))} ${l.item.unit}`
    : ''
}
const root = ref<HTMLElement | null>(null)
const boxes = () => [...(root.value?.querySelectorAll<HTMLInputElement>('[data-at-once]') ?? [])]
function key(e: KeyboardEvent) {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
    e.preventDefault()
    return void bookIt()
  }
  const by = e.key === 'Enter' || e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
  if (!by) return
  e.preventDefault()
  const all = boxes()
  const next = all[all.indexOf(e.target as HTMLInputElement) + by]
  if (next) next.focus()
  else if (e.key === 'Enter') root.value?.querySelector<HTMLButtonElement>('.btn-act')?.focus()
}
onMounted(() => nextTick(() => (root.value?.querySelector<HTMLElement>('[role="combobox"]') ?? boxes()[0])?.focus()))
/** The line whose number is being scanned digit by digit. */
let digits: string | null = null
function at(line: string) {
  digits = null
  boxes()[lines.value.findIndex(l => l.id === line)]?.focus()
}
/** What is scanned is in the hand: one more of it comes back, of the line that it went out on. Whether such a line stands here. */
function scanned(m: CodeMeaning): boolean {
  const of = lines.value.filter(l => l.item.id === m.item)
  const line = of.find(l => m.lot?.code && l.was.lot?.code === m.lot.code) ?? of[0]
  if (!line) return false
  const t = typed.value.get(line.id)!
  const step = decimal(m.quantity ?? '1')
  if (!t.price.trim()) {
    t.unit = m.pack
    t.price = plainly(step)
  } else
    t.price = t.unit === m.pack ? oneMore(t.price, step) : `${t.price} + ${plainly(step)} ${m.pack ?? line.item.unit}`
  at(line.id)
  return true
}
/** A printed command: a digit for the line that was scanned, or booking. */
function command(c: string): boolean {
  if (c === 'book') {
    void bookIt()
    return true
  }
  const digit = c === 'point' ? '.' : /^\d$/.test(c) ? c : undefined
  const now = lines.value[boxes().indexOf(document.activeElement as HTMLInputElement)]
  if (digit === undefined || !now) return false
  const t = typed.value.get(now.id)!
  t.price = digits === now.id ? t.price + digit : digit
  digits = now.id
  return true
}
defineExpose({ scanned, command })
const HEADS = {
  prices: 'What it was priced at',
  back: 'What of it comes back',
  charge: 'What of it is charged to somebody else',
}
const NAMES = { prices: 'Price of', back: 'Brought back:', charge: 'Charged elsewhere:' }
/** What the button does: to so many lines, or (none) to nothing yet. */
const books = (n: number): string =>
  ({
    prices: n ? `Put right ${many(n)}` : 'Put the prices right',
    back: n ? `Book ${many(n)} back` : 'Book it back',
    charge: n ? `Charge ${many(n)} elsewhere` : 'Charge it elsewhere',
  })[props.what]
const many = (n: number) => `${n} line${n === 1 ? '' : 's'}`
</script>
<template>
  <form ref="root" class="bg-frost border-y border-hair px-6 py-4" @submit.prevent="bookIt">
    <h2 class="mb-2">{{ HEADS[what] }}</h2>
    <div v-if="what === 'charge'" class="flex flex-wrap gap-3 items-end mb-3">
      <label class="min-w-64"
        ><span class="label">To whom instead</span
        ><ForWhom
          v-model="whom"
          label="To whom instead"
          :invalid="effect?.refusals.some(r => r.line === null) ?? false"
          @done="boxes()[0]?.focus()" /></label
      ><button type="button" class="btn btn-small" @click="all">All of it</button>
    </div>
    <div class="overflow-x-auto">
      <table class="at-once">
        <tbody>
          <tr v-for="l in lines" :key="l.id">
            <td class="wrap-anywhere min-w-28">
              {{ l.item.name }} <span class="mono soft text-[12px]">{{ l.item.code }}</span>
            </td>
            <td class="mono soft text-right wrap-anywhere min-w-20">
              {{ l.said.typed }} {{ l.said.unit ?? l.item.unit }}
            </td>
            <td class="whitespace-nowrap">
              <input
                v-model="typed.get(l.id)!.price"
                data-at-once
                class="field field-small field-num w-24!"
                inputmode="decimal"
                autocomplete="off"
                :aria-label="`${NAMES[what]} ${l.item.name}`"
                :aria-invalid="refused(l.new).length > 0 || undefined"
                @focus="($event.target as HTMLInputElement).select()"
                @keydown="key"
              />
              <select
                v-model="typed.get(l.id)!.unit"
                class="field field-small w-24! ml-2"
                :aria-label="what === 'prices' ? `Priced per: ${l.item.name}` : `Unit of ${l.item.name}`"
              >
                <option :value="null">{{ what === 'prices' ? forOne(l.item.unit) : l.item.unit }}</option>
                <option v-for="p in l.item.packs" :key="p.name" :value="p.name">
                  {{ what === 'prices' ? forOne(p.name) : p.name }}
                </option>
              </select>
              <select
                v-if="what === 'back' && typed.get(l.id)!.price.trim()"
                v-model="typed.get(l.id)!.reason"
                class="field field-small w-40! ml-2"
                :aria-label="`Where it goes: ${l.item.name}`"
              >
                <option :value="null">back on its shelf</option>
                <option v-for="r in reasons.active" :key="r.id" :value="r.id">wasted: {{ r.name }}</option>
              </select>
              <span class="soft mono text-[12px] ml-2">{{ meant(l) }}</span>
              <span
                v-for="r in refused(l.new)"
                :key="r.code"
                class="error flex flex-wrap gap-2 items-center"
                role="alert"
                ><span>{{ r.message }}</span
                ><ReadingChoices :refusal="r" @choose="number => (typed.get(l.id)!.price = number)"
              /></span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="r in effect?.refusals.filter(x => x.line === null) ?? []" :key="r.code" class="error" role="alert">
      {{ r.message }}
    </p>
    <div class="flex gap-3 mt-3 items-center">
      <button
        class="btn btn-act"
        v-wants="
          !changed.length ? 'Nothing is changed yet.' : effect?.ok === false ? (effect.refusals[0]?.message ?? '') : ''
        "
        :disabled="busy"
      >
        {{ books(changed.length) }}</button><button type="button" class="btn" @click="emit('leave')">Leave it</button
      ><span v-if="effect?.ok && effect.value" class="text-[13px]"
        >stock <span class="mono">{{ f.amount(effect.value, true) }}</span></span
      >
    </div>
  </form>
</template>
<style scoped>
.at-once td {
  padding: 3px 14px 3px 0;
}
</style>
