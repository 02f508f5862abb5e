<script setup lang="ts">
/** Why comes first: then each scan is a line of one, ready to be booked. */
import { useSlip } from '../ledger/slip-store.ts'
import { useReasons } from './reasons.ts'

const slip = useSlip()
const reasons = useReasons()
void reasons.need()
function because(reason: string) {
  slip.content.head.reason = reason
  document.querySelector<HTMLInputElement>('[data-add] input')?.focus()
}
</script>
<template>
  <div class="mt-3">
    <p class="label">What happened? Then each scan is one.</p>
    <div class="flex flex-wrap gap-2">
      <!-- Keeps their room where they come late. -->
      <span v-if="!reasons.there" class="btn btn-small invisible" aria-hidden="true">…</span>
      <button
        v-for="r in reasons.active"
        :key="r.id"
        type="button"
        class="btn btn-small"
        :class="{ 'btn-act': slip.content.head.reason === r.id }"
        :aria-pressed="slip.content.head.reason === r.id"
        @click="because(r.id)"
      >
        {{ r.name }}
      </button>
    </div>
  </div>
</template>
