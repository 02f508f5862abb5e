<script setup lang="ts">
/** What a slip says as a whole: from whom, for whom, why, when. */
import { computed, nextTick, ref, watch } from 'vue'
import { equalParts, exactLetters } from '@shelve/core'
import type { Named, SlipKind } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { typedUnderWay } from '../shell/under-way.ts'
import AmongFields from '../issuing/AmongFields.vue'
import { useEachOwn } from '../issuing/each-own.ts'
import MakeHead from '../jobs/MakeHead.vue'
import ForWhom from '../places/ForWhom.vue'
import { useParties } from '../places/parties.ts'
import ArriveHead from '../moving/ArriveHead.vue'
import SendHead from '../moving/SendHead.vue'
import { meantName } from '../scan/search.ts'
import { useTakers } from '../scan/takers.ts'
import MomentField from '../ui/MomentField.vue'
import PictureRow from '../ui/PictureRow.vue'
import { useReasons } from '../waste/reasons.ts'
import ChargeFields from './ChargeFields.vue'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ kind: SlipKind }>()
const emit = defineEmits<{ /** The head is said: on to the lines. */ done: [] }>()
const slip = useSlip()
const index = useIndex()
const session = useSession()
const parties = useParties()
const own = useEachOwn()
const reasons = useReasons()
/** From a supplier, or back to one. */
const withSupplier = ['receipt', 'supplier_return'].includes(props.kind)
/** A delivery from somebody new makes a supplier, too. */
const known = withSupplier
  ? useChoices<Named>('/api/suppliers', e => e.kind === 'setup' || e.detail.slipKind === 'receipt').choices
  : undefined
const suppliers = computed(() => known?.value.filter(s => s.active) ?? [])
/** Something on this delivery is bought for someone: it goes straight to them. */
const straight = computed(
  () =>
    props.kind === 'receipt' &&
    slip.content.lines.some(l => l.item && (index.byId.get(l.item)?.kept ?? 'stock') !== 'stock'),
)
if (['receipt', 'issue', 'bring_back'].includes(props.kind)) void parties.need()
if (props.kind === 'waste') void reasons.need()
watch(
  () => reasons.there,
  () => {
    // As on a list that is there: letters that fit none any more (the first of a scan, say) leave it where it was.
    for (let typed = early; typed && head.value.reason === null; typed = typed.slice(0, -1))
      head.value.reason = reasons.begins(typed)
    early = ''
  },
)
/** What was typed on the list of reasons before they came: it means, when they come, what it would have meant. */
let early = ''
function typedEarly(e: KeyboardEvent) {
  if (reasons.there || e.key.length !== 1 || e.ctrlKey || e.altKey || e.metaKey) return
  if (!early) void typedUnderWay(reasons.need().then(() => nextTick()))
  early += e.key
}

