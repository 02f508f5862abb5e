<script setup lang="ts">
/** Where a new item stands from the beginning: a row for each place, and for each lot that lies there already. */
import { computed } from 'vue'
import { useSession } from '../shell/session.ts'
import DateField from '../ui/DateField.vue'
import NumberField from '../ui/NumberField.vue'
import { stockRow, type StockRow } from './item-form.ts'

const props = defineProps<{
  unit: string
  /** How it is identified: with lots each row says which. */ by: string
  wrong: (field: string) => string | undefined
}>()
const rows = defineModel<StockRow[]>({ required: true })
const session = useSession()
const lots = computed(() => props.by !== 'quantity')
/** The levels of a place stand in its first row. */
const first = (i: number) => rows.value.findIndex(r => r.place === rows.value[i]!.place) === i
function more() {
  const last = rows.value.at(-1)!
  const next = session.areas.find(a => !rows.value.some(r => r.place === a.id))
  // Of what has lots there may be another one in the same place.
  rows.value.push(stockRow(lots.value && last.typed.trim() ? last.place : (next?.id ?? last.place)))
}
</script>
<template>
  <fieldset class="mt-6">
    <legend class="font-semibold mb-1">Where it stands</legend>
    <p class="soft text-[13px] mb-2">
      May stay empty. What lies there already is booked as opening stock; levels say when to ask for more.
    </p>
    <div v-for="(r, i) in rows" :key="i" class="flex flex-wrap gap-2 items-end mb-2" data-stock>
      <label class="w-32"
        ><span class="label">Place</span
        ><select v-model="r.place" class="field field-small" :aria-invalid="!!wrong(`stock.${i}.place`)">
          <option v-if="!r.place" value="">choose</option>
          <option v-for="p in session.areas" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      ><template v-if="first(i)"
        ><label class="w-20"
          ><span class="label">Minimum</span
          ><NumberField v-model="r.minimum" class="field-small" :aria-invalid="!!wrong(`stock.${i}.minimum`)" /></label
        ><label class="w-20"
          ><span class="label">Target</span
          ><NumberField
            v-model="r.target"
            class="field-small"
            :aria-invalid="!!wrong(`stock.${i}.target`)" /></label></template
      ><span v-else class="w-42 soft text-[13px] pb-2">levels as above</span
      ><label class="w-26"
        ><span class="label">There now</span
        ><input
          v-model="r.typed"
          class="field field-small field-num"
          inputmode="decimal"
          :placeholder="unit"
          :aria-invalid="!!wrong(`stock.${i}.typed`)" /></label
      ><template v-if="lots"
        ><label class="w-22"
          ><span class="label">{{ by === 'serial' ? 'Serial number' : 'Lot' }}</span
          ><input
            v-model="r.lot"
            v-code
            class="field field-small mono"
            :aria-invalid="!!wrong(`stock.${i}.lot`)" /></label
        ><span v-if="by === 'lot_expiry'" class="w-30"
          ><span class="label">Use by</span
          ><DateField
            v-model="r.expiry"
            :label="`Use by, row ${i + 1}`"
            :invalid="!!wrong(`stock.${i}.expiry`)" /></span></template
      ><label v-if="session.seeValue" class="w-24"
        ><span class="label">One cost</span
        ><NumberField
          v-model="r.price"
          class="field-small"
          placeholder="not known"
          :aria-invalid="!!wrong(`stock.${i}.price`)" /></label
      ><button
        v-if="rows.length > 1"
        type="button"
        class="btn btn-quiet btn-small"
        :aria-label="`Remove row ${i + 1}`"
        @click="rows.splice(i, 1)"
      >
        Remove
      </button>
      <p v-if="wrong(`stock.${i}`)" class="error basis-full" role="alert">{{ wrong(`stock.${i}`) }}</p>
    </div>
    <button type="button" class="btn btn-small" @click="more">Another place{{ lots ? ' or lot' : '' }}</button>
  </fieldset>
</template>
