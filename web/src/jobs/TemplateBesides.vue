<script setup lang="ts">
/** What comes of a template beside what it makes: how much, and which part of the cost each of them bears. */
import { X } from '@lucide/vue'
import type { Template } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import { daysTyped, freshBeside } from './template-form.ts'

const makes = defineModel<NonNullable<Template['makes']>>({ required: true })
defineProps<{ wrong: (field: string) => string | undefined }>()
const index = useIndex()
const name = (id: string) => index.byId.get(id)?.name ?? ''
const FIELDS = ['item', 'typed', 'share', 'shelfLife'] as const
</script>
<template>
  <div class="mt-4">
    <template v-if="makes.besides.length">
      <p class="label">What else comes of it, for what the lines are for</p>
      <ul class="mb-2">
        <li v-for="(b, i) in makes.besides" :key="b.item" class="flex flex-wrap gap-3 items-end mb-2">
          <span class="font-medium w-44 pb-1.5">{{ name(b.item) }}</span><label class="w-32"
            ><span class="label">Comes of it ({{ index.byId.get(b.item)?.unit }})</span
            ><input
              v-model="b.typed"
              class="field field-small field-num"
              :aria-label="`Comes of it: ${name(b.item)}`"
              :aria-invalid="!!wrong(`makes.besides.${i}.typed`)" /></label
          ><label class="w-32"
            ><span class="label">Part of the cost</span
            ><input
              v-model="b.share"
              class="field field-small field-num"
              :aria-label="`Part of the cost: ${name(b.item)}`"
              :aria-invalid="!!wrong(`makes.besides.${i}.share`)" /></label
          ><label class="w-28"
            ><span class="label">Keeps, days</span
            ><input
              :value="b.shelfLife ?? ''"
              class="field field-small field-num"
              inputmode="numeric"
              :aria-label="`Keeps, days: ${name(b.item)}`"
              :aria-invalid="!!wrong(`makes.besides.${i}.shelfLife`)"
              @input="b.shelfLife = daysTyped($event)" /></label
          ><button
            type="button"
            class="btn btn-quiet btn-small px-1!"
            :aria-label="`Remove ${name(b.item)}`"
            @click="makes.besides.splice(i, 1)"
          >
            <X :size="15" aria-hidden="true" />
          </button>
          <p v-for="k in FIELDS" :key="k" class="error basis-full empty:hidden">
            {{ wrong(`makes.besides.${i}.${k}`) }}
          </p>
        </li>
      </ul>
      <label class="block w-44 mb-2"
        ><span class="label">Part that {{ name(makes.item) }} bears</span
        ><input
          v-model="makes.share"
          class="field field-small field-num"
          placeholder="1"
          :aria-invalid="!!wrong('makes.share')"
      /></label>
      <p v-if="wrong('makes.share')" class="error">{{ wrong('makes.share') }}</p>
    </template>
    <div class="max-w-md">
      <ItemPicker
        label="What else comes of it"
        placeholder="Type what else comes of it, if anything does"
        @pick="i => makes.besides.push(freshBeside(i.id))"
      />
    </div>
  </div>
</template>
