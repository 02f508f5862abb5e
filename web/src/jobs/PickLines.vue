<script setup lang="ts">
/** The lines of a list in the order of the walk: what is asked, what is taken; on paper with a box for it. */
import { computed } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { leastOf } from '@shelve/core'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import PickLineRow from './PickLineRow.vue'

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
/** What does not change while it is picked: of two hundred lines one is drawn anew, not all. */
const rows = computed(() =>
  props.lines.map(l => ({
    l,
    item: l.item ? index.byId.get(l.item) : undefined,
    where: props.bin(l) || 'any bin',
    whither: props.jobOf(l),
  })),
)
const places = computed(() => f.placesOf(props.lines.map(l => leastOf(l.asked))))
const several = computed(() => rows.value.some(r => r.whither))
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
        <PickLineRow
          v-for="{ l, item, where, whither } in rows"
          :key="l.id"
          :line="l"
          :name="item?.name ?? 'an item that is gone'"
          :unit="item?.unit ?? ''"
          :where="where"
          :whither="several ? (whither ?? '') : null"
          :places="places"
          :on="l.id === at"
          :refused="refused(l)"
          @go="emit('go', l.id)"
        />
      </tbody>
    </table>
  </div>
</template>
