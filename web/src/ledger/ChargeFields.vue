<script setup lang="ts">
/** Freight, duty and fees of a delivery: how much each is, and by what it is spread over the lines. */
import type { SlipHead } from '@shelve/contract'
import NumberField from '../ui/NumberField.vue'

const charges = defineModel<SlipHead['charges']>({ required: true })
const add = () => charges.value.push({ label: charges.value.length ? 'Fees' : 'Freight', amount: '', basis: 'value' })
</script>
<template>
  <div v-for="(c, i) in charges" :key="i" class="flex gap-2 items-end">
    <label class="w-24"
      ><span class="label">{{ c.label || 'Freight' }}</span
      ><NumberField v-model="c.amount" class="field-small" data-charge :aria-label="`${c.label || 'Freight'}, amount`"
    /></label>
    <label
      ><span class="label">spread by</span
      ><select v-model="c.basis" class="field field-small">
        <option value="value">value</option>
        <option value="quantity">quantity</option>
        <option value="weight">weight</option>
      </select></label
    >
    <button
      type="button"
      class="btn btn-quiet btn-small"
      :aria-label="`Remove ${c.label || 'Freight'}`"
      @click="charges.splice(i, 1)"
    >
      Remove
    </button>
  </div>
  <button v-if="charges.length < 10" type="button" class="btn btn-small" @click="add">
    {{ charges.length ? 'Add another' : 'Add freight' }}
  </button>
</template>
