<script setup lang="ts">
/** What was booked just now, the last first, where each scan books at once: each can be taken back from here. */
import type { BookedSlip } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'
import type { JustBooked } from './each-scan.ts'

defineProps<{ booked: readonly JustBooked[] }>()
const emit = defineEmits<{ back: [slip: BookedSlip] }>()
const f = useFormat()
</script>
<template>
  <div>
    <h2 class="mb-2">Just booked</h2>
    <ul class="card" aria-live="polite">
      <li v-for="b in booked" :key="b.slip.id" class="flex justify-between gap-3 items-center px-4 py-2">
        <span class="min-w-0" :class="{ 'line-through soft': b.back }"
          >{{ b.what }}
          <span class="soft text-[12px] block"
            ><RouterLink class="go mono touch" :to="{ name: 'slip', params: { id: b.slip.id } }">{{
              b.slip.number
            }}</RouterLink>
            {{ b.slip.title }}, {{ f.when(b.slip.bookedAt) }}</span
          ></span
        ><span v-if="b.back" class="soft text-[13px]">taken back by {{ b.back }}</span
        ><button v-else type="button" class="btn btn-small" @click="emit('back', b.slip)">Take it back</button>
      </li>
    </ul>
  </div>
</template>
