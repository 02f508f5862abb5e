<script setup lang="ts">
/** Beneath what something was worth when it was booked: what it is worth by now, and by which slips. */
import type { SlipView } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'

defineProps<{
  now: NonNullable<SlipView['now']>
  /** Of the whole slip: with the currency. */
  whole?: boolean
  /** By which slip is said already, for all lines. */
  said?: boolean
}>()
const f = useFormat()
</script>

<template>
  <div class="text-[12px] soft whitespace-nowrap">
    now <span class="mono">{{ whole ? f.amount(now.value, true) : f.money(now.value, true) }}</span>
    <template v-for="(s, n) in said ? [] : now.by.slice(0, 2)" :key="s.id"
      >{{ n ? ', ' : ' by '
      }}<RouterLink class="go mono" :to="{ name: 'slip', params: { id: s.id } }">{{ s.number }}</RouterLink></template
    ><template v-if="!said && now.by.length > 2"> and {{ now.by.length - 2 }} more</template>
  </div>
</template>
