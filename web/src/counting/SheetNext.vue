<script setup lang="ts">
/** The lines that come after the one that is counted. */
import { computed } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSlip } from '../ledger/slip-store.ts'

const props = defineProps<{ at: number; /** The place of a line within the area. */ brief: (l: SlipLine) => string }>()
defineEmits<{ go: [line: number] }>()
const slip = useSlip()
const index = useIndex()
const upcoming = computed(() =>
  slip.content.lines
    .map((l, i) => ({ l, i }))
    .filter(x => x.i > props.at)
    .slice(0, 4),
)
</script>
<template>
  <div v-if="upcoming.length" class="mt-4">
    <h2 class="mb-1">Then</h2>
    <ul class="card">
      <li v-for="u in upcoming" :key="u.l.id" class="flex gap-4 px-4 py-2 border-b border-hair last:border-0">
        <span class="mono w-28 shrink-0 soft">{{ brief(u.l) }}</span><button
          type="button"
          class="text-left cursor-pointer min-w-0 wrap-anywhere"
          @click="$emit('go', u.i)"
        >
          {{ index.byId.get(u.l.item!)?.name
          }}<span v-if="u.l.lot?.code" class="soft mono text-[12px]"> lot {{ u.l.lot.code }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>
