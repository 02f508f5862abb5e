<script setup lang="ts">
/** How an item comes, if not singly: the packs of the item form. */
import { ref, watch } from 'vue'
import { useTakers } from '../scan/takers.ts'
import NumberField from '../ui/NumberField.vue'
import { freshPack, isEmptyPack, type PackForm } from './item-form.ts'

const takers = useTakers()
const emit = defineEmits<{ /** No more packs are wanted. */ done: [] }>()
const root = ref<HTMLElement>()
/** Enter goes on: name, size, barcodes, the next pack; from an empty one out of the packs. */
function next(i: number, field: number) {
  if (isEmptyPack(packs.value[i]!)) return emit('done')
  root.value?.querySelectorAll<HTMLInputElement>('[data-pack]')[i * 3 + field + 1]?.focus()
}
defineProps<{ unit: string; wrong: (field: string) => string | undefined }>()
const packs = defineModel<PackForm[]>({ required: true })
// An empty one is always there: to write in it is to add it.
watch(
  packs,
  all => {
    if (!all.length || !isEmptyPack(all.at(-1)!)) all.push(freshPack())
  },
  { deep: true, immediate: true },
)
</script>
<template>
  <fieldset ref="root" class="mt-6">
    <legend class="font-semibold mb-1">Packs</legend>
    <p v-if="packs.length < 2" class="soft text-[13px] mb-2">How it comes, if not singly: a case of 12, a can of 5.</p>
    <div v-for="(p, i) in packs" :key="i" class="flex flex-wrap gap-3 items-end mb-2">
      <label class="w-32"
        ><span class="label">Pack</span
        ><input
          v-model="p.name"
          data-pack
          class="field field-small"
          placeholder="case"
          @keydown.enter.prevent="next(i, 0)" /></label
      ><label class="w-28"
        ><span class="label">holds ({{ unit || 'units' }})</span
        ><NumberField
          v-model="p.size"
          data-pack
          class="field-small"
          placeholder="12"
          :aria-invalid="!!wrong(`packs.${i}.size`) || undefined"
          @keydown.enter.prevent="next(i, 1)" /></label
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
          data-pack
          @keydown.enter.prevent="next(i, 2)"
      /></label>
      <span class="flex gap-3 text-[13px] min-h-8 items-center" :class="{ invisible: isEmptyPack(p) }"
        ><label class="flex gap-1 items-center"><input v-model="p.buying" type="checkbox" />buy</label
        ><label class="flex gap-1 items-center"><input v-model="p.issuing" type="checkbox" />issue</label
        ><label class="flex gap-1 items-center"><input v-model="p.counting" type="checkbox" />count</label></span
      ><button
        type="button"
        class="btn btn-quiet btn-small"
        :class="{ invisible: isEmptyPack(p) }"
        :aria-label="`Remove the pack ${p.name}`"
        @click="packs.splice(i, 1)"
      >
        Remove
      </button>
      <p v-if="wrong(`packs.${i}`)" class="error basis-full" role="alert">
        {{ p.name || 'This pack' }}: {{ wrong(`packs.${i}`) }}
      </p>
    </div>
    <p v-if="wrong('packs') && !packs.some((_, i) => wrong(`packs.${i}`))" class="error mb-2" role="alert">
      {{ wrong('packs') }}
    </p>
  </fieldset>
</template>
