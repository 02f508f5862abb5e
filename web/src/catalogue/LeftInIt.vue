<script setup lang="ts">
/** What is left in an opened container, by its weight or as it is read off: the rest was used, and is charged to whom it was for. */
import { computed, ref } from 'vue'
import { decimal, formatDecimal, isWeighable, readQuantity, weightSaid } from '@shelve/core'
import { type LotPage, saidOf } from '@shelve/contract'
import { said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { bookSlip } from '../ledger/book-slip.ts'
import { oneSlip } from '../ledger/one-slip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import ForWhom, { type Receiver } from '../places/ForWhom.vue'
import { useFormat } from '../ui/format.ts'
import { leftOnScale } from '../ui/weighed.ts'

const props = defineProps<{ lot: LotPage }>()
const emit = defineEmits<{ booked: [] }>()
const index = useIndex()
const session = useSession()
const strip = useStrip()
const f = useFormat()
const item = computed(() => index.byId.get(props.lot.item.id))
const byWeight = computed(
  () => props.lot.tare !== null && item.value !== undefined && isWeighable(index.measure(item.value)),
)
const reading = ref(false)
const weighs = computed(() => byWeight.value && !reading.value)
const typed = ref('')
const forWhom = ref<Receiver>({ job: null, costCentre: null })
const taker = ref('')
const booking = ref(false)
const wrong = ref('')
/** What is left, in the base unit; undefined where it cannot be read. */
const left = computed(() => {
  if (!item.value || !typed.value.trim()) return undefined
  const measure = index.measure(item.value)
  if (!weighs.value) {
    const r = readQuantity(typed.value, measure, undefined, true)
    return r.ok ? r.quantity : undefined
  }
  return leftOnScale(typed.value, props.lot.tare!, measure).left
})
const used = computed(() => (left.value === undefined ? undefined : decimal(props.lot.quantity) - left.value))
const unit = computed(() => props.lot.item.unit)
const number = (q: bigint) => f.number(formatDecimal(q))
const tells = computed(() => {
  if (!typed.value.trim()) return ''
  const onScale =
    weighs.value && item.value ? leftOnScale(typed.value, props.lot.tare!, index.measure(item.value)) : null
  if (onScale?.wrong) return onScale.wrong
  if (left.value === undefined) return `Type how much, like 1.2 ${unit.value}.`
  if (used.value! < 0n)
    return `That is more than was left by the books (${f.number(props.lot.quantity)} ${unit.value}). Count it.`
  return used.value === 0n ? 'Nothing was used of it.' : ''
})
const missing = computed(() =>
  !typed.value.trim()
    ? weighs.value
      ? 'What does it weigh now?'
      : 'How much is left in it?'
    : tells.value || (forWhom.value.job || forWhom.value.costCentre ? '' : 'For whom was it used?'),
)
const booked = oneSlip((id, content) => bookSlip(id, { content: saidOf(content), seen: null }))
async function book() {
  if (missing.value || booking.value) return
  booking.value = true
  const place = props.lot.places[0]!.place
  const { id, code, expiry } = props.lot
  try {
    const issue = freshContent('issue', session.areaOf(place))
    const slip = await booked({
      ...issue,
      taker: taker.value,
      head: { ...issue.head, ...forWhom.value },
      lines: [
        freshLine({
          item: props.lot.item.id,
          typed: `${formatDecimal(used.value!)} ${unit.value}`,
          lot: { id, code: code ?? '', expiry },
          from: place,
          leaves: formatDecimal(left.value!),
          note: weighs.value ? `weighs ${typed.value.trim()}` : '',
        }),
      ],
    })
    strip.say(`${slip.number} is booked: ${number(used.value!)} ${unit.value} of ${code} used.`, 'good')
    typed.value = ''
    wrong.value = ''
    emit('booked')
  } catch (e) {
    wrong.value = said(e)
  } finally {
    booking.value = false
  }
}
</script>
<template>
  <form class="px-5 py-3 border-t border-hair" @submit.prevent="book">
    <h2 class="mb-2">What is left in it</h2>
    <div class="flex flex-wrap gap-3 items-end">
      <label class="w-36"
        ><span class="label">{{ weighs ? 'It weighs now' : 'There is left' }}</span
        ><input
          v-model="typed"
          class="field field-small mono"
          :placeholder="weighs ? '812 g' : `1.2 ${unit}`"
          inputmode="decimal"
          autocomplete="off"
      /></label>
      <div class="w-60">
        <span class="label">It was used for</span><ForWhom v-model="forWhom" label="It was used for" />
      </div>
      <label class="w-40"
        ><span class="label">By whom</span><input v-model="taker" class="field" maxlength="200"
      /></label>
      <button class="btn btn-act" :disabled="booking" v-wants="missing">Book what was used</button>
      <button v-if="byWeight" type="button" class="btn btn-quiet btn-small" @click="reading = !reading">
        {{ reading ? 'By its weight' : 'Not by its weight' }}
      </button>
    </div>
    <p class="mt-2 text-[13px]" aria-live="polite">
      <template v-if="tells"
        ><span class="error">{{ tells }}</span></template
      ><template v-else-if="left !== undefined && used !== undefined"
        ><span class="mono"
          >{{ f.number(lot.quantity) }} → <b>{{ number(left) }}</b> {{ unit }}</span
        >: {{ number(used) }} {{ unit }} used</template
      ><span v-else-if="weighs" class="soft">empty it weighs {{ weightSaid(decimal(lot.tare!)) }}</span>
    </p>
    <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
  </form>
</template>
