<script setup lang="ts">
/** Over a count: the area, how far it is, who else counts, and how one counts. */
import { computed, ref, watch } from 'vue'
import type { CountGroup } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { useSlip } from '../ledger/slip-store.ts'
import { useSession } from '../shell/session.ts'
import { type Mode, useEntries } from './entries.ts'

const mode = defineModel<Mode>({ required: true })
const slip = useSlip()
const session = useSession()
const { lines: all, counted, waits } = useEntries()
/** Where two count each line, how far I am myself. */
const mine = computed(() => slip.content.lines.filter(waits).length)
const group = ref<string | null>(null)
const name = computed(() => group.value ?? session.placeName(slip.content.place))
const asks = newest()
watch(
  () => slip.content.head.group,
  async id => {
    const still = asks()
    const { rows } = id ? await get<{ rows: CountGroup[] }>('/api/count-groups') : { rows: [] }
    if (!still()) return
    const of = rows.find(g => g.id === id)
    group.value = of ? `${of.name}, ${of.placeName}` : null
  },
  { immediate: true },
)
</script>
<template>
  <header class="flex flex-wrap items-center gap-x-5 gap-y-2 mb-3">
    <div>
      <p class="soft text-[12px]">Count</p>
      <h1>{{ name }}</h1>
    </div>
    <div class="grow min-w-40">
      <div class="progress" role="progressbar" :aria-valuenow="counted" :aria-valuemax="all" aria-label="Lines counted">
        <i :style="{ width: (all ? (counted / all) * 100 : 0) + '%' }" />
      </div>
    </div>
    <p>
      <b class="mono">{{ counted }}</b> of {{ all }}
      <span class="soft"
        >· {{ slip.content.head.blind ? 'blind' : 'with figures'
        }}<template v-if="slip.content.head.byTwo"> · each line by two, {{ mine }} wait for me</template></span
      ><template v-if="slip.company.length"
        ><br /><span class="soft text-[13px]"
          ><b class="text-ink">{{ slip.company.join(', ') }}</b> counts too</span
        ></template
      >
    </p>
    <div class="flex gap-1" role="group" aria-label="How to count">
      <button
        v-for="m in ['walk', 'grid', 'review'] as const"
        :key="m"
        type="button"
        class="btn btn-small"
        :class="{ 'btn-act': mode === m }"
        :aria-pressed="mode === m"
        @click="mode = m"
      >
        {{ { walk: 'Line by line', grid: 'Grid', review: 'Review' }[m] }}
      </button>
    </div>
  </header>
</template>
<style scoped>
.progress {
  height: 9px;
  border-radius: 5px;
  background: var(--track);
  overflow: hidden;
}
.progress i {
  display: block;
  height: 100%;
  background: var(--kelp);
}
</style>
