<script setup lang="ts">
/** One line of a slip: everything on it can be corrected at any time; choosing another unit keeps the typed number. */
import { NotebookPen, X } from '@lucide/vue'
import { computed, ref } from 'vue'
import { formatDecimal, leastOf, readQuantity } from '@shelve/core'
import type { Place, RefusalView, SlipKind, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useTakers } from '../scan/takers.ts'
import OwnCell from '../issuing/OwnCell.vue'
import OpenedCell from '../moving/OpenedCell.vue'
import { useReasons } from '../waste/reasons.ts'
import DateField from '../ui/DateField.vue'
import PictureRow from '../ui/PictureRow.vue'
import { useFormat } from '../ui/format.ts'
import DifferingLine from './DifferingLine.vue'
import IntoCell from './IntoCell.vue'
import LineRefusals from './LineRefusals.vue'
import LotOutCell from './LotOutCell.vue'
import PriceCell from './PriceCell.vue'
import SpoiltLine from './SpoiltLine.vue'
import { wayOf } from './kind.ts'
import { KINDS } from './kinds.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{
  line: SlipLine
  kind: SlipKind
  bins: Place[]
  focused: boolean
  /** Another lot of the line above. */ follows?: boolean
  /** What all its lots come to. */ together?: string | undefined
  /** A lot of it stands below too. */ more?: boolean
  /** Several things share what it cost. */ shares?: boolean
  /** It says itself for whom it is. */ own?: boolean
}>()
const emit = defineEmits<{ down: []; up: []; another: [] }>()
const slip = useSlip()
const index = useIndex()
const session = useSession()
const f = useFormat()
const kind = computed(() => wayOf(KINDS[props.kind]!, props.line))
const item = computed(() => (props.line.item ? index.byId.get(props.line.item) : undefined))
const effect = computed(() => slip.effectOf(props.line.id))
const touched = ref(!!props.line.typed)
/** Something to say at this line: at once where a field was filled in, on booking where it is only missing. */
const said = computed<RefusalView[]>(() =>
  slip.lineRefusals(props.line.id).filter(r => slip.tried || (touched.value && !/_needed$|_empty$/.test(r.code))),
)
const wrong = (field: string) => said.value.some(r => r.field === field)
const units = computed(() => (item.value ? [item.value.unit, ...item.value.packs.map(p => p.name)] : []))
/** The reading in base units, at once and without the network. */
const reading = computed(() => {
  if (!item.value || !props.line.typed.trim()) return ''
  const r = readQuantity(props.line.typed, index.measure(item.value), props.line.unit ?? undefined, true)
  return r.ok ? `${f.number(formatDecimal(r.quantity))} ${item.value.unit}` : ''
})
const plain = computed(
  () => /^\d+([.,]\d+)?$/.test(props.line.typed.trim()) && (props.line.unit ?? item.value?.unit) === item.value?.unit,
)
const why = useReasons()
if (kind.value.reason) void why.need()
const reasons = computed(() => why.all.filter(x => x.active || x.id === props.line.reason))

