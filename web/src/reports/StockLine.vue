<script setup lang="ts">
/** One item in the stock list: a component of its own, so that scrolling draws only the lines that come in. */
import { computed } from 'vue'
import type { StockRow } from '@shelve/contract'
import FigureOf from '../ui/FigureOf.vue'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{
  row: StockRow
  place: string | null
  columns: ReadonlySet<string>
  /** The most decimals of what is on hand and of what is available, in the whole list. */ handPlaces: number
  places: number
  /** On an upright tablet and on paper the word of its state stands below its bar. */ upright: boolean
}>()
const f = useFormat()
/** How far off its first expiry is, where that is near. */
const soon = computed(() =>
  props.row.firstExpiry && f.daysTo(props.row.firstExpiry) < 60 ? f.far(props.row.firstExpiry) : '',
)
</script>
<template>
  <div role="cell" class="min-w-0">
    <RouterLink
      class="touch-cut block truncate font-medium"
      :to="{ name: 'item', params: { id: row.item } }"
      :title="row.name"
      >{{ row.name }}</RouterLink><span class="mono soft text-[12px] block truncate"
      >{{ row.code }}<template v-if="row.category"> · {{ row.category }}</template></span
    >
  </div>
  <div v-if="columns.has('state')" role="cell" class="flex items-center gap-3">
    <!-- There a finger may hit either. -->
    <FigureOf v-if="upright" figure="state" :item="row.item" :place="place" :label="`State of ${row.name}`"
      ><LevelBar :levels="row.levels" class="w-24" /><StateDisc :state="row.levels.state"
    /></FigureOf>
    <template v-else
      ><LevelBar :levels="row.levels" class="w-24 shrink-0" /><FigureOf
        figure="state"
        :item="row.item"
        :place="place"
        :label="`State of ${row.name}`"
        ><StateDisc :state="row.levels.state" /></FigureOf
    ></template>
  </div>
  <div v-if="columns.has('onHand')" role="cell" class="num">
    <FigureOf figure="on-hand" :item="row.item" :place="place" :label="`On hand of ${row.name}`">{{
      f.number(row.levels.onHand)
    }}</FigureOf>{{ f.pad(row.levels.onHand, handPlaces) }}
  </div>
  <div v-if="columns.has('available')" role="cell" class="num">
    <FigureOf figure="available" :item="row.item" :place="place" :label="`Available of ${row.name}`">{{
      f.number(row.levels.available)
    }}</FigureOf>{{ f.pad(row.levels.available, places) }}
  </div>
  <div v-if="columns.has('available')" role="cell" class="soft unit line-clamp-2" :title="row.unit">
    {{ row.unit }}
  </div>
  <div v-if="columns.has('days')" role="cell" class="num">
    <FigureOf
      :none="row.levels.days === null || row.levels.onHand === '0'"
      figure="days"
      :item="row.item"
      :place="place"
      :label="`How long ${row.name} lasts`"
      >{{ row.levels.days === 0 ? '< 1 d' : `${row.levels.days} d` }}</FigureOf
    >
  </div>
  <div v-if="columns.has('firstExpiry')" role="cell">
    <FigureOf
      :none="!row.firstExpiry"
      figure="first-expiry"
      :item="row.item"
      :place="place"
      :label="`First expiry of ${row.name}`"
      >{{ f.date(row.firstExpiry) }}</FigureOf><span v-show="soon" class="text-straw text-[12px] block">{{
      soon
    }}</span>
  </div>
  <div v-if="columns.has('value')" role="cell" class="num">
    <FigureOf figure="value-here" :item="row.item" :place="place" :label="`Value of ${row.name}`">{{
      f.money(row.value)
    }}</FigureOf>
  </div>
</template>
<style scoped>
.num {
  text-align: right;
  font-family: var(--font-mono);
  white-space: pre;
}
</style>
