<script setup lang="ts">
/** The row under a booked line in which it is put right. */
import type { SlipView } from '@shelve/contract'
import CorrectLine, { type Act } from './CorrectLine.vue'

defineProps<{ slip: SlipView; editing: { line: string; act: Act }; why: string; columns: number }>()
defineEmits<{ done: []; leave: []; wrong: [message: string] }>()
</script>
<template>
  <tr>
    <td :colspan="columns" class="bg-frost">
      <CorrectLine
        :key="`${editing.line} ${editing.act}`"
        :slip="slip"
        :line="editing.line"
        :act="editing.act"
        :why="why"
        @done="$emit('done')"
        @leave="$emit('leave')"
        @wrong="m => $emit('wrong', m)"
      />
    </td>
  </tr>
</template>
