<script setup lang="ts">
/** What counts found too few or too many, until it is found again, anywhere, or closed; all of it as a list to take along. */
import { computed, ref } from 'vue'
import { formatDecimal, readQuantity } from '@shelve/core'
import { type DifferenceView, saidOf } from '@shelve/contract'
import { ApiProblem, query, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { bookSlip } from '../ledger/book-slip.ts'
import { oneSlip } from '../ledger/one-slip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import AskDialog from '../ui/AskDialog.vue'
import FigureOf from '../ui/FigureOf.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'

defineProps<{ open: readonly DifferenceView[] }>()
const emit = defineEmits<{ settled: [] }>()
const session = useSession()
const index = useIndex()
const strip = useStrip()
const f = useFormat()
const wrong = ref('')
const finding = ref<DifferenceView | null>(null)
const closing = ref<DifferenceView | null>(null)
const typed = ref('')
const where = ref('')
const reading = computed(() => {
  const item = finding.value && index.byId.get(finding.value.item.id)
  if (!item || !typed.value.trim()) return ''
  const r = readQuantity(typed.value, index.measure(item))
  return r.ok ? `= ${formatDecimal(r.quantity)} ${item.unit}` : ''
})
function find(d: DifferenceView) {
  finding.value = d
  typed.value = d.open.replace('-', '')
  where.value = d.place.id
  wrong.value = ''
}
const booked = oneSlip((id, content) => bookSlip(id, { content: saidOf(content), seen: null }))
async function settle(d: DifferenceView, act: 'found' | 'close') {
  try {
    const s = await booked({
      ...freshContent('closing', d.place.id),
      lines: [
        freshLine({
          difference: d.id,
          act,
          item: d.item.id,
          typed: act === 'found' ? typed.value : '',
          to: act === 'found' ? where.value : null,
        }),
      ],
    })
    strip.say(
      act === 'found' ? `${d.item.name} is back on the shelf (${s.number}).` : `Closed as unexplained (${s.number}).`,
    )
    finding.value = closing.value = null
    emit('settled')
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? (e.problem.fields[0]?.message ?? e.message) : said(e)
  }
}
const positive = (d: DifferenceView) => !d.open.startsWith('-')
/** Books what was found, where somebody is asked about it: a printed command. */
function book(): boolean {
  if (!finding.value) return false
  void settle(finding.value, 'found')
  return true
}
defineExpose({ find, book })
</script>
<template>
  <div class="flex justify-between items-center gap-3 mt-2 mb-2">
    <h2>
      Open differences<template v-if="open.length"> · {{ open.length }}</template>
    </h2>
    <SaveAs v-if="open.length" :path="`/api/differences${query({ place: session.placeId })}`" name="open-differences" />
  </div>
  <ul v-if="open.length" class="card">
    <li v-for="d in open" :key="d.id" class="px-4 py-3 border-b border-hair last:border-0">
      <div class="flex justify-between gap-3">
        <RouterLink
          class="touch font-semibold min-w-0 wrap-anywhere"
          :to="{ name: 'item', params: { id: d.item.id } }"
          >{{ d.item.name }}</RouterLink
        >
        <div class="shrink-0 max-w-1/2 text-right">
          <FigureOf roomy figure="difference" :difference="d.id" :label="`Difference of ${d.item.name}`"
            ><span class="mono wrap-anywhere"
              >{{ f.number(d.open, true) }} {{ d.item.unit
              }}<template v-if="d.value"> · {{ f.amount(d.value, true) }}</template></span
            ></FigureOf
          >
        </div>
      </div>
      <p class="soft text-[13px]">
        {{ d.place.name
        }}<template v-if="d.lot"
          >, lot <span class="mono">{{ d.lot }}</span></template
        >
        · counted {{ f.number(d.counted) }}, expected {{ f.number(d.expected) }} · {{ f.when(d.countedAt) }} ·
        <RouterLink class="go mono" :to="{ name: 'slip', params: { id: d.slip.id } }">{{ d.slip.number }}</RouterLink>
      </p>
      <p v-for="e in d.elsewhere" :key="e.difference" class="text-straw text-[13px]">
        {{ f.number(e.open, true) }} at the same time in {{ e.place }}: perhaps the same ones.
      </p>
      <div class="flex gap-2 mt-2">
        <button v-if="!positive(d)" type="button" class="btn btn-small" @click="find(d)">Found again</button
        ><button
          type="button"
          class="btn btn-small"
          @click="
            () => {
              closing = d
              wrong = ''
            }
          "
        >
          Close as unexplained
        </button>
      </div>
    </li>
  </ul>
  <p v-else class="soft">
    None. What a count finds too few or too many waits here until it is found, anywhere, or closed.
  </p>
  <AskDialog :open="finding !== null" :title="`${finding?.item.name} found again`" @close="finding = null">
    <form class="flex flex-col gap-3" @submit.prevent="settle(finding!, 'found')">
      <label
        ><span class="label">How many</span><input v-model="typed" class="field field-num" /><span
          class="soft mono text-[13px]"
          >{{ reading }}</span
        ></label
      ><label
        ><span class="label">Where it lies now</span
        ><select v-model="where" class="field">
          <option v-for="p in session.places.filter(x => x.active)" :key="p.id" :value="p.id">{{ p.path }}</option>
        </select></label
      >
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act">Book it</button
        ><button type="button" class="btn" @click="finding = null">Leave it</button>
      </div>
    </form>
  </AskDialog>
  <AskDialog :open="closing !== null" title="Close it as unexplained?" @close="closing = null">
    <p>
      {{ f.number(closing?.open, true) }} {{ closing?.item.unit }} of {{ closing?.item.name
      }}<template v-if="closing?.value">, {{ f.amount(closing?.value, true) }},</template> count as unexplained from now
      on. Taking the closing back opens it again.
    </p>
    <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
    <div class="flex gap-3 mt-4">
      <button type="button" class="btn btn-act" @click="settle(closing!, 'close')">Close it</button
      ><button type="button" class="btn" @click="closing = null">Leave it open</button>
    </div>
  </AskDialog>
</template>
