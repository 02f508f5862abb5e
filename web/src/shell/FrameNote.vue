<script setup lang="ts">
/** A word above the page that stays until somebody presses its button. */
defineProps<{ act: string }>()
defineEmits<{ pressed: [] }>()
</script>
<template>
  <div class="note no-print" role="alert">
    <span><slot /></span>
    <button type="button" class="btn btn-small" @click="$emit('pressed')">{{ act }}</button>
  </div>
</template>
<style scoped>
.note {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  justify-content: space-between;
  padding: 8px 14px;
  margin-bottom: 10px;
  border: 1px solid var(--buoy);
  border-radius: 6px;
  background: var(--sheet);
}
</style>
