<script setup lang="ts">
/** One restock slip: quantities typed down the list, lines by hand, printed, saved, marked as asked for, or made a move. */
import { computed, nextTick, ref, watch } from 'vue'
import type { IndexItem, Named, RestockHead } from '@shelve/contract'
import BothVersions from '../papers/BothVersions.vue'
import { call, post, remove, said } from '../shell/api.ts'
import { landOn } from '../shell/landing.ts'
import { useIndex } from '../shell/index-store.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { v7 } from '../shell/uuid.ts'
import { useWay } from '../shell/way.ts'
import { useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import SaveAs from '../ui/SaveAs.vue'
import AskedFor from './AskedFor.vue'
import MailRestock from './MailRestock.vue'
import { useRestockPaper } from './restock-paper.ts'
import RestockLines from './RestockLines.vue'
import SayWhy from './SayWhy.vue'
import NotThere from '../ui/NotThere.vue'

/** Said where there is nothing that could go out. */
const NOTHING = 'Nothing stands on it yet: add what is wanted.'
const props = defineProps<{ id: string }>()
const index = useIndex()
const session = useSession()
const strip = useStrip()
const way = useWay()
const f = useFormat()
const { choices: suppliers } = useChoices<Named>('/api/suppliers')
const {
  view: slip,
  paper,
  lines,
  open,
  wrong,
  refused,
  draft,
  told,
  reload,
  settled,
  does,
} = useRestockPaper(() => props.id)
const writes = computed(() => open.value && slip.value!.may)
/** It is drawn with the names of its items: what is below would move away otherwise. */
const shown = computed(() => index.there || !lines.value.length)

async function add(item: IndexItem) {
  const place = session.placeId ?? paper.value.lines.at(-1)?.place ?? session.areas[0]!.id
  let line = paper.value.lines.find(l => l.item === item.id && l.place === place)
  if (!line) {
    const unit = item.packs.find(p => p.buying && !p.issuing)?.name ?? null
    line = { id: v7(), item: item.id, place, typed: '1', unit, why: 'by hand' }
    paper.value.lines.push(line)
    await draft.save()
  }
  await nextTick()
  const box = document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)
  box?.focus()
  box?.select()
}
function takeOff(id: string) {
  paper.value.lines = paper.value.lines.filter(l => l.id !== id)
}
const source = computed({
  get: () => `${paper.value.head.source.kind} ${paper.value.head.source.id ?? ''}`,
  set: v => {
    const [kind, id] = v.split(' ')
    paper.value.head = {
      ...paper.value.head,
      source: id ? { kind: kind as 'supplier', id } : { kind: 'nobody', id: null },
    }
  },
})
const sourceName = (s: RestockHead['source']) =>
  s.kind === 'shelves' ? session.placeName(s.id) : (suppliers.value.find(x => x.id === s.id)?.name ?? 'nobody yet')

