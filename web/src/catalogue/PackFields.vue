<script setup lang="ts">
/** How an item comes, if not singly: the packs of the item form. */
import { useTakers } from '../scan/takers.ts'
import type { PackForm } from './pack-form.ts'

const takers = useTakers()
defineProps<{ unit: string; wrong: string | undefined }>()
const packs = defineModel<PackForm[]>({ required: true })
</script>
<template>
  <fieldset class="mt-6">
    <legend class="font-semibold mb-1">Packs</legend>
    <p v-if="!packs.length" class="soft text-[13px] mb-2">How it comes, if not singly: a case of 12, a can of 5.</p>
    <div v-for="(p, i) in packs" :key="i" class="flex flex-wrap gap-3 items-end mb-2">
      <label class="w-32"
        ><span class="label">Pack</span><input v-model="p.name" class="field field-small" placeholder="case" /></label
      ><label class="w-28"
        ><span class="label">holds ({{ unit || 'units' }})</span
        ><input v-model="p.size" class="field field-small field-num" placeholder="12" /></label
      ><label class="grow min-w-40"
        ><span class="label">Its barcodes</span
        ><input
          v-model="p.codes"
          v-code="
            takers.collect(
              () => p.codes,
              c => (p.codes = c),
            )
          "
          class="field field-small mono"
          @keydown.enter.prevent
      /></label>
      <span class="flex gap-3 text-[13px] min-h-8 items-center"
        ><label class="flex gap-1 items-center"><input v-model="p.buying" type="checkbox" />buy</label
        ><label class="flex gap-1 items-center"><input v-model="p.issuing" type="checkbox" />issue</label
        ><label class="flex gap-1 items-center"><input v-model="p.counting" type="checkbox" />count</label></span
      ><button
        type="button"
        class="btn btn-quiet btn-small"
        :aria-label="`Remove the pack ${p.name}`"
        @click="packs.splice(i, 1)"
      >
        Remove
      </button>
    </div>
    <p v-if="wrong" class="error mb-2">{{ wrong }}</p>
    <button
      type="button"
      class="btn btn-small"
      @click="packs.push({ name: '', size: '', codes: '', buying: true, issuing: true, counting: true })"
    >
      Add a pack
    </button>
  </fieldset>
</template>
