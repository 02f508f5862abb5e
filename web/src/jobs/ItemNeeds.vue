<script setup lang="ts">
/** Which jobs need an item, and by when: what of it is kept for each. */
import { ref, watch } from 'vue'
import type { ItemNeed } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import DiscOf from '../ui/DiscOf.vue'
import { useFormat } from '../ui/format.ts'
import { WHENCE } from './whence.ts'

const props = defineProps<{ item: string; unit: string; place: string | null }>()
const f = useFormat()
const rows = ref<ItemNeed[]>([])
const load = live(
  async () => {
    rows.value = (
      await get<{ rows: ItemNeed[] }>(`/api/items/${props.item}/needs${query({ place: props.place })}`)
    ).rows
  },
  e => ['job', 'booked', 'setup', 'stock', 'restock'].includes(e.kind),
)
watch(
  () => [props.item, props.place],
  () => void load(),
)
</script>
<template>
  <div v-if="rows.length" class="px-5 py-3 border-t border-hair">
    <h2 class="mb-2">Jobs that need it</h2>
    <ul>
      <li v-for="r in rows" :key="r.job.id" class="flex flex-wrap gap-x-4 items-baseline py-1">
        <RouterLink class="go min-w-0" :to="{ name: 'job', params: { id: r.job.id } }">{{ r.job.name }}</RouterLink>
        <span class="mono soft text-[12px]">{{ r.job.code }}</span>
        <span class="soft text-[13px]">{{ r.placeName }}{{ r.day ? `, ${f.far(r.day)}` : '' }}</span>
        <span class="ml-auto mono">{{ f.number(r.left) }} {{ unit === 'each' ? '' : unit }}</span>
        <span class="inline-flex items-center gap-1.5 w-52" :class="{ error: r.whence === 'missing' }"
          ><DiscOf :fill="WHENCE[r.whence].fill" />{{ WHENCE[r.whence].word
          }}<template v-if="r.whence === 'missing'"> {{ f.number(r.missing) }}</template
          ><template v-if="r.held !== '0'">, {{ f.number(r.held) }} kept</template></span
        >
      </li>
    </ul>
  </div>
</template>
