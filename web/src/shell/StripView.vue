<script setup lang="ts">
import { useStrip } from './strip.ts'
const strip = useStrip()
</script>
<template>
  <div class="holder no-print" role="status" aria-live="polite">
    <div v-if="strip.message" :key="strip.message.key" class="message" :class="strip.message.tone">
      <span>{{ strip.message.text }}</span>
      <div class="does">
        <button
          v-for="a in strip.message.actions"
          :key="a.label"
          type="button"
          class="btn btn-small"
          @click="
            () => {
              a.run()
              strip.clear()
            }
          "
        >
          {{ a.label }}
        </button>
        <button type="button" class="btn btn-quiet btn-small" aria-label="Close this message" @click="strip.clear()">
          Close
        </button>
      </div>
    </div>
  </div>
</template>
<style scoped>
.holder {
  position: sticky;
  bottom: 14px;
  z-index: 15;
  display: flex;
  justify-content: center;
  pointer-events: none;
  padding: 0 12px;
}
.message {
  pointer-events: auto;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
  background: var(--sheet);
  border: 1px solid var(--kelp);
  border-left-width: 5px;
  border-radius: 6px;
  padding: 8px 12px;
  max-width: 760px;
}
/* They stay together, beside what is said or below it. */
.does {
  display: flex;
  gap: 12px;
}
.bad {
  border-color: var(--buoy);
}
/* Beside the slip, not over its sums: what the shelf will look like stands there, and ends higher. */
@media (min-width: 1024px) {
  .holder {
    justify-content: flex-end;
  }
  .message {
    max-width: 440px;
  }
}
@media (max-width: 1023px) {
  .holder {
    bottom: 80px;
  }
}
</style>