const head = computed(() => slip.content.head)
/** A name that nobody bears yet makes a new supplier: whoever was meant is offered first. */
const unknown = computed(
  () =>
    suppliers.value.length > 0 &&
    head.value.supplier.trim().length > 2 &&
    !suppliers.value.some(s => exactLetters(s.name) === exactLetters(head.value.supplier.trim())),
)
const meant = ref<string>()
async function look() {
  const typed = head.value.supplier
  const name = await meantName(
    suppliers.value.map(s => s.name),
    typed,
  )
  if (typed === head.value.supplier) {
    meant.value = name
    looked.value = true
  }
}
const looked = ref(false)
watch(
  () => head.value.supplier,
  () => {
    meant.value = undefined
    looked.value = false
  },
)
const forWhom = computed({
  get: () => ({ job: head.value.job, costCentre: head.value.costCentre }),
  set: who => {
    Object.assign(head.value, who)
  },
})
/** Where whoever it is for is served from, as long as nothing stands on the slip that lies elsewhere; where somebody works, they are asked. */
const usual = computed(() => {
  const area = props.kind === 'issue' && !slip.content.lines.length ? parties.usualOf(forWhom.value) : null
  return area && area !== slip.content.place && session.may('book', area) ? area : null
})
watch(usual, area => {
  if (area && session.placeId === null) slip.content.place = area
})
/** Whom it was for so far is one of them, also who was typed before the names had come. */
async function share() {
  await parties.need()
  await nextTick()
  const [first, second] = equalParts(2) as [string, string]
  const { job, costCentre } = head.value
  head.value.among = [
    { job, costCentre, percent: first },
    { job: null, costCentre: null, percent: second },
  ]
  Object.assign(head.value, { job: null, costCentre: null })
}
/** A list on paper is entered: on to its first line. */
function list() {
  own.begin()
  emit('done')
}
const forLabel = computed(() =>
  straight.value ? 'Straight to, for what is bought for someone' : props.kind === 'issue' ? 'For' : 'From',
)
const noteScanned = useTakers().number(number => {
  head.value.deliveryNote = number
})
const missing = (code: string) => slip.tried && slip.headRefusals.some(r => r.code === code)
const more = ref(
  !!slip.content.effectiveAt ||
    !!slip.content.head.note ||
    slip.content.head.pictures.length > 0 ||
    (props.kind === 'receipt' && !!slip.content.taker),
)
</script>
<template>
  <div class="flex flex-wrap gap-x-4 gap-y-3 items-end text-[13px]">
    <template v-if="withSupplier">
      <label class="grow min-w-44"
        ><span class="label">Supplier</span
        ><input
          v-model="head.supplier"
          class="field field-small"
          list="suppliers"
          :placeholder="kind === 'receipt' ? 'Who brought it' : 'Who takes it back'"
          data-for
          @keydown.enter.prevent="!$event.ctrlKey && emit('done')"
          :aria-invalid="missing('supplier_needed')"
          @change="look" /><datalist id="suppliers">
          <option v-for="s in suppliers" :key="s.id" :value="s.name" /></datalist
      ></label>
      <label class="w-36"
        ><span class="label">{{ kind === 'receipt' ? 'Delivery note' : 'Their number for it' }}</span
        ><input v-model="head.deliveryNote" v-code="noteScanned" class="field field-small mono"
      /></label>
      <ChargeFields v-if="kind === 'receipt' && (head.charges.length || session.seeValue)" v-model="head.charges" />
      <p v-if="unknown && looked" class="basis-full flex flex-wrap gap-2 items-center" role="status">
        <span class="soft">“{{ head.supplier.trim() }}” is a new supplier.</span
        ><button v-if="meant" type="button" class="btn btn-small" @click="head.supplier = meant">
          Take {{ meant }}
        </button>
      </p>
    </template>
    <template v-if="kind === 'issue' || kind === 'bring_back' || straight">
      <p v-if="own.on.value" class="grow min-w-48">
        <b>A list</b>: each line says for whom it is, and who took it.
        <button type="button" class="btn btn-quiet btn-small" @click="own.end">One for all</button>
      </p>
      <AmongFields
        v-else-if="head.among.length"
        v-model="head.among"
        :invalid="slip.tried && slip.headRefusals.some(r => r.field === 'among')"
        @done="emit('done')"
      />
      <label v-else class="grow min-w-48"
        ><span class="label">{{ forLabel }}</span>
        <ForWhom
          v-model="forWhom"
          :label="forLabel"
          :invalid="missing('for_whom') || missing('for_whom_ended')"
          @done="emit('done')"
      /></label>
      <button
        v-if="kind === 'issue' && !head.among.length && !own.on.value"
        type="button"
        class="btn btn-quiet btn-small"
        title="Several are charged, each a part of it"
        @click="share"
      >
        For several</button
      ><button
        v-if="kind === 'issue' && !head.among.length && !own.on.value"
        type="button"
        class="btn btn-quiet btn-small"
        title="A list on paper, entered in one go"
        @click="list"
      >
        Each line its own
      </button>
      <label v-if="!straight && !own.on.value" class="w-36"
        ><span class="label">{{ kind === 'issue' ? 'Taken by' : 'Brought by' }}</span
        ><input v-model="slip.content.taker" class="field field-small"
      /></label>
      <RouterLink
        v-if="parties.there && session.maySetUp && !parties.jobs.length && !parties.centres.length"
        class="go"
        :to="{ name: 'setup-lists' }"
        >Make the first job or cost centre</RouterLink
      >
    </template>
    <p v-if="usual" class="basis-full" role="status">
      Usually from <b>{{ session.placeName(usual) }}</b>.
      <button type="button" class="btn btn-small" @click="slip.content.place = usual">Take it from there</button>
    </p>
    <MakeHead v-if="kind === 'make'" @done="emit('done')" />
    <SendHead v-if="kind === 'dispatch'" @done="emit('done')" />
    <ArriveHead v-if="kind === 'arrival'" />
    <label v-if="kind === 'waste'" class="grow min-w-44 max-w-64"
      ><span class="label">Why, for all lines</span
      ><select
        v-model="head.reason"
        class="field field-small"
        data-for
        @keydown="typedEarly"
        @keydown.enter.prevent="emit('done')"
      >
        <option :value="null">Say it on each line</option>
        <option v-for="r in reasons.active" :key="r.id" :value="r.id">{{ r.name }}</option>
      </select></label
    >
    <template v-if="more">
      <label v-if="kind === 'receipt'" class="w-40"
        ><span class="label">Brought by</span><input v-model="slip.content.taker" class="field field-small"
      /></label>
      <div><span class="label">Happened</span><MomentField v-model="slip.content.effectiveAt" label="Happened" /></div>
      <label class="grow min-w-40"
        ><span class="label">Note</span><input v-model="head.note" class="field field-small"
      /></label>
    </template>
    <button v-else type="button" class="btn btn-quiet btn-small" @click="more = true">
      {{ kind === 'receipt' ? 'Another time, who brought it, a note' : 'Another time, a note' }}
    </button>
    <label
      v-if="
        session.mayOverride &&
        (kind === 'issue' || kind === 'receipt') &&
        (missing('over_budget') || (more && kind === 'issue'))
      "
      class="grow min-w-40"
      ><span class="label">{{
        missing('over_budget') ? 'Why it is charged beyond the budget' : 'Reason for taking an expired or held lot'
      }}</span
      ><input v-model="head.why" class="field field-small"
    /></label>
    <PictureRow v-if="kind === 'receipt'" v-model="head.pictures" :slip="slip.id" what="the paper" class="self-end" />
  </div>
</template>
