<script setup lang="ts">
/** What one slip sent: what has arrived of it, what is still on its way, what was lost; the paper that travels along. */
import { computed, ref } from 'vue'
import type { TransferView } from '@shelve/contract'
import { v7 } from '../shell/uuid.ts'
import BarCode from '../scan/BarCode.vue'
import { call, get, noAnswer, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import AskDialog from '../ui/AskDialog.vue'
import DateField from '../ui/DateField.vue'
import { KIND_WORDS, useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import MoveTabs from './MoveTabs.vue'
import { howFar } from './how-far.ts'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const way = useWay()
const strip = useStrip()
const f = useFormat()
const sent = ref<TransferView | null>(null)
const wrong = ref('')
const load = live(
  async () => {
    try {
      sent.value = await get<TransferView>(`/api/transfers/${props.id}`)
    } catch (e) {
      if (noAnswer(e)) throw e
      wrong.value = said(e)
    }
  },
  e => ['booked', 'draft', 'transfer'].includes(e.kind),
)
const left = computed(() => sent.value?.lines.filter(l => l.left !== '0') ?? [])
const isLost = computed(() => sent.value?.lines.some(l => l.lost !== '0') ?? false)
const places = computed(() =>
  f.placesOf(sent.value?.lines.flatMap(l => [l.sent, l.arrived, l.left, ...(isLost.value ? [l.lost] : [])]) ?? []),
)
async function arrive() {
  if (sent.value?.begun) return void way.push({ name: 'arrival', params: { id: sent.value.begun.id } })
  try {
    const { id } = await post<{ id: string }>(`/api/transfers/${props.id}/arrival`, { id: v7() })
    await way.push({ name: 'arrival', params: { id } })
  } catch (e) {
    wrong.value = said(e)
  }
}
useGoOn(
  () => {
    if (left.value.length && sent.value?.mayArrive) void arrive()
  },
  { of: () => props.id, opened: () => sent.value ?? load() },
)
async function dueOn(due: string | null) {
  if (due === sent.value?.due) return
  sent.value = { ...sent.value!, due }
  wrong.value = ''
  try {
    sent.value = await call<TransferView>('PUT', `/api/transfers/${props.id}/due`, { body: { due } })
  } catch (e) {
    wrong.value = said(e)
    await load()
  }
}
/** What is said to be lost: its lines, as they are ticked. */
const losing = ref(false)
const lost = ref(new Set<number>())
/** Of a line: how much, where it is not all that is left of it. */
const typed = ref<string[]>([])
const why = ref('')
let lossId = v7()
function ask() {
  lost.value = new Set(left.value.keys())
  typed.value = left.value.map(l => l.left)
  losing.value = true
}
function tick(i: number) {
  if (!lost.value.delete(i)) lost.value.add(i)
}
async function lose() {
  if (!why.value.trim() || !lost.value.size) return
  const of = [...lost.value].map(i => ({
    item: left.value[i]!.item.id,
    lot: left.value[i]!.lot?.id ?? null,
    typed: typed.value[i]!.trim() || '0',
  }))
  try {
    sent.value = await post<TransferView>(`/api/transfers/${props.id}/loss`, { id: lossId, why: why.value.trim(), of })
    strip.say(`It is an open difference now: what turns up again is booked as found.`, 'good')
    why.value = ''
    lossId = v7()
  } catch (e) {
    wrong.value = said(e)
  }
  losing.value = false
}
const print = () => window.print()
</script>
<template>
  <MoveTabs />
  <NotThere v-if="wrong && !sent" :said="wrong" :to="{ name: 'transfers' }" back="Back to what is on the way" />
  <p v-else-if="wrong" class="error mb-3" role="alert">
    {{ wrong }} <button type="button" class="btn btn-small" @click="wrong = ''">Close</button>
  </p>
  <article v-if="sent" class="slip max-w-4xl pb-1">
    <div class="px-5 pt-5 pb-3 flex justify-between gap-5 flex-wrap">
      <div>
        <h1>From {{ sent.from.name }} to {{ sent.to.name }}</h1>
        <p class="soft">
          sent {{ f.when(sent.sentAt) }} by {{ sent.by
          }}<template v-if="sent.carrier">, with {{ sent.carrier }}</template>
        </p>
        <p v-if="sent.note" class="mt-1">{{ sent.note }}</p>
        <p class="mt-2 text-[16px]">
          <b v-if="!left.length">{{ isLost ? 'Nothing is on its way any more' : 'All of it has arrived' }}</b>
          <template v-else
            ><b>{{ sent.left === sent.items ? 'On its way' : 'Part of it is on its way' }}</b
            ><template v-if="sent.due"
              >, to be there {{ f.date(sent.due) }}:
              <b :class="{ 'text-straw': sent.overdue }"
                >{{ sent.overdue ? 'late ' : '' }}{{ howFar(f, sent.due) }}</b
              ></template
            ></template
          >
        </p>
      </div>
      <BarCode :code="sent.number" class="ml-auto" />
    </div>
    <div class="overflow-x-auto">
      <table class="list edge" aria-label="What was sent">
        <thead>
          <tr>
            <th>Item</th>
            <th>Lot, use by</th>
            <th class="text-right!">Sent</th>
            <th class="text-right!">Arrived</th>
            <th v-if="isLost" class="text-right!">Lost</th>
            <th class="text-right!">On the way</th>
            <th><span class="sr-only">Unit</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in sent.lines" :key="`${l.item.id}${l.lot?.id ?? ''}`">
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: l.item.id } }">{{
                l.item.name
              }}</RouterLink>
              <div class="mono soft text-[12px]">{{ l.item.code }}</div>
            </td>
            <td class="mono text-[13px] wrap-anywhere min-w-20">
              {{ l.lot?.code ?? '—'
              }}<template v-if="l.lot?.expiry"
                >, <span class="soft">{{ f.date(l.lot.expiry) }}</span></template
              >
            </td>
            <td class="num">{{ f.aligned(l.sent, places) }}</td>
            <td class="num">{{ f.aligned(l.arrived, places) }}</td>
            <td v-if="isLost" class="num">{{ f.aligned(l.lost, places) }}</td>
            <td class="num" :class="{ 'font-bold': l.left !== '0' }">{{ f.aligned(l.left, places) }}</td>
            <td class="soft unit">{{ l.item.unit }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 items-center no-print">
      <button v-if="left.length && sent.mayArrive" type="button" class="btn btn-act" @click="arrive">
        {{ sent.begun ? `Go on with what ${sent.begun.by} began` : 'It has arrived' }}
      </button>
      <label v-if="left.length && sent.mayBook" class="flex gap-2 items-center"
        ><span class="soft">To be there on</span
        ><DateField :model-value="sent.due" class="block w-32" label="To be there on" @settled="dueOn"
      /></label>
      <button v-if="left.length && sent.mayBook" type="button" class="btn" @click="ask">Some of it is lost</button
      ><button type="button" class="btn" @click="print">Print</button>
    </div>
    <ul class="px-5 pb-3 soft text-[13px]">
      <li v-for="x in sent.slips" :key="x.id" class="slips">
        {{ KIND_WORDS[x.kind] }}
        <RouterLink class="go mono touch" :to="{ name: 'slip', params: { id: x.id } }">{{ x.number }}</RouterLink>,
        {{ f.when(x.at) }} by {{ x.by }}
      </li>
    </ul>
    <AskDialog :open="losing" title="What is lost?" @close="losing = false">
      <ul class="mb-3">
        <li v-for="(l, i) in left" :key="i">
          <div class="flex gap-3 items-center py-1 min-h-11">
            <label class="flex gap-3 items-center grow"
              ><input type="checkbox" :checked="lost.has(i)" @change="tick(i)" /><span
                >{{ l.item.name }}<template v-if="l.lot">, {{ l.lot.code }}</template></span
              ></label
            ><input
              v-if="lost.has(i)"
              v-model="typed[i]"
              class="field field-small field-num w-24!"
              :aria-label="`Lost: ${l.item.name}${l.lot ? `, ${l.lot.code}` : ''}`"
              inputmode="decimal"
              @keydown.enter.prevent="lose"
            /><span class="soft w-28">of {{ f.number(l.left) }} {{ l.item.unit }}</span>
          </div>
        </li>
      </ul>
      <label class="block"
        ><span class="label">How was it lost?</span
        ><input v-model="why" v-focus class="field" maxlength="200" @keydown.enter.prevent="lose"
      /></label>
      <p class="soft text-[13px] mt-2">
        It becomes an open difference, with what it is worth. What turns up again can be booked as found; the rest is on
        its way still.
      </p>
      <div class="flex gap-3 mt-4">
        <button
          type="button"
          class="btn btn-danger"
          v-wants="lost.size ? (why.trim() ? '' : 'How was it lost?') : 'Tick what is lost.'"
          @click="lose"
        >
          It is lost</button
        ><button type="button" class="btn" @click="losing = false">Keep waiting</button>
      </div>
    </AskDialog>
  </article>
</template>
<style scoped>
@media (pointer: coarse) {
  .slips {
    padding: 16px 0;
  }
}
</style>
