<script setup lang="ts">
/** What is on its way from here or to here, the first due first; and what has arrived. */
import { computed, ref } from 'vue'
import type { TransferRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'
import MoveTabs from './MoveTabs.vue'
import { howFar } from './how-far.ts'

const session = useSession()
const f = useFormat()
const over = ref(false)
const { it: transfers } = useReading<{ rows: TransferRow[] }>(
  () => `/api/transfers${query({ place: session.placeId, over: over.value ? 'true' : undefined })}`,
  e => ['booked', 'transfer', 'setup'].includes(e.kind),
)
const rows = computed(() => transfers.value?.rows ?? [])
</script>
<template>
  <MoveTabs />
  <section class="slip pb-3 max-w-5xl">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-center">
      <h1>{{ over ? 'What has arrived' : 'On the way' }}</h1>
      <button type="button" class="btn btn-small" @click="over = !over">
        {{ over ? 'What is on its way' : 'What has arrived' }}
      </button>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge" :aria-label="over ? 'What has arrived' : 'On the way'">
        <thead>
          <tr>
            <th>Sent by</th>
            <th>From</th>
            <th>To</th>
            <th>What</th>
            <th>With</th>
            <th>Sent</th>
            <th>{{ over ? 'Was to be there' : 'To be there' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.id">
            <td>
              <RouterLink class="go mono whitespace-nowrap" :to="{ name: 'transfer', params: { id: r.id } }">{{
                r.number
              }}</RouterLink>
              <div class="soft text-[12px]">{{ r.by }}</div>
            </td>
            <td class="wrap-anywhere min-w-20">{{ r.from.name }}</td>
            <td class="wrap-anywhere min-w-20">{{ r.to.name }}</td>
            <td>
              {{ r.named.join(', ') }}{{ r.items > r.named.length ? ' …' : '' }}
              <div v-if="!over && r.left < r.items" class="soft text-[12px]">
                {{ r.left }} of {{ r.items }} still on the way
              </div>
            </td>
            <td>{{ r.carrier || '—' }}</td>
            <td class="whitespace-nowrap">{{ f.when(r.sentAt) }}</td>
            <td class="whitespace-nowrap">
              <b v-if="r.overdue" class="text-straw">late {{ howFar(f, r.due) }}</b
              ><template v-else>{{ r.due ? howFar(f, r.due) : 'no day said' }}</template>
              <div v-if="r.due" class="soft text-[12px]">{{ f.date(r.due) }}</div>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="transfers" class="px-5 pb-3 soft">
      {{ over ? 'Nothing has arrived yet.' : 'Nothing is on its way.' }}
      <RouterLink v-if="!over && session.mayAnywhere('book')" class="go" to="/send">Send something</RouterLink>
    </p>
  </section>
</template>
