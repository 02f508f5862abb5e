<script setup lang="ts">
/** One line of a booked slip put right: what was true instead, another item, another price, or what the invoice states. */
import { computed, reactive, watch } from 'vue'
import type { IndexItem, SlipContentInput, SlipView } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import DateField from '../ui/DateField.vue'
import ItemPicker from '../ui/ItemPicker.vue'
import { useFormat } from '../ui/format.ts'
import { useTakers } from '../scan/takers.ts'
import { useTrial } from './trial.ts'
import { v7 } from '../shell/uuid.ts'
import ReadingChoices from './ReadingChoices.vue'
import WitnessAsk from './WitnessAsk.vue'

export type Act = 'replace' | 'price' | 'invoiced_as'
const props = defineProps<{ slip: SlipView; line: string; act: Act; why: string }>()
const emit = defineEmits<{ done: []; leave: []; wrong: [message: string] }>()
const session = useSession()
const strip = useStrip()
const index = useIndex()
const f = useFormat()
const lineId = v7()
const was = computed(() => props.slip.content!.lines.find(l => l.id === props.line)!)
const form = reactive({
  item: was.value.item,
  typed: props.act === 'replace' ? was.value.typed : '',
  unit: was.value.unit,
  price: was.value.price,
  /** The amount that the invoice states. */ invoiced: '',
  lot: was.value.lot ? { ...was.value.lot } : null,
})
const { id, effect, look, book } = useTrial(content, m => emit('wrong', m))
const item = computed(() => index.byId.get(form.item ?? ''))
const other = computed(() => form.item !== was.value.item)
const units = computed(() => (item.value ? [item.value.unit, ...item.value.packs.map(p => p.name)] : []))
const hasPrice = computed(() => props.slip.kind === 'receipt' || props.slip.kind === 'opening')
/** A count's line is of the item that was counted; what came back is of what was issued. */
const mayBeAnother = computed(() => props.act === 'replace' && !['count', 'bring_back'].includes(props.slip.kind))
const lotIn = computed(() => other.value && hasPrice.value && item.value && item.value.identifiedBy !== 'quantity')
/** What was written already needs no correction. */
const differs = computed(
  () =>
    other.value ||
    (form.typed.trim() !== was.value.typed.trim() && props.act === 'replace') ||
    form.unit !== was.value.unit ||
    form.invoiced.trim() !== '' ||
    form.price.trim() !== was.value.price.trim(),
)
/** Where an invoice was booked, what stands instead needs to say what it states for that. */
const asksInvoice = computed(
  () =>
    props.act === 'invoiced_as' || !!form.invoiced || !!effect.value?.refusals.some(r => r.code === 'invoice_needed'),
)
function instead(i: IndexItem) {
  form.item = i.id
  form.lot = null
  // It came, or went, in a pack of the same name, or in its own unit.
  if (!i.packs.some(p => p.name === form.unit)) form.unit = null
}
const lot = computed({
  get: () => form.lot?.code ?? '',
  set: code => {
    form.lot = { id: null, code, expiry: form.lot?.expiry ?? null }
  },
})
const expiry = computed({
  get: () => form.lot?.expiry ?? null,
  set: day => {
    form.lot = { id: null, code: form.lot?.code ?? '', expiry: day }
  },
})
const lotScanned = useTakers().lotOn(() => form)
function content(): SlipContentInput {
  const { slip } = props
  return {
    kind: 'correction',
    place: slip.place?.id ?? null,
    taker: slip.taker,
    head: { ...slip.content!.head, charges: [], sheet: null, corrects: slip.id, note: props.why },
    // What was taken from or put down in one bin may lie in another, where it is another item.
    lines: [
      { ...was.value, ...form, ...(other.value ? { from: null } : {}), id: lineId, ref: props.line, act: props.act },
    ],
  }
}
function choose(field: string | null, number: string) {
  if (field === 'typed' || field === 'price' || field === 'invoiced') form[field] = number
}
watch(form, look, { immediate: true, deep: true })
async function bookIt() {
  const r = await book()
  if (!r) return
  strip.say(`Put right by ${r.number}.`)
  emit('done')
}
</script>
<template>
  <form class="flex flex-wrap gap-3 items-end" @submit.prevent="bookIt">
    <div v-if="mayBeAnother" class="w-52">
      <span class="label">{{ other ? `Not ${index.byId.get(was.item!)?.name ?? 'it'}, but` : 'Another item' }}</span>
      <p v-if="other" class="min-h-8 flex items-center gap-2">
        <b class="truncate">{{ item?.name }}</b><button
          type="button"
          class="btn btn-quiet btn-small"
          @click="form.item = was.item"
        >
          Not that
        </button>
      </p>
      <ItemPicker v-else label="Another item" placeholder="if it was another" @pick="instead" />
    </div>
    <label v-if="act === 'replace'" class="w-28"
      ><span class="label">What was true</span><input v-model="form.typed" v-focus class="field field-small field-num"
    /></label>
    <label v-if="act !== 'invoiced_as' && (act === 'replace' || hasPrice)" class="w-28"
      ><span class="label">{{ act === 'price' ? 'priced per' : 'in' }}</span
      ><select v-model="form.unit" class="field field-small">
        <option :value="null">{{ units[0] }}</option>
        <option v-for="u in units.slice(1)" :key="u" :value="u">{{ u }}</option>
      </select></label
    >
    <label v-if="lotIn" class="w-32"
      ><span class="label">Lot</span><input v-model="lot" v-code="lotScanned" class="field field-small mono"
    /></label>
    <div v-if="lotIn && item?.identifiedBy === 'lot_expiry'" class="w-32">
      <span class="label">Use by</span><DateField v-model="expiry" label="Use by" />
    </div>
    <label v-if="act !== 'invoiced_as' && hasPrice && session.seeValue" class="w-28"
      ><span class="label">Price</span
      ><input v-model="form.price" v-focus="act === 'price'" class="field field-small field-num" inputmode="decimal"
    /></label>
    <label v-if="asksInvoice" class="w-44"
      ><span class="label">The invoice states</span
      ><input
        v-model="form.invoiced"
        v-focus="act === 'invoiced_as'"
        class="field field-small field-num"
        inputmode="decimal"
    /></label>
    <button
      class="btn btn-small btn-act"
      v-wants="
        !differs
          ? 'Nothing is changed yet.'
          : effect?.ok
            ? ''
            : (effect?.refusals[0]?.message ?? 'What it would do is being worked out.')
      "
    >
      Book the correction</button
    ><button type="button" class="btn btn-small" @click="emit('leave')">Leave it</button>
    <p v-for="l in effect?.ok ? effect.lines : []" :key="l.line + l.placeName" class="text-[13px]">
      {{ l.placeName }}:
      <span class="mono"
        >{{ f.number(l.before.onHand) }} → <b>{{ f.number(l.after.onHand) }}</b></span
      >
      {{ l.unit
      }}<template v-if="effect?.value">
        · stock <span class="mono">{{ f.amount(effect.value, true) }}</span></template
      >
    </p>
    <template v-for="r in effect?.refusals ?? []" :key="r.code">
      <WitnessAsk
        v-if="r.code === 'witness_wanted'"
        :slip="id"
        :content="content"
        :message="r.message"
        class="basis-full"
        @shown="bookIt"
      />
      <p v-else class="error basis-full flex flex-wrap gap-2 items-center" role="alert">
        <span>{{ r.message }}</span><ReadingChoices :refusal="r" @choose="number => choose(r.field, number)" />
      </p>
    </template>
  </form>
</template>
