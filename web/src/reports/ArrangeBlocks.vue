<script setup lang="ts">
/** Which blocks a screen has, and in which order: each can be hidden, moved up and moved down, by keyboard as by finger. */
import { ArrowDown, ArrowUp } from '@lucide/vue'
import { computed } from 'vue'
import AskDialog from '../ui/AskDialog.vue'

const props = defineProps<{ open: boolean; title: string; blocks: Record<string, string>; shown: readonly string[] }>()
const emit = defineEmits<{ close: []; keep: [order: string[]] }>()
const rows = computed(() => [...props.shown, ...Object.keys(props.blocks).filter(b => !props.shown.includes(b))])
function toggle(b: string) {
  emit('keep', props.shown.includes(b) ? props.shown.filter(x => x !== b) : [...props.shown, b])
}
function shift(b: string, by: 1 | -1) {
  const order = [...props.shown]
  const i = order.indexOf(b)
  if (i < 0 || i + by < 0 || i + by >= order.length) return
  order.splice(i, 1)
  order.splice(i + by, 0, b)
  emit('keep', order)
}
</script>
<template>
  <AskDialog :open="open" :title="title" @close="$emit('close')">
    <ul class="mb-4">
      <li v-for="(b, i) in rows" :key="b" class="flex items-center gap-3 py-1.5 border-b border-hair last:border-0">
        <label class="flex gap-2 items-center grow min-h-8"
          ><input type="checkbox" :checked="shown.includes(b)" @change="toggle(b)" />{{ blocks[b] }}</label
        >
        <template v-if="shown.includes(b)"
          ><button
            type="button"
            class="btn btn-quiet btn-small"
            :disabled="i === 0"
            :aria-label="`${blocks[b]} further up`"
            @click="shift(b, -1)"
          >
            <ArrowUp :size="16" aria-hidden="true" /></button
          ><button
            type="button"
            class="btn btn-quiet btn-small"
            :disabled="i === shown.length - 1"
            :aria-label="`${blocks[b]} further down`"
            @click="shift(b, 1)"
          >
            <ArrowDown :size="16" aria-hidden="true" /></button
        ></template>
      </li>
    </ul>
    <div class="flex gap-3">
      <button type="button" class="btn btn-act" @click="$emit('close')">Done</button
      ><button type="button" class="btn" @click="$emit('keep', Object.keys(blocks))">As it was at first</button>
    </div>
  </AskDialog>
</template>
