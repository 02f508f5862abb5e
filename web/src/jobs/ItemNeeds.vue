<script setup lang="ts">
/** Which jobs need an item, and by when: what of it is kept for each. */
import { computed, ref, watch } from 'vue'
import type { ItemNeed } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import DiscOf from '../ui/DiscOf.vue'
import { useFormat } from '../ui/format.ts'
import { WHENCE } from './whence.ts'

const props = defineProps<{ item: string; unit: string; place: string | null }>()
const emit = defineEmits<{ /** They are known, or known not to come. */ came: [] }>()
const f = useFormat()
const rows = ref<ItemNeed[]>([])
const load = live(
  async () => {
    try {
      const path = `/api/items/${props.item}/needs${query({ place: props.place })}`
      rows.value = (await get<{ rows: ItemNeed[] }>(path)).rows
    } finally {
      emit('came')
    }
  },
  e => ['job', 'booked', 'setup', 'stock', 'restock'].includes(e.kind),
)
watch(
  () => [props.item, props.place],
  () => void load(),
)
const places = computed(() => f.placesOf(rows.value.map(r => r.left)))
</script>
<template>
  <div v-if="rows.length" class="px-5 py-3 border-t border-hair">
    <h2 class="mb-2">Jobs that need it</h2>
    <ul>
      <li v-for="r in rows" :key="r.job.id" class="need">
        <span class="min-w-0"
          ><RouterLink class="go" :to="{ name: 'job', params: { id: r.job.id } }">{{ r.job.name }}</RouterLink>
          <span class="soft text-[12px] block"
            ><span class="mono">{{ r.job.code }}</span
            >, {{ r.placeName }}{{ r.day ? `, ${f.far(r.day)}` : '' }}</span
          ></span
        >
        <span class="num">{{ f.aligned(r.left, places) }}</span>
        <span class="soft unit">{{ unit }}</span>
        <span
          ><span class="inline-flex items-center gap-1.5" :class="{ error: r.whence === 'missing' }"
            ><DiscOf :fill="WHENCE[r.whence].fill" />{{ WHENCE[r.whence].word
            }}<template v-if="r.whence === 'missing'"> {{ f.number(r.missing) }}</template></span
          ><span v-if="r.held !== '0'" class="soft text-[12px] block">{{ f.number(r.held) }} kept for it</span></span
        >
      </li>
    </ul>
  </div>
</template>
<style scoped>
.need {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 3.5em minmax(0, 11em);
  gap: 2px 10px;
  align-items: baseline;
  padding: 5px 0;
}
</style>