const asking = ref(false)
const askFor = async () => {
  asking.value = await settled()
}
async function ask(how: object) {
  if (!(await does('asking', how))) return
  asking.value = false
  const n = slip.value!.lines.length
  const by = slip.value!.source.kind === 'nobody' ? 'Asked for' : `${slip.value!.name} is asked`
  strip.say(`${by}: ${n} line${n === 1 ? ' is on its' : 's are on their'} way.`)
}
/** The line of which it is to be said that it will not come. */
const cancelling = ref<string | null>(null)
const cancelled = computed(() => slip.value?.lines.find(l => l.id === cancelling.value))
async function cancel(why: string) {
  if (!(await does('cancellation', { line: cancelling.value, why }))) return
  cancelling.value = null
}
const givingBack = ref(false)
async function giveBack(why: string) {
  const { by } = slip.value!.handed!
  if (!(await settled()) || !(await does('giving-back', { why }))) return
  givingBack.value = false
  strip.say(`${slip.value!.number} is given back to ${by}.`)
}
/** Where something is owed: each place gets its delivery. */
const comesTo = computed(() => {
  const v = slip.value
  if (v?.state !== 'asked' || v.source.kind === 'shelves') return []
  const owed = new Set(v.lines.filter(l => l.owed !== '0').map(l => l.place))
  return [...owed].filter(p => session.may('book', p))
})
async function arrived(place: string) {
  try {
    const { id } = await post<{ id: string }>(`/api/restock/${props.id}/arrival`, { id: v7(), place })
    await way.push({ name: 'receive', params: { id } })
  } catch (e) {
    await reload()
    wrong.value = said(e)
  }
}
async function handOver() {
  if (!(await settled()) || !(await does('handing', {}))) return
  await reload()
  strip.say(`${slip.value!.number} is handed over: whoever keeps the place sees it on Today.`)
}
const mailing = ref(false)
const canMail = computed(
  () =>
    slip.value?.mail.possible &&
    slip.value.source.kind !== 'shelves' &&
    slip.value.state !== 'dropped' &&
    slip.value.sends,
)
async function beginMail() {
  if (open.value && !(await settled())) return
  wrong.value = ''
  mailing.value = true
}
async function mail(letter: { to: string }) {
  if (!(await does('mails', letter))) return
  mailing.value = false
  strip.say(`The letter to ${letter.to} is on its way out.`)
}
async function again(id: string) {
  try {
    await call('POST', `/api/mails/${id}/attempts`)
    await reload()
  } catch (e) {
    wrong.value = said(e)
  }
}
/** What lies on our own shelves is moved here, by whoever may. */
const moves = computed(() => slip.value?.source.kind === 'shelves' && session.mayAnywhere('book') && slip.value.sends)
let moveId = v7()
async function move() {
  if (!(await settled())) return
  const id = moveId
  if (!(await does('move', { id }))) return
  moveId = v7()
  await way.push({ name: 'move', params: { id } })
}
/** What its main button does, by Ctrl + Enter. */
async function goOn() {
  const v = slip.value
  if (!v || !writes.value || !lines.value.length) return
  if (!v.sends) {
    if (v.handed === null) await handOver()
  } else if (moves.value) await move()
  else await askFor()
}
useGoOn(goOn, { of: () => props.id, opened: () => slip.value ?? reload() })
// The keyboard begins with the first quantity of a slip that one came to, else where a line is added.
watch(
  () => writes.value && shown.value,
  () => landOn(':is([data-line], [data-add] input)'),
  { once: true },
)
async function drop() {
  try {
    await remove(`/api/restock/${props.id}`, { revision: slip.value!.version })
    strip.say(
      open.value ? 'The slip is thrown away; what stood on it is offered again.' : 'It is no longer waited for.',
    )
    draft.forget()
    await way.push({ name: 'restock' })
  } catch (e) {
    await reload()
    wrong.value = said(e)
  }
}
/** As it is written into a mail or a shop's page. */
async function text() {
  if (open.value && !(await settled())) return
  const v = slip.value!
  const width = Math.max(...v.lines.map(l => `${l.typed} ${l.unit ?? l.base}`.length))
  const body = [
    `${session.settings.name}`,
    `For ${v.name}, ${f.date(f.today(), true)}`,
    '',
    ...v.lines.map(l => `${`${l.typed} ${l.unit ?? l.base}`.padStart(width)}  ${l.code}  ${l.name}`),
    ...(v.note ? ['', v.note] : []),
  ].join('\n')
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([`${body}\n`], { type: 'text/plain' }))
  link.download = `restock-${v.name.replace(/[^\w.-]+/g, '-')}-${f.today()}.txt`
  link.click()
  URL.revokeObjectURL(link.href)
}
async function print() {
  if (!open.value || (await settled())) window.print()
}
/** How it stands, in one sentence. */
const standing = computed(() => {
  const v = slip.value!
  const a = v.asked
  if (!a && v.handed) return `asked for by ${v.handed.by}, handed over ${f.when(v.handed.at)}, not sent out yet`
  if (!a && v.back) return `given back by ${v.back.by} ${f.when(v.back.at)}: ${v.back.why}`
  if (!a) return v.mine ? STATE[v.state] : `${STATE[v.state]} by ${v.by}, who has this slip open`
  return `${STATE[v.state]} ${f.when(a.at)} by ${a.by}, ${a.where}${a.number && `, their number ${a.number}`}${a.expected ? `, expected ${f.date(a.expected)} (${f.far(a.expected)})` : ''}`
})
const STATE = {
  open: 'being written',
  asked: 'asked for',
  arrived: 'nothing more to come; asked for',
  dropped: 'no longer waited for; asked for',
}
</script>
<template>
  <NotThere v-if="wrong && !slip" :said="wrong" :to="{ name: 'restock' }" back="Back to Restock" />
  <div v-if="slip && shown" class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-4 justify-between items-start">
      <div class="min-w-0">
        <h1>
          {{
            slip.source.kind === 'shelves'
              ? `From our own shelves: ${slip.name}`
              : slip.source.kind === 'nobody'
                ? slip.state === 'open'
                  ? 'To ask for, no source chosen yet'
                  : 'Asked for, of nobody named'
                : `To ask for, of ${slip.name}`
          }}
        </h1>
        <p class="soft">
          <span class="mono text-ink">{{ slip.number }}</span> · {{ standing
          }}<template v-if="draft.company.value.length">
            · <b class="text-ink">{{ draft.company.value.join(', ') }}</b> writes on it too</template
          >
        </p>
      </div>
      <label v-if="writes && slip.source.kind !== 'shelves'" class="no-print"
        ><span class="label">Of whom</span
        ><select v-model="source" class="field field-small w-56!">
          <option value="nobody ">not chosen yet</option>
          <option v-for="x in suppliers" :key="x.id" :value="`supplier ${x.id}`">{{ x.name }}</option>
        </select></label
      >
    </div>
    <p v-if="draft.ended.value?.unsaved" class="notice mx-5 mb-3" role="alert">
      {{ draft.ended.value.message }} What you typed last is not on it.
    </p>
    <BothVersions
      v-for="d in draft.differingHead.value?.fields ?? []"
      :key="d.field"
      class="mx-5 mb-3"
      :by="draft.differingHead.value!.by"
      :what="d.field === 'note' ? 'the note' : 'of whom it is asked'"
      :theirs="d.field === 'note' ? String(d.theirs) : sourceName(d.theirs as RestockHead['source'])"
      @take="draft.settleHead(d.field, false)"
      @keep="draft.settleHead(d.field, true)"
    />
    <RestockLines
      v-if="lines.length"
      :lines="lines"
      :told="told"
      :open="open"
      :writes="writes"
      :refused="refused"
      :differing="draft.differing.value"
      @remove="takeOff"
      :cancels="slip.state === 'asked' && slip.sends"
      @settle="draft.settleLine"
      @cancel="l => (cancelling = l)"
    />
    <p v-else class="px-5 pb-3 soft">Nothing stands on it yet.</p>
    <div v-if="writes" data-add class="px-5 py-3 no-print">
      <ItemPicker label="Another item" @pick="i => void add(i)" />
    </div>
    <p v-if="wrong && !mailing && !asking && !givingBack" class="error px-5 pb-3" role="alert">{{ wrong }}</p>
    <ul v-if="slip.mail.letters.length" class="px-5 py-2 border-t border-hair no-print" aria-label="Letters">
      <li v-for="m in slip.mail.letters" :key="m.id" class="flex flex-wrap gap-3 items-center py-1">
        <span
          >Letter to <span class="mono">{{ m.to }}</span>, {{ f.when(m.at) }}:</span
        >
        <b v-if="m.state === 'sent'">sent {{ f.when(m.sentAt) }}</b
        ><template v-else
          ><b :class="m.state === 'failed' ? 'text-buoy' : 'text-straw'">{{
            m.state === 'failed'
              ? 'refused'
              : m.attempts
                ? `waits, tried ${m.attempts} time${m.attempts === 1 ? '' : 's'}`
                : 'going out'
          }}</b
          ><span v-if="m.trouble" class="soft text-[13px]">{{ m.trouble }}</span
          ><span v-if="m.nextAt" class="soft text-[13px]">next {{ f.when(m.nextAt) }}</span
          ><button v-if="m.attempts" type="button" class="btn btn-small" @click="again(m.id)">
            Try again now
          </button></template
        >
      </li>
    </ul>
    <footer class="px-5 py-3 border-t border-hair flex flex-wrap gap-3 no-print">
      <template v-if="writes"
        ><button v-if="moves" type="button" class="btn btn-act" v-wants="lines.length ? '' : NOTHING" @click="move">
          Make it a move</button
        ><button
          v-if="!slip.sends"
          type="button"
          class="btn btn-act"
          v-wants="!lines.length ? NOTHING : slip.handed !== null ? 'It is handed over already.' : ''"
          @click="handOver"
        >
          {{ slip.handed ? 'Handed over' : 'Hand it over' }}</button
        ><button
          v-else
          type="button"
          class="btn"
          :class="{ 'btn-act': slip.source.kind !== 'shelves' }"
          v-wants="lines.length ? '' : NOTHING"
          @click="askFor"
        >
          Mark as asked for
        </button></template
      >
      <button
        v-if="open && slip.handed && slip.sends"
        type="button"
        class="btn"
        @click="
          () => {
            wrong = ''
            givingBack = true
          }
        "
      >
        Give it back
      </button>
      <button v-for="p in comesTo" :key="p" type="button" class="btn btn-act" @click="arrived(p)">
        {{ comesTo.length > 1 ? `It has come to ${session.placeName(p)}` : 'It has come' }}
      </button>
      <button v-if="canMail" type="button" class="btn" v-wants="lines.length ? '' : NOTHING" @click="beginMail">
        {{ slip.mail.letters.length ? 'Mail it again' : 'Mail it' }}
      </button>
      <RouterLink v-if="slip.asked?.move" class="btn" :to="{ name: 'slip', params: { id: slip.asked.move } }"
        >See the move</RouterLink
      >
      <button type="button" class="btn" @click="print">Print</button
      ><button type="button" class="btn" @click="text">Save as text</button
      ><SaveAs :path="`/api/restock/${props.id}`" name="restock" foot />
      <button
        v-if="writes || (slip.state === 'asked' && slip.sends)"
        type="button"
        class="btn btn-danger ml-auto"
        @click="drop"
      >
        {{ open ? 'Throw away' : 'None of it will come' }}
      </button>
    </footer>
    <SayWhy
      v-if="cancelled"
      open
      :title="`${cancelled.name} will not come`"
      :often="['they have none', 'bought elsewhere', 'not needed any more', 'asked for by mistake']"
      note="What has come of it has come. It is proposed again where it is short."
      does="Wait for it no longer"
      leaves="Wait on"
      :wrong="wrong"
      @close="cancelling = null"
      @say="cancel"
    />
    <SayWhy
      v-if="givingBack && slip.handed"
      open
      :title="`${slip.number} goes back to ${slip.handed.by}`"
      :often="['not this month', 'there is enough elsewhere', 'say what it is for', 'asked for already']"
      note="They see it on Today with what you say, change it and hand it over again, or throw it away."
      does="Give it back"
      leaves="Keep it"
      :wrong="wrong"
      @close="givingBack = false"
      @say="giveBack"
    />
    <MailRestock :open="mailing" :slip="slip" :wrong="wrong" @close="mailing = false" @send="mail" />
    <AskedFor :open="asking" :slip="slip" :wrong="wrong" @close="asking = false" @ask="ask" />
  </div>
</template>
