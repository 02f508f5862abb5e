<script setup lang="ts">
/** What can be done with a booked line: something else in its place, its price, its invoice, or taking it back. */
import type { Act } from './CorrectLine.vue'

defineProps<{ name: string; replace: boolean; price: boolean }>()
defineEmits<{ edit: [act: Act]; back: [] }>()
</script>
<template>
  <button v-if="replace" type="button" class="btn btn-small" @click="$emit('edit', 'replace')">Replace</button>
  <template v-if="price"
    ><button type="button" class="btn btn-small ml-1" @click="$emit('edit', 'price')">Price</button
    ><button type="button" class="btn btn-small ml-1" @click="$emit('edit', 'invoiced_as')">Invoice</button></template
  >
  <button type="button" class="btn btn-small ml-1" @click="$emit('back')">Take back</button>
</template>
