<script setup lang="ts">
/** The rest of the item form: how it is costed and kept, how long, what it weighs. */
import type { Item, Tolerance } from '@shelve/contract'
import { useSession } from '../shell/session.ts'
import { METHOD_WORDS } from '../ui/format.ts'
import NumberField from '../ui/NumberField.vue'
import type { ItemForm } from './item-form.ts'
import ToleranceFields from './ToleranceFields.vue'

defineProps<{
  /** Something of it lies somewhere: another method is a slip of its own. */ lies: boolean
  /** By what method it is costed, by itself or handed down. */ costed: string | undefined
  known: Item['method']
  wrong: string | undefined
  /** What its category hands down. */ handed: { shelfLifeDays: number | null; daysOnceOpened: number | null }
  /** How far off a count may be where it says nothing itself, and what says so. */ tolerance: {
    limits: Tolerance
    by: string
  }
}>()
/** What holds where the item says nothing. */
const placeholder = (days: number | null) => (days === null ? '' : `${days} by its category`)
defineEmits<{ change: [] }>()
const form = defineModel<ItemForm>({ required: true })
const session = useSession()
</script>
<template>
  <details class="mt-5" :open="costed === 'standard' && !lies">
    <summary class="cursor-pointer soft">More: cost, shelf life, weight, counts, note</summary>
    <div class="grid sm:grid-cols-2 gap-x-8 gap-y-4 mt-3">
      <div v-if="lies">
        <span class="label">Cost method</span
        ><span class="flex gap-3 items-center min-h-9"
          >{{ METHOD_WORDS[known] }}
          <button type="button" class="btn btn-small" @click="$emit('change')">Change it</button></span
        >
      </div>
      <label v-else
        ><span class="label">Cost method</span
        ><select v-model="form.method" class="field">
          <option value="">as the category or the organisation</option>
          <option v-for="(words, m) in METHOD_WORDS" :key="m" :value="m">{{ words }}</option>
        </select></label
      >
      <label v-if="costed === 'standard' && !lies && session.seeValue"
        ><span class="label">Standard cost of one {{ form.unit || 'unit' }}</span
        ><NumberField v-model="form.standardCost" :aria-invalid="!!wrong || undefined" /><span
          v-if="wrong"
          class="error"
          >{{ wrong }}</span
        ></label
      >
      <label
        ><span class="label">Kept</span
        ><select v-model="form.kept" class="field">
          <option value="stock">in stock</option>
          <option value="bought_for">bought for someone, never on a shelf</option>
          <option value="charge">a charge (freight, service)</option>
        </select></label
      >
      <label
        ><span class="label">Shelf life in days</span
        ><input
          v-model="form.shelfLifeDays"
          class="field field-num"
          inputmode="numeric"
          :placeholder="placeholder(handed.shelfLifeDays)" /></label
      ><label
        ><span class="label">Days it keeps once opened</span
        ><input
          v-model="form.daysOnceOpened"
          class="field field-num"
          inputmode="numeric"
          :placeholder="placeholder(handed.daysOnceOpened)" /></label
      ><label
        ><span class="label">Weight of one {{ form.unit || 'unit' }}, in grams</span
        ><NumberField v-model="form.mass" /></label
      ><label><span class="label">Density, grams per millilitre</span><NumberField v-model="form.density" /></label
      ><label
        ><span class="label">Waste code, where it is disposed of by one</span
        ><input v-model="form.wasteCode" class="field mono" maxlength="200" /></label
      ><label class="flex gap-2 items-center sm:col-span-2"
        ><input v-model="form.witnessed" type="checkbox" /> Two throw it away: somebody else who was there shows it by
        badge or PIN</label
      ><ToleranceFields
        v-model="form.tolerance"
        class="sm:col-span-2"
        :unit="form.unit"
        :handed="tolerance.limits"
        :by="tolerance.by"
      /><label class="sm:col-span-2"
        ><span class="label">Note</span><textarea v-model="form.note" class="field" rows="2" />
      </label>
    </div>
  </details>
</template>
