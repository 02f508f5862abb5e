<script setup lang="ts">
import AskDialog from '../ui/AskDialog.vue'
defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()
const KEYS = [
  ['/', 'go to the scan strip'],
  ['Enter', 'confirm and go on'],
  ['↑ ↓', 'from line to line'],
  ['Ctrl + Enter', 'book the slip'],
  ['Esc', 'a step back'],
  ['Alt + 1 … 8', 'Receive, Issue, Move, Waste, Count, Restock, Stock, Ledger'],
  ['?', 'this help'],
]
</script>
<template>
  <AskDialog :open="open" title="Keys" @close="$emit('close')">
    <table class="list">
      <tbody>
        <tr v-for="[k, what] in KEYS" :key="k">
          <td class="mono whitespace-nowrap">{{ k }}</td>
          <td>{{ what }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft mt-3 text-[13px]">A scanner works on every screen, whatever has the focus.</p>
    <button type="button" class="btn mt-4" @click="$emit('close')">Close</button>
  </AskDialog>
</template>
