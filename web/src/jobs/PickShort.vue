<script setup lang="ts">
/** What the jobs of a list need and is not here: where else it lies, and what may be taken instead. */
import type { PickView } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'
import TakeInstead from './TakeInstead.vue'

type Short = PickView['short'][number]
defineProps<{ short: readonly Short[]; picking: boolean }>()
const emit = defineEmits<{ take: [short: Short, item: string] }>()
const f = useFormat()
</script>
<template>
  <aside>
    <h2 class="mb-2">Not here</h2>
    <ul class="card">
      <li v-for="s in short" :key="s.need" class="apart">
        <span class="min-w-0"
          ><RouterLink class="go" :to="{ name: 'job', params: { id: s.job.id } }">{{ s.item.name }}</RouterLink>
          <span class="soft text-[12px] block"
            >{{ s.job.code
            }}<template v-for="e in s.elsewhere" :key="e.place">
              · {{ f.number(e.quantity) }} in {{ e.place }}</template
            ></span
          ><TakeInstead v-if="picking" :options="s.instead" :name="s.item.name" @take="item => emit('take', s, item)"
        /></span>
        <span class="mono whitespace-nowrap"
          >{{ f.number(s.quantity) }}{{ s.item.unit === 'each' ? '' : ` ${s.item.unit}` }}</span
        >
      </li>
    </ul>
    <p class="soft text-[12px] mt-2">It stays owed to its job, and is offered again when it has come.</p>
  </aside>
</template>
