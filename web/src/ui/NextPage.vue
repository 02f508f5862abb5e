<script setup lang="ts">
/** Shows what comes after the last line of a list; on paper, where nothing can be asked for, it says that the list goes on. */
defineProps<{ label: string }>()
defineEmits<{ more: [] }>()
</script>
<template>
  <div>
    <button type="button" class="btn btn-small" @click="$emit('more')">{{ label }}</button>
    <p class="on-paper">The list goes on: on paper stands what the screen showed of it.</p>
  </div>
</template>
