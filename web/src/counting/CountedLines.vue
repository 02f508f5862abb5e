<script setup lang="ts">
/** A booked count: counted beside expected at its minute, the difference and its value, line by line; and what was left out. */
import { computed, ref } from 'vue'
import type { CountReport } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{ slip: string }>()
const emit = defineEmits<{ /** They are known, or known not to come. */ came: [] }>()
defineSlots<{
  actions(of: { line: string }): unknown
  under(of: { line: string }): unknown
  fate(of: { line: string }): unknown
}>()
const session = useSession()
const f = useFormat()
const report = ref<CountReport | null>(null)
live(
  async () => {
    try {
      report.value = await get<CountReport>(`/api/counts/${props.slip}`)
    } finally {
      emit('came')
    }
  },
  e => e.kind === 'booked',
)
const rows = computed(() => report.value?.rows.filter(r => r.state === 'counted' || r.state === 'confirmed') ?? [])
const left = computed(() => report.value?.rows.filter(r => r.state === 'left_out') ?? [])
const allOut = ref(false)
/** What was left out, by why; of many the first. */
const notes = computed(() => {
  const by = new Map<string, string[]>()
  for (const r of left.value)
    by.set(r.note, [...(by.get(r.note) ?? []), r.lot ? `${r.item.name} (${r.lot})` : r.item.name])
  return [...by].map(([why, of]) => {
    const names = allOut.value ? of : of.slice(0, 8)
    return { why, names, more: of.length - names.length }
  })
})
const expectedPlaces = computed(() => f.placesOf(rows.value.map(r => r.expected)))
const countedPlaces = computed(() => f.placesOf(rows.value.map(r => r.counted)))
const differencePlaces = computed(() => f.placesOf(rows.value.map(r => r.difference)))
</script>
<template>
  <div v-if="report">
    <p class="px-6 pb-3">
      <b>{{ report.counted }}</b> counted, <b>{{ report.agreeing }}</b> as expected<template v-if="report.leftOut"
        >, <b>{{ report.leftOut }}</b> left out on purpose</template
      ><template v-if="report.left"
        >, <b class="text-straw">{{ report.left }} left</b>: it stays due for them</template
      ><template v-if="session.seeValue && report.net !== undefined">
        · differences net <b class="mono">{{ f.amount(report.net, true) }}</b>, gross
        <b class="mono">{{ f.amount(report.gross) }}</b></template
      >
    </p>
    <div class="overflow-x-auto">
      <table class="list">
        <thead>
          <tr>
            <th>Item</th>
            <th>Lot</th>
            <th class="text-right!">Expected</th>
            <th class="text-right!">Counted</th>
            <th class="text-right!">Difference</th>
            <th>in</th>
            <th v-if="session.seeValue" class="text-right!">Value</th>
            <th><span class="sr-only">Correct</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in rows" :key="r.line">
            <tr :class="{ undone: r.takenBack }">
              <td class="wrap-anywhere min-w-28">
                <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.item.id } }">{{
                  r.item.name
                }}</RouterLink>
                <div class="soft text-[12px]">
                  <span class="mono">{{ r.item.code }}</span> · {{ r.place
                  }}<template v-if="r.by"> · {{ r.by }}</template
                  ><template v-if="r.at"> · {{ f.when(r.at) }}</template>
                </div>
                <div v-if="r.note" class="text-[12px]">{{ r.note }}</div>
                <slot name="fate" :line="r.line" />
              </td>
              <td class="mono text-[13px] wrap-anywhere min-w-20">{{ r.lot }}</td>
              <td class="num">{{ f.aligned(r.expected, expectedPlaces) }}</td>
              <td class="num">
                <span class="struck">{{ f.aligned(r.counted, countedPlaces) }}</span>
                <div v-if="r.state === 'confirmed'" class="soft text-[12px] font-sans">as expected</div>
                <div v-else-if="r.expected === null" class="soft text-[12px] font-sans">with the line beside it</div>
              </td>
              <td class="num">
                <span v-if="r.difference === '0'" class="soft">none</span
                ><template v-else
                  >{{ f.number(r.difference, true) }}{{ f.pad(r.difference, differencePlaces) }}</template
                >
                <div v-if="r.open !== null && r.open !== '0' && r.open !== r.difference" class="soft text-[12px]">
                  {{ f.number(r.open, true) }} still open
                </div>
                <div
                  v-else-if="r.difference !== null && r.difference !== '0' && r.open === '0'"
                  class="soft text-[12px]"
                >
                  settled
                </div>
              </td>
              <td class="soft wrap-anywhere min-w-14">{{ r.item.unit }}</td>
              <td v-if="session.seeValue" class="num">
                <span class="struck">{{ r.value && r.value !== '0' ? f.money(r.value, true) : '' }}</span>
              </td>
              <td class="text-right whitespace-nowrap"><slot name="actions" :line="r.line" /></td>
            </tr>
            <slot name="under" :line="r.line" />
          </template>
        </tbody>
      </table>
    </div>
    <div v-if="left.length" class="px-6 py-3 border-t border-hair">
      <h2>Left out on purpose</h2>
      <p v-for="n in notes" :key="n.why" class="mt-1 text-[13px]">
        <b>{{ n.why || 'without a word' }}</b>: {{ n.names.join(', ')
        }}<template v-if="n.more">
          and
          <button type="button" class="go touch cursor-pointer" @click="allOut = true">
            {{ n.more }} more
          </button></template
        >
      </p>
    </div>
  </div>
</template>
<style scoped>
td:first-child,
th:first-child {
  padding-left: 24px;
}
</style>
