<script setup lang="ts">
/** The needs of a job: how much of each it takes, whether that is here, and what can be done where it is not. */
import { X } from '@lucide/vue'
import { computed, ref } from 'vue'
import type { JobLine, JobLineView, JobView } from '@shelve/contract'
import { decimal, formatDecimal, plainly, type ToldLine } from '@shelve/core'
import BothVersions from '../papers/BothVersions.vue'
import LineNumber from '../papers/LineNumber.vue'
import LiesElsewhere from '../restocking/LiesElsewhere.vue'
import { useIndex } from '../shell/index-store.ts'
import DiscOf from '../ui/DiscOf.vue'
import { useFormat } from '../ui/format.ts'
import LevelBar from '../ui/LevelBar.vue'
import KeepForm from './KeepForm.vue'
import TakeInstead from './TakeInstead.vue'
import { behind, binOf, WHENCE } from './whence.ts'

const props = defineProps<{
  lines: readonly JobLine[]
  known: ReadonlyMap<string, JobLineView>
  writes: boolean
  refused: readonly { line: string | null; message: string }[]
  differing: ReadonlyMap<string, ToldLine<JobLine>>
  /** Whether anything was taken for it: then that has a column. */
  began: boolean
  /** Where the job is done. */
  place: string
  placeName: string
  job: string
}>()
const emit = defineEmits<{
  remove: [line: string]
  settle: [line: string, mine: boolean]
  /** Something of a line was kept for the job: how that stands now. */
  kept: [job: JobView]
  free: [line: string]
  instead: [line: string, item: string]
}>()
const index = useIndex()
const f = useFormat()
const rows = computed(() =>
  props.lines.map(l => ({ l: l as JobLine, d: props.known.get(l.id), item: index.byId.get(l.item) })),
)
const places = computed(() => f.placesOf(rows.value.flatMap(({ d }) => [d?.need, d?.used])))
const more = (d: string | undefined) => Number(d ?? 0) > 0
const typedOn = ({ l, d }: { l: JobLine; d: JobLineView | undefined }) => !d || d.typed !== l.typed || d.unit !== l.unit
/** What is wrong with a line: what the server refused, or why it cannot read what was typed. */
const at = (r: { l: JobLine; d: JobLineView | undefined }) =>
  props.refused.find(x => x.line === r.l.id)?.message ?? (typedOn(r) ? null : (r.d?.unread ?? null))
/** How a need by its template comes about, where it was rounded up to whole ones. */
const inWhole = (d: JobLineView, decimals: number | undefined) =>
  decimals === 0 && d.exact && d.exact !== d.need
    ? `${f.number(/^\d+(\.\d{1,3})?/.exec(d.exact)![0])}${/\.\d{4}|…/.test(d.exact) ? '…' : ''}, in whole ones`
    : ''
const word = (d: JobLineView) =>
  WHENCE[d.whence].word + (d.whence === 'missing' && more(d.missing) ? ` ${f.number(d.missing)}` : '')
/** Where not all of it is here, what may be taken instead is a touch away. */
const offered = (d: JobLineView | undefined) => props.writes && d !== undefined && more(d.left) && d.whence !== 'here'
/** What is not where the job is done. */
const lacking = (d: JobLineView) =>
  formatDecimal(d.elsewhere.reduce((sum, e) => sum + decimal(e.quantity), decimal(d.missing) + decimal(d.late)))
