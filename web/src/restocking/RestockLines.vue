<script setup lang="ts">
/** The lines of a restock slip: typed down the list where it is open, with the level of each and where else it lies. */
import { computed } from 'vue'
import { formatDecimal, readQuantity, type ToldLine } from '@shelve/core'
import type { RestockLine } from '@shelve/contract'
import BothVersions from '../papers/BothVersions.vue'
import LineNumber from '../papers/LineNumber.vue'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import LiesElsewhere from './LiesElsewhere.vue'
import type { useRestockPaper } from './restock-paper.ts'

type Paper = ReturnType<typeof useRestockPaper>
const props = defineProps<{
  lines: readonly RestockLine[]
  told: Paper['told']
  /** Whether it was asked for and is waited for, by somebody who may say that it will not come. */ cancels?: boolean
  /** Whether it is still open, and written on here. */ open: boolean
  writes: boolean
  refused: readonly { line: string | null; message: string }[]
  differing: ReadonlyMap<string, ToldLine<RestockLine>>
}>()
defineEmits<{
  remove: [line: string]
  settle: [line: string, mine: boolean]
  /** It will not come: the line that is asked about. */ cancel: [line: string]
}>()
const index = useIndex()
const f = useFormat()
const rows = computed(() => props.lines.map(l => ({ l: l as RestockLine, d: props.told(l) })))
const places = computed(() =>
  f.placesOf(rows.value.flatMap(({ d }) => [d.levels?.available, d.levels?.coming, d.owed])),
)
/** What is wrong with a line: what the server refused, or why it cannot read what was typed. */
const at = (d: { id: string; unread: string | null }) => props.refused.find(r => r.line === d.id)?.message ?? d.unread
const reading = (l: RestockLine, base: string) => {
  const item = index.byId.get(l.item)
  const r = item && l.typed.trim() ? readQuantity(l.typed, index.measure(item), l.unit ?? undefined, true) : undefined
  return r?.ok && (l.unit || /[a-z+*]/i.test(l.typed)) ? `= ${f.number(formatDecimal(r.quantity))} ${base}` : ''
}
const packs = (l: RestockLine) => index.byId.get(l.item)?.packs.filter(p => p.buying) ?? []
const says = (l: RestockLine | null) =>
  l && `${l.typed || 'no quantity'} ${l.unit ?? index.byId.get(l.item)?.unit ?? ''}`
</script>
<template>
  <div class="overflow-x-auto">
    <table class="list edge">
      <thead>
        <tr>
          <th>Item</th>
          <th>For</th>
          <th class="no-print">Level</th>
          <th>State</th>
          <th class="text-right! no-print">Have</th>
          <th class="text-right! no-print">Coming</th>
          <th class="text-right!">{{ open ? 'Ask for' : 'Asked' }}</th>
          <th v-if="!open" class="text-right!">To come</th>
          <th class="no-print">Lies elsewhere</th>
          <th v-if="writes || cancels" class="no-print"><span class="sr-only">What can be done</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="{ l, d } in rows" :key="l.id"
          ><tr>
            <td class="wrap-anywhere min-w-32">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: l.item } }">{{ d.name }}</RouterLink>
              <div class="mono soft text-[12px]">{{ d.code }}</div>
            </td>
            <td class="wrap-anywhere min-w-26">{{ d.placeName }}</td>
            <td class="w-32 no-print"><LevelBar v-if="d.levels" :levels="d.levels" /></td>
            <td>
              <StateDisc v-if="d.levels" :state="d.levels.state" />
              <div class="soft text-[12px]">{{ l.why }}</div>
              <div v-if="d.cancelled" class="soft text-[12px]">
                will not come: {{ d.cancelled.why }} ({{ d.cancelled.by }}, {{ f.when(d.cancelled.at) }})
              </div>
            </td>
            <td class="num no-print">{{ f.aligned(d.levels?.available, places) }}</td>
            <td class="num no-print">
              {{ d.levels && d.levels.coming !== '0' ? f.aligned(d.levels.coming, places) : '' }}
            </td>
            <td class="text-right whitespace-nowrap">
              <template v-if="writes"
                ><span class="inline-flex gap-1"
                  ><LineNumber
                    v-model="l.typed"
                    :line="l.id"
                    :style="{ width: `${Math.max(8, l.typed.length + 2)}ch` }"
                    :aria-label="`Ask for: ${d.name}`"
                    :invalid="!!at(d)"
                  /><span
                    v-if="!packs(l).length"
                    class="w-22 pl-2 self-center text-left whitespace-normal wrap-anywhere leading-tight"
                    >{{ d.base }}</span
                  ><select v-else v-model="l.unit" class="field field-small w-22!" :aria-label="`Unit of ${d.name}`">
                    <option :value="null">{{ d.base }}</option>
                    <option v-for="p in packs(l)" :key="p.name" :value="p.name">{{ p.name }}</option>
                  </select></span
                >
                <div class="soft text-[12px] mono">{{ reading(l, d.base) }}</div></template
              ><span v-else class="mono">{{ f.number(l.typed) }} {{ l.unit ?? d.base }}</span>
            </td>
            <td v-if="!open" class="num">
              {{ d.owed === '0' ? '' : f.aligned(d.owed, places) }}
              <div v-if="d.late" class="text-straw text-[12px] font-sans">not counted on</div>
            </td>
            <td class="no-print text-[13px]">
              <LiesElsewhere
                :item="l.item"
                :name="d.name"
                :place="l.place"
                :bring="d.quantity"
                :elsewhere="d.elsewhere"
              />
            </td>
            <td v-if="cancels" class="no-print text-right">
              <button
                v-if="d.owed !== '0'"
                type="button"
                class="btn btn-quiet btn-small"
                :aria-label="`Will not come: ${d.name}`"
                @click="$emit('cancel', l.id)"
              >
                Will not come
              </button>
            </td>
            <td v-if="writes" class="no-print">
              <button
                type="button"
                class="btn btn-quiet btn-small"
                :aria-label="`Remove ${d.name}`"
                @click="$emit('remove', l.id)"
              >
                Remove
              </button>
            </td>
          </tr>
          <tr v-if="differing.has(l.id)" class="said no-print">
            <td colspan="10" class="pt-0!">
              <BothVersions
                :by="differing.get(l.id)!.by"
                :theirs="says(differing.get(l.id)!.content)"
                @take="$emit('settle', l.id, false)"
                @keep="$emit('settle', l.id, true)"
              />
            </td>
          </tr>
          <tr v-if="at(d)" class="said">
            <td colspan="10" class="pt-0!">
              <p class="error" role="alert">{{ at(d) }}</p>
            </td>
          </tr></template
        >
      </tbody>
    </table>
  </div>
</template>
