<script setup lang="ts">
import { computed } from 'vue'
import AskDialog from '../ui/AskDialog.vue'
import { APPLE } from './keys.ts'
import { keepSingleKeys, singleKeys } from './single-keys.ts'
const props = defineProps<{
  open: boolean
  /** What Alt and a digit lead to, in their order: 1 to 9, then 0. */ tabs: readonly string[]
}>()
defineEmits<{ close: [] }>()
const keys = computed(() => [
  ...(singleKeys.value ? [['/', 'go to the scan strip']] : []),
  ['Enter', 'confirm and go on'],
  ['↑ ↓', 'from line to line'],
  ['Ctrl + Enter', 'book the slip, or go on with it'],
  ['Esc', 'a step back'],
  ['Shift + Enter', 'on a delivery: another lot of the same item'],
  [`${APPLE ? 'Ctrl' : 'Alt'} + 1 … ${props.tabs.length % 10}`, props.tabs.join(', ')],
  ...(singleKeys.value ? [['?', 'this help']] : []),
])
</script>
<template>
  <AskDialog :open="open" title="Keys" @close="$emit('close')">
    <table class="list">
      <tbody>
        <tr v-for="[k, what] in keys" :key="k">
          <td class="mono whitespace-nowrap">{{ k }}</td>
          <td>{{ what }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft mt-3 text-[13px]">
      A scanner works on every screen, whatever has the focus. What is typed while nothing has it goes into the scan
      strip.
    </p>
    <p class="soft mt-2 text-[13px]">
      Where <span class="mono">/</span> and <span class="mono">?</span> do not work by themselves, this help is in the
      menu of your name.
    </p>
    <div class="flex flex-wrap gap-4 items-center justify-between mt-4">
      <button type="button" class="btn" @click="$emit('close')">Close</button
      ><label class="flex gap-2 items-center"
        ><input
          type="checkbox"
          :checked="singleKeys"
          @change="keepSingleKeys(($event.target as HTMLInputElement).checked)"
        /><span><span class="mono">/</span> and <span class="mono">?</span> work by themselves</span></label
      >
    </div>
  </AskDialog>
</template>