/** The line of which something is being kept. */
const keeping = ref<string | null>(null)
const says = (l: JobLine | null) => l && `${l.typed || 'as its template says'} ${l.unit ?? ''}`.trim()
</script>
<template>
  <div class="overflow-x-auto">
    <table class="list edge">
      <thead>
        <tr>
          <th>Need</th>
          <th class="text-right!">Takes</th>
          <th><span class="sr-only">Unit</span></th>
          <th v-if="began" class="text-right!">Taken</th>
          <th class="no-print bar">Here</th>
          <th><span class="sr-only">Whether it can be met</span></th>
          <th>From</th>
          <th v-if="writes" class="no-print"><span class="sr-only">What can be done</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="r in rows" :key="r.l.id"
          ><tr>
            <td class="min-w-32 wrap-anywhere">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.l.item } }">{{
                r.item?.name ?? r.d?.named.name
              }}</RouterLink>
              <div class="soft text-[12px]">
                <span class="mono">{{ r.item?.code ?? r.d?.named.code }}</span><template v-if="r.l.optional">
                  · may be left out</template
                ><template v-for="o in offered(r.d) ? [] : (r.d?.instead ?? [])" :key="o.item.id">
                  · or {{ o.typed }} {{ o.item.name }}</template
                ><template v-if="r.l.note"> · {{ r.l.note }}</template>
              </div>
            </td>
            <td class="num">
              <LineNumber
                v-if="writes"
                v-model="r.l.typed"
                class="w-20! said-so"
                :line="r.l.id"
                :placeholder="r.d ? f.number(r.d.need) : ''"
                :aria-label="`Takes of ${r.item?.name}`"
                :invalid="!!at(r)"
              /><template v-else>{{ f.aligned(r.d?.need, places) }}</template>
              <button
                v-if="writes && r.d && r.d.last !== null && r.d.last !== '0' && r.d.last !== r.d.need"
                type="button"
                class="touch soft text-[12px] font-sans cursor-pointer block ml-auto"
                :aria-label="`Take as much ${r.item?.name} as the last time: ${f.number(r.d.last)}`"
                @click="r.l.typed = plainly(decimal(r.d.last))"
              >
                last time <span class="mono">{{ f.number(r.d.last) }}</span>
              </button>
              <div
                v-if="r.d && !typedOn(r) && inWhole(r.d, r.item?.decimals)"
                class="soft text-[12px] font-sans whitespace-normal"
              >
                {{ inWhole(r.d, r.item?.decimals) }}
              </div>
              <div
                v-else-if="r.d && !typedOn(r) && r.l.typed && r.l.typed !== r.d.need && !r.d.unread"
                class="soft text-[12px]"
              >
                = {{ f.number(r.d.need) }}
              </div>
            </td>
            <td class="soft unit">{{ r.item?.unit ?? r.d?.named.unit }}</td>
            <td v-if="began" class="num">{{ more(r.d?.used) ? f.aligned(r.d!.used, places) : '' }}</td>
            <td class="bar no-print"><LevelBar v-if="r.d" :levels="r.d.levels" /></td>
            <td>
              <div v-if="r.d && more(r.d.lies)" class="text-[12px]">{{ f.number(r.d.lies) }} picked, with it</div>
              <template v-if="r.d && more(r.d.left)"
                ><span
                  class="inline-flex items-center gap-1.5 whitespace-nowrap"
                  :class="{ error: r.d.whence === 'missing', 'text-straw': r.d.whence === 'late' }"
                  ><DiscOf :fill="WHENCE[r.d.whence].fill" />{{ word(r.d) }}</span
                >
                <div v-if="behind(r.d, f)" class="soft text-[12px]">{{ behind(r.d, f) }}</div>
                <div v-if="r.d.wished !== r.d.held" class="text-straw text-[12px]">
                  {{ f.number(r.d.wished) }} were kept for it: stock has fallen under that
                </div></template
              ><span v-else-if="r.d && more(r.d.used)" class="soft">all taken</span>
            </td>
            <td class="text-[13px] wrap-anywhere min-w-20">
              <template v-if="r.d?.made"
                ><RouterLink class="go" :to="{ name: 'job', params: { id: r.d.made.id } }">{{
                  r.d.made.code
                }}</RouterLink
                >, below</template
              >
              <template v-if="r.d?.first"
                ><div>{{ binOf(r.d.first.place, placeName) }}</div>
                <div v-if="r.d.first.lot" class="soft text-[12px]">lot {{ r.d.first.lot }}</div></template
              >
              <LiesElsewhere
                v-if="r.d?.elsewhere.length"
                :item="r.l.item"
                :name="r.d.named.name"
                :place="place"
                :bring="lacking(r.d)"
                :elsewhere="r.d.elsewhere.map(e => ({ ...e, available: e.quantity, spare: '0' }))"
              /><TakeInstead
                v-if="r.d && offered(r.d)"
                :options="r.d.instead"
                :name="r.d.named.name"
                @take="item => emit('instead', r.l.id, item)"
              />
            </td>
            <td v-if="writes" class="no-print pl-0!">
              <span class="flex flex-wrap justify-end">
                <button
                  v-if="r.d && more(r.d.wished)"
                  type="button"
                  class="btn btn-quiet btn-small"
                  :aria-label="`Free what is kept of ${r.item?.name}`"
                  @click="emit('free', r.l.id)"
                >
                  Free it</button
                ><button
                  v-if="r.d && (more(r.d.here) || r.d.elsewhere.length)"
                  type="button"
                  class="btn btn-quiet btn-small"
                  :aria-label="`Keep ${r.item?.name} for it`"
                  :aria-expanded="keeping === r.l.id"
                  @click="keeping = keeping === r.l.id ? null : r.l.id"
                >
                  Keep some</button
                ><button
                  type="button"
                  class="btn btn-quiet btn-small px-1!"
                  :aria-label="`Take ${r.item?.name} off`"
                  title="Take it off"
                  @click="emit('remove', r.l.id)"
                >
                  <X :size="15" aria-hidden="true" /></button
              ></span>
            </td>
          </tr>
          <tr v-if="writes && keeping === r.l.id && r.d" class="no-print">
            <td colspan="8" class="pt-0!">
              <KeepForm
                :job="job"
                :line="r.d"
                :place="place"
                @close="keeping = null"
                @kept="
                  j => {
                    keeping = null
                    emit('kept', j)
                  }
                "
              />
            </td>
          </tr>
          <tr v-if="at(r) || differing.has(r.l.id)" class="said no-print">
            <td colspan="8" class="pt-0!">
              <p v-if="at(r)" class="error" role="alert">{{ at(r) }}</p>
              <BothVersions
                v-if="differing.has(r.l.id)"
                :by="differing.get(r.l.id)!.by"
                :theirs="says(differing.get(r.l.id)!.content)"
                @take="emit('settle', r.l.id, false)"
                @keep="emit('settle', r.l.id, true)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>
<style scoped>
/* What the template says stands there as good as typed. */
.said-so::placeholder {
  color: var(--ink);
  opacity: 1;
}
.bar {
  min-width: 64px;
  width: 76px;
}
</style>
