<script setup lang="ts">
/** A slip as it was booked; take it back whole or by lines, or replace a line. The pair stays visible. */
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { type SlipView } from '@shelve/contract'
import { leastOf } from '@shelve/core'
import { ApiProblem, get, post, said } from '../shell/api.ts'
import { useBeginning } from './begin-slip.ts'
import { takeSlipBack } from './book-slip.ts'
import { useScan } from '../scan/store.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import AskDialog from '../ui/AskDialog.vue'
import { useGoOn } from '../ui/go-on.ts'
import FigureOf from '../ui/FigureOf.vue'
import PictureRow from '../ui/PictureRow.vue'
import SaveAs from '../ui/SaveAs.vue'
import CountedLines from '../counting/CountedLines.vue'
import ChargesAnew from './ChargesAnew.vue'
import type { Act } from './CorrectLine.vue'
import CorrectRow from './CorrectRow.vue'
import LineActions from './LineActions.vue'
import LineFate from './LineFate.vue'
import LinesAtOnce from './LinesAtOnce.vue'
import WorthNow from './WorthNow.vue'
import { costSaid, ofCost } from './cost-said.ts'
import { KIND_WORDS, useFormat } from '../ui/format.ts'
import { v7 } from '../shell/uuid.ts'
import { useWay } from '../shell/way.ts'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const session = useSession()
const strip = useStrip()
const router = useRouter()
const way = useWay()
const begin = useBeginning()
const f = useFormat()
const slip = ref<SlipView | null>(null)
const wrong = ref('')
const asking = ref(false)
const why = ref('')
const reversal = v7()
async function load() {
  try {
    const s = await get<SlipView>(`/api/slips/${props.id}`)
    // A draft is not looked at but gone on with.
    if (s.state === 'draft' && s.kind !== 'correction' && s.kind !== 'closing') {
      await way.replace({
        name: s.kind === 'receipt' ? 'receive' : s.kind === 'count' ? 'sheet' : s.kind,
        params: { id: s.id },
      })
      return
    }
    slip.value = s
  } catch (e) {
    wrong.value = said(e)
  }
}
const reload = live(load, e => e.kind === 'booked' || e.kind === 'draft')
const counts = computed(() => slip.value?.kind === 'count' && slip.value.state === 'booked')
/** What was counted comes by itself: what is below it stands there once it is there. */
const countCame = ref(false)
const mayReverse = computed(
  () => session.may('reverse', slip.value?.place?.id ?? null) && slip.value?.state === 'booked',
)
const mayBook = computed(() => session.may('book', slip.value?.place?.id ?? null) && slip.value?.state === 'booked')
type Line = SlipView['lines'][number]
/** Of a correction only what it put in the place of something can be taken back. */
const canGo = (l: Line) =>
  (l.state === 'stands' || l.state === 'part_taken_back') && (slip.value?.kind !== 'correction' || l.act === 'replace')
const standing = computed(() => slip.value?.lines.filter(canGo) ?? [])
const lineOf = (id: string) => slip.value?.lines.find(l => l.id === id)
async function takeBack(lines: string[] | null) {
  try {
    const r = await takeSlipBack(props.id, { id: lines ? v7() : reversal, lines, why: why.value })
    strip.say(`Taken back by ${r.number}.`, 'good', [
      { label: 'Open it', run: () => void router.push({ name: 'slip', params: { id: r.id } }) },
    ])
    asking.value = false
    await reload()
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? (e.problem.fields[0]?.message ?? e.message) : said(e)
    asking.value = false
  }
}

