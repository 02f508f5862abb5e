<script setup lang="ts">
/** One line of a list that is picked: where it lies, what is asked, what is taken. */
import type { SlipLine } from '@shelve/contract'
import { leastOf } from '@shelve/core'
import { useFormat } from '../ui/format.ts'

defineProps<{
  line: SlipLine
  name: string
  unit: string
  where: string
  /** For what it is; null: all of them are for one. */ whither: string | null
  /** So many decimals stand under each other. */ places: number
  on: boolean
  refused: boolean
}>()
defineEmits<{ go: [] }>()
const f = useFormat()
</script>
<template>
  <tr class="link" :class="{ on }" @click="$emit('go')">
    <td class="wrap-anywhere min-w-20">{{ where }}</td>
    <td class="wrap-anywhere min-w-28">
      <button type="button" class="touch font-medium cursor-pointer text-left" @click.stop="$emit('go')">
        {{ name }}
      </button>
      <span v-if="line.lot?.code" class="soft text-[12px] block"
        >lot <span class="mono">{{ line.lot.code }}</span></span
      >
    </td>
    <td v-if="whither !== null" class="soft wrap-anywhere min-w-20">{{ whither }}</td>
    <td class="num">{{ f.aligned(leastOf(line.asked), places) }}</td>
    <td class="num">
      <b v-if="line.typed.trim()" :class="{ 'text-straw': line.typed.trim() !== line.asked, error: refused }">{{
        line.typed
      }}</b><span v-else class="soft taken">–</span>
    </td>
    <td class="soft unit wrap-anywhere min-w-14">{{ unit }}</td>
  </tr>
</template>
<style scoped>
tr.on td {
  background: var(--frost);
}
@media print {
  .taken {
    display: inline-block;
    width: 3.5em;
    border-bottom: 1px solid;
    color: transparent;
  }
}
</style>
