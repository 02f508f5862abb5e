<script setup lang="ts">
/** The lines of a list in the order of the walk: what is asked, what is taken; on paper with a box for it. */
import { computed } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{
  lines: readonly SlipLine[]
  at: string | null
  bin: (l: SlipLine) => string
  jobOf: (l: SlipLine) => string | undefined
  refused: (l: SlipLine) => boolean
}>()
const emit = defineEmits<{ go: [line: string] }>()
const index = useIndex()
const f = useFormat()
const rows = computed(() => props.lines.map(l => ({ l, item: l.item ? index.byId.get(l.item) : undefined })))
const places = computed(() => f.placesOf(props.lines.map(l => l.asked)))
const several = computed(() => props.lines.some(l => props.jobOf(l)))
</script>
<template>
  <div class="overflow-x-auto">
    <table class="list edge" aria-label="What is picked, in the order of the walk">
      <thead>
        <tr>
          <th>Where</th>
          <th>Item</th>
          <th v-if="several">For</th>
          <th class="text-right!">Asked</th>
          <th class="text-right!">Taken</th>
          <th><span class="sr-only">Unit</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ l, item } in rows" :key="l.id" class="link" :class="{ on: l.id === at }" @click="emit('go', l.id)">
          <td class="whitespace-nowrap">{{ bin(l) || 'any bin' }}</td>
          <td>
            <button type="button" class="touch font-medium cursor-pointer text-left" @click.stop="emit('go', l.id)">
              {{ item?.name ?? 'an item that is gone' }}
            </button>
            <span v-if="l.lot?.code" class="soft text-[12px] block"
              >lot <span class="mono">{{ l.lot.code }}</span></span
            >
          </td>
          <td v-if="several" class="soft">{{ jobOf(l) }}</td>
          <td class="num">{{ f.aligned(l.asked, places) }}</td>
          <td class="num">
            <b v-if="l.typed.trim()" :class="{ 'text-straw': l.typed.trim() !== l.asked, error: refused(l) }">{{
              l.typed
            }}</b><span v-else class="soft taken">–</span>
          </td>
          <td class="soft unit">{{ item?.unit }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
<style scoped>
tr.on td {
  background: var(--frost);
}
@media print {
  .taken {
    display: inline-block;
    width: 3.5em;
    border-bottom: 1px solid;
    color: transparent;
  }
}
</style>
