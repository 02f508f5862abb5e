<script setup lang="ts">
/** Beside an empty slip: those left lying, and what was booked lately. */
import { computed, ref } from 'vue'
import type { SlipKind, SlipRow } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useFormat } from '../ui/format.ts'
import { KINDS } from './kinds.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ kind: SlipKind }>()
const slip = useSlip()
const f = useFormat()
const lying = ref<SlipRow[]>([])
const lately = ref<SlipRow[]>()
live(
  async () => {
    const [d, b] = await Promise.all([
      get<{ rows: SlipRow[] }>(`/api/slips?state=draft&kind=${props.kind}&limit=20`),
      get<{ rows: SlipRow[] }>(`/api/slips?state=booked&kind=${props.kind}&limit=6`),
    ])
    lying.value = d.rows
    lately.value = b.rows
  },
  e => e.kind === 'draft' || e.kind === 'booked',
)
const others = computed(() => lying.value.filter(d => d.id !== slip.id))
</script>
<template>
  <template v-if="others.length">
    <h2 class="mb-2">Slips left lying</h2>
    <ul class="card mb-5">
      <li v-for="d in others" :key="d.id" class="row">
        <div>
          <RouterLink
            class="go"
            :to="{ name: props.kind === 'receipt' ? 'receive' : props.kind, params: { id: d.id } }"
            >{{ d.title || 'a slip' }}</RouterLink
          >
          <div class="soft text-[12px]">
            {{ d.mine ? 'yours' : d.by }} · {{ d.lines }} line{{ d.lines === 1 ? '' : 's' }}
          </div>
        </div>
        <span class="soft text-[13px] whitespace-nowrap">{{ f.when(d.at) }}</span>
      </li>
    </ul>
  </template>
  <h2 class="mb-2">Lately booked</h2>
  <ul v-if="lately?.length" class="card">
    <li v-for="b in lately" :key="b.id" class="row">
      <div class="min-w-0">
        <RouterLink class="go mono" :to="{ name: 'slip', params: { id: b.id } }">{{ b.number }}</RouterLink>
        {{ b.title }}
        <div class="soft text-[12px]">
          {{ b.by }}<template v-if="b.taker">, {{ b.taker }}</template> · {{ f.when(b.at) }}
        </div>
      </div>
      <span v-if="b.value && b.value !== '0'" class="mono text-[13px] whitespace-nowrap">{{
        f.amount(b.value, true)
      }}</span>
    </li>
  </ul>
  <p v-else-if="lately" class="soft">
    Nothing yet. {{ KINDS[props.kind]!.hint }}, and the first slip stands here once it is booked.
  </p>
</template>
<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 9px 14px;
  border-bottom: 1px solid var(--hair);
}
.row:last-child {
  border-bottom: 0;
}
</style>
