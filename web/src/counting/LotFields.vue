<script setup lang="ts">
/** Which lot was counted, where the sheet does not say: scanned, typed, or none that anybody could read (rule 27). */
import { computed } from 'vue'
import type { IndexItem, SlipLine } from '@shelve/contract'
import { isUnknownLot, UNKNOWN_LOT } from '@shelve/core'
import { useTakers } from '../scan/takers.ts'
import DateField from '../ui/DateField.vue'

const props = defineProps<{ line: SlipLine; item: IndexItem }>()
const called = computed(() => (props.item.identifiedBy === 'serial' ? 'Serial number' : 'Lot'))
const code = computed({
  get: () => props.line.lot?.code ?? '',
  set: text => {
    props.line.lot = { id: null, code: text, expiry: props.line.lot?.expiry ?? null }
  },
})
const expiry = computed({
  get: () => props.line.lot?.expiry ?? null,
  set: day => {
    props.line.lot = { id: null, code: code.value, expiry: day }
  },
})
const unknown = computed(() => props.item.identifiedBy !== 'serial' && isUnknownLot(code.value))
const scanned = useTakers().lotOn(() => props.line)
</script>
<template>
  <span class="inline-flex flex-wrap gap-2 items-center"
    ><input
      v-model="code"
      v-code="scanned"
      class="field field-small mono w-32!"
      :aria-label="`${called} of ${item.name}`"
      :placeholder="called.toLowerCase()"
      autocomplete="off"
    /><DateField
      v-if="item.identifiedBy === 'lot_expiry' && !unknown"
      v-model="expiry"
      class="w-36"
      :label="`Use by of ${item.name}`"
    /><button
      v-if="item.identifiedBy !== 'serial' && !code.trim()"
      type="button"
      class="btn btn-quiet btn-small"
      :aria-label="`No label: ${item.name}`"
      @click="code = UNKNOWN_LOT"
    >
      No label</button
    ><span v-if="unknown" class="soft text-[12px] font-sans">held, until somebody knows what it is</span></span
  >
</template>