/** The line being put right, and how; or all lines at once. */
const editing = ref<{ line: string; act: Act } | null>(null)
const atOnce = ref<'prices' | 'back' | 'charge' | 'charges' | null>(null)
function edit(line: string, act: Act) {
  if (slip.value!.content?.lines.some(l => l.id === line)) editing.value = { line, act }
}
async function corrected() {
  editing.value = atOnce.value = null
  await reload()
}
const pricesGo = computed(
  () => slip.value?.kind === 'receipt' && mayReverse.value && session.seeValue && standing.value.length > 0,
)
const backGoes = computed(() => slip.value?.kind === 'issue' && mayBook.value && standing.value.length > 0)
const chargeGoes = computed(
  () => (slip.value?.kind === 'issue' || slip.value?.kind === 'recharge') && mayBook.value && standing.value.length > 0,
)
/** What was made is put right as a whole: as a slip that will stand in its place. */
const anewGoes = computed(() => slip.value?.kind === 'make' && mayBook.value && standing.value.length > 0)
async function anew() {
  try {
    const { id } = await post<{ id: string }>(`/api/slips/${props.id}/anew`, { id: v7() })
    await way.push({ name: 'make', params: { id } })
  } catch (e) {
    wrong.value = said(e)
  }
}
/** The same is written once more, as a draft to be looked at: now, and of whatever lot is first to go. */
const againGoes = computed(
  () =>
    ['issue', 'move', 'waste', 'dispatch'].includes(slip.value?.kind ?? '') &&
    mayBook.value &&
    !slip.value?.content?.head.pick,
)
async function again() {
  const { place, taker, kind, head, lines } = slip.value!.content!
  await begin({
    kind,
    place,
    taker,
    effectiveAt: null,
    head: { ...head, note: '', why: '', due: null, pictures: [] },
    lines: lines.map(l => ({ ...l, id: v7(), lot: null, override: false, accepts: [], picture: null })),
  })
}
useGoOn(
  () => {
    if (!editing.value && !atOnce.value) atOnce.value = pricesGo.value ? 'prices' : backGoes.value ? 'back' : null
  },
  { of: () => props.id, opened: () => slip.value ?? reload() },
)
// What was handed out and is scanned while its slip is looked at comes back.
const comesBack = useTemplateRef('comesBack')
useScan().wants(async (m, named) => {
  if (!backGoes.value || named) return false
  if (m.kind === 'command') return atOnce.value === 'back' && (comesBack.value?.command(m.command!) ?? false)
  if (!standing.value.some(l => l.item?.id === m.item)) return false
  editing.value = null
  atOnce.value = 'back'
  await nextTick()
  await nextTick()
  return comesBack.value?.scanned(m) ?? false
})
const canReplace = computed(() =>
  ['receipt', 'issue', 'bring_back', 'waste', 'move', 'dispatch', 'arrival', 'opening', 'count'].includes(
    slip.value?.kind ?? '',
  ),
)
const hasPrice = computed(() => slip.value?.kind === 'receipt' || slip.value?.kind === 'opening')
const costWords = (l: Line) => (session.seeValue && costSaid(typedOf(l.id))) || 'what it cost'
const typedOf = (id: string) => slip.value?.content?.lines.find(x => x.id === id)
/** Asked for on a list, and not taken: nothing of it moved. */
const untaken = (l: Line) => !l.typed.trim() && !!typedOf(l.id)?.asked
const print = () => window.print()
const quantityPlaces = computed(() => f.placesOf(slip.value?.lines.map(l => l.quantity) ?? []))
</script>
<template>
  <NotThere v-if="wrong && !slip" :said="wrong" :to="{ name: 'ledger' }" back="Back to the ledger" />
  <p v-else-if="wrong" class="error mb-3" role="alert">
    {{ wrong }} <button type="button" class="btn btn-small" @click="wrong = ''">Close</button>
  </p>
  <article v-if="slip" class="slip max-w-5xl">
    <div class="px-6 pt-5 pb-3 flex justify-between gap-5 flex-wrap">
      <div>
        <h1>{{ KIND_WORDS[slip.kind] }} {{ slip.title }}</h1>
        <p class="soft">
          <template v-if="slip.place">{{ slip.place.name }} · </template>happened {{ f.when(slip.effectiveAt)
          }}<template v-if="slip.bookedAt"> · booked {{ f.when(slip.bookedAt) }} by {{ slip.bookedBy }}</template
          ><template v-if="slip.witness"> · {{ slip.witness }} was there</template
          ><template v-if="slip.taker"> · {{ slip.taker }}</template
          ><template v-if="slip.content?.head.deliveryNote">
            · delivery note <span class="mono">{{ slip.content.head.deliveryNote }}</span></template
          >
        </p>
        <p v-if="slip.content?.head.note" class="mt-1">{{ slip.content.head.note }}</p>
        <div v-if="slip.content?.head.pictures.length" class="mt-2 no-print">
          <PictureRow fixed :slip="slip.id" :model-value="slip.content.head.pictures" what="the paper" />
        </div>
        <p v-if="slip.charges.length && session.seeValue" class="mt-1">
          <template v-for="(c, i) in slip.charges" :key="i"
            >{{ i ? ', ' : '' }}{{ c.label || 'freight' }} <b class="mono">{{ f.amount(c.amount) }}</b> by
            {{ c.basis }}</template
          >
        </p>
        <p v-if="slip.kind === 'dispatch' && slip.number" class="mt-1">
          <RouterLink class="go" :to="{ name: 'transfer', params: { id: slip.id } }">What has become of it</RouterLink>
        </p>
        <p v-if="slip.kind === 'arrival' && slip.content?.head.sent" class="mt-1">
          <RouterLink class="go" :to="{ name: 'transfer', params: { id: slip.content.head.sent } }"
            >What was sent</RouterLink
          >
        </p>
        <p v-if="slip.corrects" class="mt-1">
          Corrects
          <RouterLink class="go mono" :to="{ name: 'slip', params: { id: slip.corrects.id } }">{{
            slip.corrects.number
          }}</RouterLink>
        </p>
        <p v-for="c in slip.correctedBy" :key="c.id" class="mt-1">
          Corrected by
          <RouterLink class="go mono" :to="{ name: 'slip', params: { id: c.id } }">{{ c.number }}</RouterLink>,
          {{ f.when(c.bookedAt) }}
        </p>
      </div>
      <div class="text-right ml-auto">
        <p class="mono text-[18px] font-semibold">{{ slip.number ?? 'draft' }}</p>
        <p v-if="slip.value && session.seeValue" class="mono">
          <FigureOf
            v-if="slip.number"
            figure="slip-value"
            :slip="slip.id"
            :label="`Change of stock by ${slip.number}`"
            >{{ f.amount(slip.value, true) }}</FigureOf
          >
        </p>
        <WorthNow v-if="slip.now?.value && session.seeValue" :now="slip.now" whole />
      </div>
    </div>
    <ChargesAnew
      v-if="atOnce === 'charges'"
      :slip="slip"
      :line="standing[0]!.id"
      @done="corrected"
      @leave="atOnce = null"
      @wrong="m => (wrong = m)"
    />
    <LinesAtOnce
      v-else-if="atOnce"
      ref="comesBack"
      :key="atOnce"
      :slip="slip"
      :what="atOnce"
      @done="corrected"
      @leave="atOnce = null"
      @wrong="m => (wrong = m)"
    />
    <CountedLines v-if="counts" :slip="slip.id" @came="countCame = true">
      <template #fate="{ line }"><LineFate :line="lineOf(line)" /></template>
      <template #actions="{ line }"
        ><LineActions
          v-if="mayReverse && lineOf(line) && canGo(lineOf(line)!)"
          :name="lineOf(line)!.item?.name ?? ''"
          replace
          :price="false"
          @edit="act => edit(line, act)"
          @back="takeBack([line])"
      /></template>
      <template #under="{ line }"
        ><CorrectRow
          v-if="editing?.line === line"
          :slip="slip"
          :editing="editing"
          :why="why"
          :columns="8"
          @done="corrected"
          @leave="editing = null"
          @wrong="m => (wrong = m)"
      /></template>
    </CountedLines>
    <div v-else class="overflow-x-auto">
      <table class="list">
        <thead>
          <tr>
            <th>Item</th>
            <th>Typed</th>
            <th class="text-right!">Quantity</th>
            <th>From → to</th>
            <th>Lot</th>
            <th v-if="session.seeValue" class="text-right!">Value</th>
            <th><span class="sr-only">Correct</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="l in slip.lines" :key="l.id">
            <tr :class="{ undone: l.state === 'taken_back' || l.state === 'replaced' }">
              <td class="wrap-anywhere min-w-28">
                <RouterLink v-if="l.item" class="font-medium" :to="{ name: 'item', params: { id: l.item.id } }">{{
                  l.item.name
                }}</RouterLink>
                <div class="mono soft text-[12px]">{{ l.item?.code }}</div>
                <div v-if="l.note || typedOf(l.id)?.direct?.person || typedOf(l.id)?.picture" class="text-[12px]">
                  {{
                    [typedOf(l.id)?.direct?.person && `for ${typedOf(l.id)?.direct?.person}`, l.note]
                      .filter(Boolean)
                      .join(' · ')
                  }}
                  <PictureRow
                    v-if="typedOf(l.id)?.picture"
                    fixed
                    :slip="slip.id"
                    :model-value="[typedOf(l.id)!.picture!]"
                    :what="l.item?.name ?? 'it'"
                  />
                </div>
                <LineFate :line="l" />
              </td>
              <td v-if="ofCost(l.act)" colspan="2">{{ costWords(l) }}</td>
              <td v-if="untaken(l)" colspan="2" class="soft">
                not taken, of <span class="mono">{{ f.number(leastOf(typedOf(l.id)!.asked)) }}</span>
              </td>
              <td v-else-if="!ofCost(l.act)" class="mono">{{ l.typed }}{{ l.unit ? ` ${l.unit}` : '' }}</td>
              <td v-if="!ofCost(l.act) && !untaken(l)" class="num">
                <span class="struck">{{ f.aligned(l.quantity, quantityPlaces) }}</span>
                <span class="soft unit ml-[1ch]">{{ l.item?.unit }}</span>
              </td>
              <td class="wrap-anywhere min-w-28">
                <div v-for="m in l.movements.filter(x => !x.revalues)" :key="m.seq" class="text-[13px]">
                  <span v-if="m.corrects" class="soft">back: </span>{{ m.from }} → {{ m.to
                  }}<span v-if="l.movements.length > 1" class="mono soft ml-2">{{ f.number(m.quantity) }}</span>
                </div>
                <div v-if="l.movements.some(x => x.revalues)" class="soft text-[12px]">
                  {{ l.movements.filter(x => x.revalues).length }} later value{{
                    l.movements.filter(x => x.revalues).length === 1 ? '' : 's'
                  }}
                  put right
                </div>
              </td>
              <td class="mono text-[13px] wrap-anywhere min-w-26">
                <div v-for="lot in new Set(l.movements.map(m => m.lot).filter(Boolean))" :key="lot!">{{ lot }}</div>
              </td>
              <td v-if="session.seeValue" class="num">
                <span v-if="!ofCost(l.act) && !untaken(l)" class="struck">{{ f.money(l.value, true) }}</span>
                <WorthNow v-if="l.now?.value" :now="l.now" :said="slip.now?.by.length === 1" />
              </td>
              <td class="text-right whitespace-nowrap">
                <LineActions
                  v-if="mayReverse && canGo(l) && !untaken(l) && slip.kind !== 'make'"
                  :name="l.item?.name ?? ''"
                  :replace="canReplace"
                  :price="hasPrice && session.seeValue"
                  @edit="act => edit(l.id, act)"
                  @back="takeBack([l.id])"
                />
              </td>
            </tr>
            <CorrectRow
              v-if="editing?.line === l.id"
              :slip="slip"
              :editing="editing"
              :why="why"
              :columns="7"
              @done="corrected"
              @leave="editing = null"
              @wrong="m => (wrong = m)"
            />
          </template>
        </tbody>
      </table>
    </div>
    <div v-if="!counts || countCame" class="px-6 py-4 flex flex-wrap gap-3 items-center border-t border-hair no-print">
      <button v-if="pricesGo" type="button" class="btn" @click="atOnce = 'prices'">Put its prices right</button
      ><button v-if="pricesGo" type="button" class="btn" @click="atOnce = 'charges'">
        {{ slip.charges.length ? 'Put its freight right' : 'Add its freight' }}</button
      ><button v-if="backGoes" type="button" class="btn" @click="atOnce = 'back'">Bring some of it back</button
      ><button v-if="chargeGoes" type="button" class="btn" @click="atOnce = 'charge'">Charge it to somebody else</button
      ><button v-if="againGoes" type="button" class="btn" @click="again">Write the same again</button
      ><button v-if="anewGoes" type="button" class="btn" @click="anew">Put it right</button
      ><button v-if="mayReverse && standing.length" type="button" class="btn" @click="asking = true">
        Take the whole slip back</button
      ><RouterLink v-if="slip.kind === 'receipt'" class="btn" :to="{ name: 'labels', query: { slip: slip.id } }"
        >Print labels</RouterLink
      ><SaveAs
        v-if="slip.kind === 'count' && slip.number"
        foot
        :path="`/api/counts/${slip.id}`"
        :name="`count-${slip.number}`"
      /><button type="button" class="btn" @click="print">Print</button
      ><span v-if="slip.hash" class="mono soft text-[12px] ml-auto" :title="`Chained by SHA-256: ${slip.hash}`"
        >seal {{ slip.hash.slice(0, 12) }}</span
      >
    </div>
    <AskDialog :open="asking" :title="`Take ${slip.number} back?`" @close="asking = false">
      <p>
        A correction takes {{ standing.length }} line{{ standing.length === 1 ? '' : 's' }} back, as if they had never
        been; both slips stay to be seen. Values that followed from it are put right.
      </p>
      <label class="block mt-3"
        ><span class="label">Why (if you like)</span><input v-model="why" class="field"
      /></label>
      <div class="flex gap-3 mt-5">
        <button type="button" class="btn btn-act" @click="takeBack(null)">Take it back</button
        ><button type="button" class="btn" @click="asking = false">Leave it</button>
      </div>
    </AskDialog>
  </article>
</template>
<style scoped>
td:first-child,
th:first-child {
  padding-left: 24px;
}
</style>
