<script setup lang="ts">
/** How each stockroom stands: how many of its items are out, short, on their way, in range; what lies there is worth; and what is between two of them. */
import { computed } from 'vue'
import type { Today } from '@shelve/contract'
import FigureOf from '../ui/FigureOf.vue'
import { useFormat } from '../ui/format.ts'
import StateDisc from '../ui/StateDisc.vue'

const props = defineProps<{ shelves: Today['shelves']; onTheWay: Today['onTheWay']; place: string | null }>()
const f = useFormat()
const STATES = [
  ['out', 'out', 'out'],
  ['short', 'short', 'short'],
  ['coming', 'short_coming', 'on its way'],
  ['inRange', 'in_range', 'in range'],
] as const
const valued = computed(() => props.shelves.some(x => x.value !== undefined))
</script>
<template>
  <div class="flex flex-wrap justify-between gap-2 mb-2 items-baseline">
    <h2>On the shelves</h2>
    <p class="soft text-[12px] flex gap-3 flex-wrap">
      <span v-for="[k, d, label] in STATES" :key="k" class="inline-flex gap-1 items-center"
        ><StateDisc :state="d" bare />{{ label }}</span
      >
    </p>
  </div>
  <div class="overflow-x-auto">
    <table class="list card shelves" aria-label="On the shelves">
      <tbody>
        <tr v-for="x in shelves" :key="x.place">
          <td class="font-medium wrap-anywhere min-w-20">
            <RouterLink :to="{ name: 'stock', query: { place: x.place } }">{{ x.name }}</RouterLink>
          </td>
          <td v-for="[k, d, label] in STATES" :key="k" class="state">
            <span v-if="(k === 'inRange' ? x.inRange + x.over : x[k]) > 0" class="inline-flex gap-1 items-center"
              ><StateDisc :state="d" bare /><span class="mono">{{ k === 'inRange' ? x.inRange + x.over : x[k] }}</span
              ><span class="sr-only">{{ label }}</span></span
            >
          </td>
          <td v-if="valued" class="num">
            <FigureOf
              v-if="x.value !== undefined"
              figure="stock-value"
              :place="x.place"
              :label="`Value in ${x.name}`"
              >{{ f.amount(x.value) }}</FigureOf
            >
          </td>
        </tr>
        <tr v-if="onTheWay">
          <td class="font-medium" :colspan="STATES.length + 1">
            <RouterLink :to="{ name: 'transfers' }">On the way</RouterLink
            ><span class="soft text-[12px] ml-2"
              >{{ onTheWay.things }} thing{{ onTheWay.things === 1 ? '' : 's' }}, on no shelf</span
            >
          </td>
          <td v-if="valued" class="num">
            <FigureOf v-if="onTheWay.value !== undefined" figure="on-the-way" :place="place" label="Value on the way">{{
              f.amount(onTheWay.value)
            }}</FigureOf>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
<style scoped>
.shelves {
  border-collapse: separate;
  border-spacing: 0;
}
.shelves .state {
  width: 48px;
  padding-inline: 5px;
}
.shelves td:first-child {
  padding-left: 14px;
}
.shelves td:last-child {
  padding-right: 14px;
}
</style>