const noting = ref(props.line.note !== '')
const lotIn = computed({
  get: () => props.line.lot?.code ?? '',
  set: v => {
    props.line.lot = v || props.line.lot?.expiry ? { id: null, code: v, expiry: props.line.lot?.expiry ?? null } : null
  },
})
const expiry = computed({
  get: () => props.line.lot?.expiry ?? null,
  set: v => {
    props.line.lot = { id: null, code: props.line.lot?.code ?? '', expiry: v }
  },
})
const lotScanned = useTakers().lot(
  () => props.line.item,
  lot => {
    props.line.lot = { id: null, code: lot.code || lotIn.value, expiry: lot.expiry ?? expiry.value }
    touched.value = true
  },
)
/** Within the area where I work a bin's own name says enough. */
const brief = (path: string | undefined) => {
  const area = session.placeName(slip.content.place)
  return path?.startsWith(`${area}, `) ? path.slice(area.length + 2) : path
}
/** Enter goes to what this line still wants, then on; with Shift to another lot of it. */
function goOn(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey) return
  e.preventDefault()
  // All that was awaited of it has come.
  if (props.line.asked && !props.line.typed.trim()) props.line.typed = props.line.asked
  const lots = kind.value.lot === 'in' && item.value && item.value.identifiedBy !== 'quantity'
  if (e.shiftKey && lots) return emit('another')
  const row = (e.target as HTMLElement).closest('tr')
  const wants = props.own
    ? row?.querySelector<HTMLInputElement>('[data-own] input')
    : lots && !lotIn.value
      ? row?.querySelector<HTMLInputElement>('[data-lot]')
      : lots && item.value!.identifiedBy === 'lot_expiry' && !expiry.value
        ? row?.querySelector<HTMLInputElement>('[data-use-by] input')
        : undefined
  // A date that cannot be read keeps the keyboard where it stands.
  if (wants && (wants !== e.target || wants.value)) wants.focus()
  else emit('down')
}
function key(e: KeyboardEvent) {
  if (e.key === 'Enter') {
    goOn(e)
  } else if (e.key === 'ArrowDown') {
    e.preventDefault()
    emit('down')
  } else if (e.key === 'ArrowUp') {
    e.preventDefault()
    emit('up')
  }
}
/** Fingers have keys of their own below the lines. */
const coarse = matchMedia('(pointer: coarse)').matches
const serial = computed(() => item.value?.identifiedBy === 'serial')
</script>
<template>
  <tr :data-line="line.id" :class="{ on: focused }" @focusin="slip.focused = line.id">
    <td class="min-w-28 wrap-anywhere">
      <div v-if="follows" class="soft pl-3">and of it</div>
      <template v-else>
        <div class="font-medium">{{ item?.name ?? 'an item that is gone' }}</div>
        <div class="mono soft text-[12px]">{{ item?.code }}</div>
        <div v-if="together" class="text-[12px]">
          together <span class="mono">{{ together }}</span>
        </div>
      </template>
      <div class="flex flex-wrap gap-x-1 items-center">
        <input
          v-if="noting"
          v-model="line.note"
          class="field field-small note"
          :aria-label="`Note on ${item?.name}`"
          placeholder="note"
          maxlength="200"
        /><button
          v-else
          type="button"
          class="btn btn-quiet btn-small px-1!"
          :aria-label="`Write a note on ${item?.name}`"
          title="Write a note"
          @click="noting = true"
        >
          <NotebookPen :size="14" aria-hidden="true" />
        </button>
        <SpoiltLine v-if="kind.spoils" :line="line" :name="item?.name ?? 'it'" :wrong="wrong('reason')" />
        <PictureRow
          v-if="props.kind === 'waste'"
          bare
          :slip="slip.id"
          :model-value="line.picture ? [line.picture] : []"
          :most="1"
          :what="item?.name ?? 'it'"
          @update:model-value="p => (line.picture = p[0] ?? null)"
        />
      </div>
      <button
        v-if="!more && kind.lot === 'in' && item && item.identifiedBy !== 'quantity' && line.typed"
        type="button"
        class="btn btn-quiet btn-small -ml-2"
        @click="emit('another')"
      >
        another lot
      </button>
    </td>
    <td>
      <div class="flex gap-1 justify-end items-start">
        <input
          v-model="line.typed"
          data-quantity
          class="field field-small field-num quantity"
          :style="line.typed.length > 6 ? { width: `${Math.min(150, 20 + line.typed.length * 8.2)}px` } : {}"
          :aria-label="`${kind.what}: ${item?.name}`"
          :aria-invalid="wrong('typed')"
          autocomplete="off"
          :inputmode="coarse ? 'none' : 'decimal'"
          @keydown="key"
          @blur="touched = true"
          @focus="($event.target as HTMLInputElement).select()"
        />
        <select v-model="line.unit" class="field field-small unit" :aria-label="`Unit of ${item?.name}`">
          <option :value="null">{{ item?.unit }}</option>
          <option v-for="u in units.slice(1)" :key="u" :value="u">{{ u }}</option>
        </select>
      </div>
      <div v-if="line.asked" class="soft text-[12px] text-right">
        of <span class="mono">{{ f.number(leastOf(line.asked)) }}</span>
      </div>
      <div v-if="reading && !plain" class="soft text-[12px] text-right mono mt-0.5">= {{ reading }}</div>
    </td>
    <td v-if="kind.lot === 'in'">
      <template v-if="item && item.identifiedBy !== 'quantity'">
        <input
          v-model="lotIn"
          v-code="lotScanned"
          data-lot
          @keydown.enter="goOn"
          class="field field-small mono lot"
          :placeholder="serial ? 'serial no.' : 'lot'"
          :aria-label="`${serial ? 'Serial number' : 'Lot'} of ${item.name}`"
          :aria-invalid="wrong('lot')"
          @blur="touched = true"
        />
        <DateField
          v-if="item.identifiedBy === 'lot_expiry'"
          v-model="expiry"
          class="mt-1 day"
          data-use-by
          @keydown.enter="goOn"
          :label="`Use by date of ${item.name}`"
          :invalid="wrong('expiry')"
        />
      </template>
      <span v-else class="soft">—</span>
    </td>
    <td v-else-if="kind.lot === 'out'">
      <LotOutCell :line="line" :kind="props.kind" :item="item" :taken="effect?.lots ?? []" />
    </td>
    <td v-else-if="kind.lot === 'told'" class="mono text-[13px]">
      {{ line.lot?.code || '—' }}
      <div v-if="line.lot?.expiry" class="soft text-[12px]">{{ f.date(line.lot.expiry) }}</div>
    </td>
    <td v-if="own">
      <OwnCell :line="line" :name="item?.name ?? 'it'" :invalid="wrong('direct')" @done="emit('down')" />
    </td>
    <td v-else-if="kind.from && props.kind !== 'waste'">
      <select v-model="line.from" class="field field-small place" :aria-label="`From which place: ${item?.name}`">
        <option :value="null">{{ brief(effect?.lots[0]?.place) || 'any bin' }}</option>
        <option v-for="b in bins" :key="b.id" :value="b.id">{{ brief(b.path) }}</option>
        <option v-if="line.from && !bins.some(b => b.id === line.from)" :value="line.from">
          {{ brief(session.placeName(line.from)) }}
        </option>
      </select>
    </td>
    <td v-if="kind.opens">
      <OpenedCell
        :line="line"
        :item="item"
        :worked="effect?.lots.length === 2 ? effect.lots[1] : undefined"
        :invalid="wrong('opened')"
      />
    </td>
    <td v-if="kind.to">
      <IntoCell
        :line="line"
        :kind="props.kind"
        :item="item"
        :bins="bins"
        :brief="brief"
        :usual="effect?.lots[0]?.place"
        :wrong="wrong('to') || wrong('direct')"
      />
    </td>
    <td v-if="kind.reason">
      <select
        v-model="line.reason"
        class="field field-small place"
        :aria-label="`Why: ${item?.name}`"
        :aria-invalid="wrong('reason')"
      >
        <option :value="null">{{ slip.content.head.reason ? 'as for all' : 'choose' }}</option>
        <option v-for="r in reasons" :key="r.id" :value="r.id">{{ r.name }}</option>
      </select>
    </td>
    <td v-if="kind.price" class="text-right">
      <PriceCell :line="line" :item="item" :invalid="wrong('price')" @keydown="key" @blur="touched = true" />
    </td>
    <td v-if="shares" class="text-right">
      <input
        v-model="line.share"
        class="field field-small field-num price"
        placeholder="1"
        :aria-label="`Part of the cost: ${item?.name}`"
        :aria-invalid="wrong('share')"
        inputmode="decimal"
        autocomplete="off"
        @keydown="key"
        @blur="touched = true"
      />
    </td>
    <td class="w-9">
      <button
        type="button"
        class="btn btn-quiet btn-small px-1!"
        :aria-label="`Remove ${item?.name}`"
        @click="slip.remove(line.id)"
      >
        <X :size="15" aria-hidden="true" />
      </button>
    </td>
  </tr>
  <tr v-if="slip.differing.has(line.id)" :class="{ on: focused }">
    <td colspan="8" class="pt-0! border-t-0"><DifferingLine :line="line" /></td>
  </tr>
  <tr v-if="said.length" :class="{ on: focused }">
    <td colspan="8" class="pt-0! border-t-0">
      <LineRefusals :line="line" :said="said" />
    </td>
  </tr>
</template>
<style scoped>
.quantity {
  width: 70px;
}
.unit {
  width: auto;
  max-width: 84px;
  padding: 1px 2px 1px 6px;
}
.day {
  display: block;
  width: 118px;
}
.lot {
  width: 118px;
  padding-left: 6px;
  padding-right: 4px;
}
.place {
  width: 84px;
  padding: 1px 2px 1px 6px;
}
.price {
  width: 70px;
}
.note {
  width: 130px;
}
td {
  padding-left: 6px;
  padding-right: 6px;
}
tr + tr td {
  border-bottom: 1px solid var(--hair);
}
</style>
