<script setup lang="ts">
/** Lots of an item, first to go on the left; width is quantity. Expired ones are crossed, held ones striped. */
import { computed } from 'vue'
import type { LotView } from '@shelve/contract'
import { useFormat } from './format.ts'

const props = defineProps<{ lots: LotView[] }>()
const f = useFormat()
const total = computed(() => props.lots.reduce((s, l) => s + Number(l.quantity), 0) || 1)
</script>
<template>
  <ul class="flex gap-1 overflow-x-auto pb-1" aria-label="Lots, first to go first">
    <li
      v-for="l in lots"
      :key="l.id"
      class="min-w-24"
      :style="{ flex: `${Math.max(Number(l.quantity) / total, 0.06)} 1 0` }"
    >
      <div class="seg" :class="l.state" />
      <RouterLink
        class="mono truncate font-semibold text-[13px] mt-1 block"
        :to="{ name: 'lot', params: { id: l.id } }"
        :title="`${l.code ?? 'no lot'} · ${l.quantity}`"
        >{{ l.code ?? 'no lot' }} · {{ f.number(l.quantity) }}</RouterLink
      >
      <div class="soft text-[12px] truncate">
        <template v-if="l.state === 'held' || l.state === 'recalled'">{{ l.state }}</template>
        <template v-else-if="l.expiry"
          >{{ l.state === 'expired' ? 'expired ' : '' }}{{ f.date(l.expiry) }}, {{ f.far(l.expiry) }}</template
        >
        <template v-else>since {{ f.date(l.received.slice(0, 10)) }}</template>
      </div>
    </li>
  </ul>
</template>
<style scoped>
.seg {
  height: 26px;
  border-radius: 3px;
  background: var(--kelp);
}
.held,
.recalled {
  background: repeating-linear-gradient(135deg, var(--soft) 0 5px, var(--track) 5px 10px);
}
.expired {
  background:
    linear-gradient(to top right, transparent calc(50% - 1px), var(--buoy) 50%, transparent calc(50% + 1px)),
    linear-gradient(to bottom right, transparent calc(50% - 1px), var(--buoy) 50%, transparent calc(50% + 1px)),
    var(--track);
  border: 1px solid var(--buoy);
}
</style>
