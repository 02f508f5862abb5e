<script setup lang="ts">
/** One restock slip: quantities typed down the list, lines by hand, printed, saved, marked as asked for, or made a move. */
import { computed, nextTick, onUnmounted, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { IndexItem, Named, RestockLineView, RestockView } from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { v7 } from '../ledger/uuid.ts'
import AskDialog from '../ui/AskDialog.vue'
import DateField from '../ui/DateField.vue'
import ItemPicker from '../ui/ItemPicker.vue'
import MomentField from '../ui/MomentField.vue'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { unread } from '../ui/unread.ts'
import LiesElsewhere from './LiesElsewhere.vue'

const props = defineProps<{ id: string }>()
const session = useSession()
const index = useIndex()
const strip = useStrip()
const router = useRouter()
const f = useFormat()
const slip = ref<RestockView | null>(null)
const wrong = ref('')
const refused = ref<{ line: string | null; message: string }[]>([])
const suppliers = ref<Named[]>([])
void get<{ rows: Named[] }>('/api/suppliers').then(r => {
  suppliers.value = r.rows
})
let timer: ReturnType<typeof setTimeout> | undefined
/** One save after the other: each stands on the revision that the one before it made. */
let saving: Promise<void> | undefined
async function load() {
  const typing = () => saving !== undefined || timer !== undefined
  if (typing()) return
  const { id } = props
  try {
    const is = await get<RestockView>(`/api/restock/${id}`)
    // What was typed while the answer was on its way is newer; saving it brings the rest.
    if (!typing() && id === props.id) slip.value = is
  } catch (e) {
    wrong.value = said(e)
  }
}
const reload = live(load, e => ['restock', 'mail', 'booked', 'setup', 'stock'].includes(e.kind))
watch(
  () => props.id,
  () => void reload(),
)
const places = computed(() =>
  f.placesOf((slip.value?.lines ?? []).flatMap(l => [l.levels?.available, l.levels?.coming, l.owed])),
)
const open = computed(() => slip.value?.state === 'open')
const mine = computed(() => open.value && slip.value!.mine)
/** Saves soon after the last keystroke; what the server refuses stands at its line and is typed on. */
function changed() {
  clearTimeout(timer)
  timer = setTimeout(() => {
    timer = undefined
    void save()
  }, 500)
}
/** A page that is left or loaded anew takes with it what was typed last. */
const leaving = () => {
  if (timer) {
    clearTimeout(timer)
    timer = undefined
    void put(true)
  }
}
window.addEventListener('pagehide', leaving)
onUnmounted(() => {
  window.removeEventListener('pagehide', leaving)
  leaving()
})
function save(): Promise<void> {
  const mine: Promise<void> = (saving ?? Promise.resolve())
    .then(() => put())
    .finally(() => {
      if (saving === mine) saving = undefined
    })
  return (saving = mine)
}
async function put(keepalive = false) {
  if (!slip.value || !open.value) return
  try {
    const saved = await call<RestockView>('PUT', `/api/restock/${props.id}`, {
      revision: slip.value.revision,
      keepalive,
      body: {
        source: slip.value.source,
        note: slip.value.note,
        lines: slip.value.lines.map(l => ({
          id: l.id,
          item: l.item,
          place: l.place,
          typed: l.typed,
          unit: l.unit,
          why: l.why,
        })),
      },
    })
    refused.value = []
    wrong.value = ''
    if (timer) slip.value.revision = saved.revision
    else slip.value = saved
  } catch (e) {
    if (e instanceof ApiProblem && e.problem.fields.length)
      refused.value = e.problem.fields.map(x => ({ line: x.line, message: x.message }))
    else wrong.value = said(e)
  }
}
async function settled() {
  clearTimeout(timer)
  timer = undefined
  await save()
  return refused.value.length === 0 && !wrong.value && readable()
}
/** Whether every line can be read; else the keyboard is led to the first that cannot. */
function readable(): boolean {
  const line = slip.value?.lines.find(l => l.unread)
  if (line) document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)?.focus()
  return !line
}
/** What is wrong with a line: what the server refused, or why it cannot read what was typed. */
const at = (l: RestockLineView) => refused.value.find(r => r.line === l.id)?.message ?? l.unread
/** Typed on: what was said of it before is of another text. */
function typedOn(l: RestockLineView) {
  l.unread = null
  changed()
}
const reading = (l: RestockLineView) => {
  const item = index.byId.get(l.item)
  const r = item && l.typed.trim() ? readQuantity(l.typed, index.measure(item), l.unit ?? undefined, true) : undefined
  return r?.ok && (l.unit || /[a-z+*]/i.test(l.typed)) ? `= ${f.number(formatDecimal(r.quantity))} ${l.base}` : ''
}
const packs = (l: RestockLineView) => index.byId.get(l.item)?.packs.filter(p => p.buying) ?? []
async function add(item: IndexItem) {
  const place = session.placeId ?? slip.value!.lines.at(-1)?.place ?? session.areas[0]!.id
  const again = slip.value!.lines.find(l => l.item === item.id && l.place === place)
  const line = again ?? {
    id: v7(),
    item: item.id,
    place,
    typed: '1',
    unit: item.packs.find(p => p.buying && !p.issuing)?.name ?? null,
    why: 'by hand',
    code: item.code,
    name: item.name,
    base: item.unit,
    placeName: session.placeName(place),
    quantity: '0',
    unread: null,
    owed: '0',
    levels: null as never,
    elsewhere: [],
  }
  if (!again) {
    slip.value!.lines.push(line)
    clearTimeout(timer)
    timer = undefined
    await save()
  }
  await nextTick()
  const box = document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)
  box?.focus()
  box?.select()
}
function step(i: number, by: 1 | -1) {
  const box = document.querySelectorAll<HTMLInputElement>('[data-line]')[i + by]
  ;(box ?? (by > 0 ? document.querySelector<HTMLInputElement>('[data-add] input') : null))?.focus()
  box?.select()
}
function remove(l: RestockLineView) {
  slip.value!.lines = slip.value!.lines.filter(x => x.id !== l.id)
  changed()
}
const source = computed({
  get: () => `${slip.value!.source.kind} ${slip.value!.source.id ?? ''}`,
  set: v => {
    const [kind, id] = v.split(' ')
    slip.value!.source = id ? { kind: kind as 'supplier', id } : { kind: 'nobody', id: null }
    changed()
  },
})

const asking = ref(false)
const asked = reactive({ where: '', at: null as string | null, number: '', expected: null as string | null })
async function ask() {
  if (unread.value) {
    wrong.value = unread.value
    return
  }
  try {
    slip.value = await call<RestockView>('POST', `/api/restock/${props.id}/asking`, { body: asked })
    asking.value = false
    strip.say(
      `${slip.value.name} is asked: ${slip.value.lines.length} line${slip.value.lines.length === 1 ? '' : 's'} on their way.`,
    )
  } catch (e) {
    wrong.value = said(e)
  }
}
const mailing = ref(false)
const letter = reactive({ to: '', number: '', expected: null as string | null })
const canMail = computed(
  () =>
    slip.value?.mail.possible &&
    slip.value.source.kind !== 'shelves' &&
    slip.value.state !== 'dropped' &&
    session.mayAnywhere('ask'),
)
async function beginMail() {
  if (open.value && !(await settled())) return
  letter.to = slip.value!.mail.lastTo ?? ''
  wrong.value = ''
  mailing.value = true
}
async function mail() {
  if (unread.value) {
    wrong.value = unread.value
    return
  }
  try {
    slip.value = await call<RestockView>('POST', `/api/restock/${props.id}/mails`, { body: letter })
    mailing.value = false
    wrong.value = ''
    strip.say(`The letter to ${letter.to} is on its way out.`)
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? (e.field('to') ?? e.message) : said(e)
  }
}
async function again(id: string) {
  try {
    await call('POST', `/api/mails/${id}/attempts`)
    await reload()
  } catch (e) {
    wrong.value = said(e)
  }
}
async function move() {
  if (!(await settled())) return
  const id = v7()
  try {
    await call('POST', `/api/restock/${props.id}/move`, { body: { id } })
    await router.push({ name: 'move', params: { id } })
  } catch (e) {
    wrong.value = said(e)
  }
}
async function drop() {
  try {
    await call('DELETE', `/api/restock/${props.id}`)
    strip.say(
      open.value ? 'The slip is thrown away; what stood on it is offered again.' : 'It is no longer waited for.',
    )
    await router.push({ name: 'restock' })
  } catch (e) {
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
  if (!a) return v.mine ? STATE[v.state] : `${STATE[v.state]} by ${v.by}, who has this slip open`
  return `${STATE[v.state]} ${f.when(a.at)} by ${a.by}, ${a.where}${a.number && `, their number ${a.number}`}${a.expected ? `, expected ${f.date(a.expected)} (${f.far(a.expected)})` : ''}`
})
const STATE = {
  open: 'being written',
  asked: 'asked for',
  arrived: 'all of it came; asked for',
  dropped: 'no longer waited for; asked for',
}
</script>
<template>
  <p v-if="wrong && !slip" class="error">
    {{ wrong }} <RouterLink class="btn btn-small" :to="{ name: 'restock' }">Back to Restock</RouterLink>
  </p>
  <div v-if="slip" class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-4 justify-between items-start">
      <div>
        <h1>
          {{
            slip.source.kind === 'shelves'
              ? `From our own shelves: ${slip.name}`
              : slip.source.kind === 'nobody'
                ? 'To ask for, of nobody yet'
                : `To ask for, of ${slip.name}`
          }}
        </h1>
        <p class="soft">{{ standing }}</p>
      </div>
      <label v-if="mine && slip.source.kind !== 'shelves'" class="no-print"
        ><span class="label">Of whom</span
        ><select v-model="source" class="field field-small w-56!">
          <option value="nobody ">nobody yet</option>
          <option v-for="x in suppliers" :key="x.id" :value="`supplier ${x.id}`">{{ x.name }}</option>
        </select></label
      >
    </div>
    <div v-if="slip.lines.length" class="overflow-x-auto">
      <table class="list">
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
            <th v-if="mine" class="no-print"><span class="sr-only">Remove</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(l, i) in slip.lines" :key="l.id"
            ><tr>
              <td>
                <RouterLink class="font-medium" :to="{ name: 'item', params: { id: l.item } }">{{ l.name }}</RouterLink>
                <div class="mono soft text-[12px] whitespace-nowrap">{{ l.code }}</div>
              </td>
              <td>{{ l.placeName }}</td>
              <td class="w-32 no-print"><LevelBar v-if="l.levels" :levels="l.levels" /></td>
              <td>
                <StateDisc v-if="l.levels" :state="l.levels.state" />
                <div class="soft text-[12px]">{{ l.why }}</div>
              </td>
              <td class="num no-print">{{ f.aligned(l.levels?.available, places) }}</td>
              <td class="num no-print">
                {{ l.levels && l.levels.coming !== '0' ? f.aligned(l.levels.coming, places) : '' }}
              </td>
              <td class="text-right whitespace-nowrap">
                <template v-if="mine"
                  ><span class="inline-flex gap-1"
                    ><input
                      v-model="l.typed"
                      :data-line="l.id"
                      class="field field-small field-num"
                      :style="{ width: `${Math.max(8, l.typed.length + 2)}ch` }"
                      :aria-label="`Ask for: ${l.name}`"
                      :aria-invalid="at(l) ? true : undefined"
                      autocomplete="off"
                      @input="typedOn(l)"
                      @focus="($event.target as HTMLInputElement).select()"
                      @keydown.enter.prevent="step(i, 1)"
                      @keydown.down.prevent="step(i, 1)"
                      @keydown.up.prevent="step(i, -1)"
                    /><span v-if="!packs(l).length" class="w-22 pl-2 self-center text-left">{{ l.base }}</span
                    ><select
                      v-else
                      v-model="l.unit"
                      class="field field-small w-22!"
                      :aria-label="`Unit of ${l.name}`"
                      @change="typedOn(l)"
                    >
                      <option :value="null">{{ l.base }}</option>
                      <option v-for="p in packs(l)" :key="p.name" :value="p.name">{{ p.name }}</option>
                    </select></span
                  >
                  <div class="soft text-[12px] mono">{{ reading(l) }}</div></template
                ><span v-else class="mono">{{ f.number(l.typed) }} {{ l.unit ?? l.base }}</span>
              </td>
              <td v-if="!open" class="num">{{ l.owed === '0' ? '' : f.aligned(l.owed, places) }}</td>
              <td class="no-print text-[13px]">
                <LiesElsewhere
                  :item="l.item"
                  :name="l.name"
                  :place="l.place"
                  :bring="l.quantity"
                  :elsewhere="l.elsewhere"
                />
              </td>
              <td v-if="mine" class="no-print">
                <button
                  type="button"
                  class="btn btn-quiet btn-small"
                  :aria-label="`Remove ${l.name}`"
                  @click="remove(l)"
                >
                  Remove
                </button>
              </td>
            </tr>
            <tr v-if="at(l)" class="said">
              <td colspan="10" class="pt-0!">
                <p class="error" role="alert">{{ at(l) }}</p>
              </td>
            </tr></template
          >
        </tbody>
      </table>
    </div>
    <p v-else class="px-5 pb-3 soft">Nothing stands on it yet.</p>
    <div v-if="mine" data-add class="px-5 py-3 no-print">
      <ItemPicker label="Another item" @pick="i => void add(i)" />
    </div>
    <p v-if="wrong && !mailing && !asking" class="error px-5 pb-3" role="alert">{{ wrong }}</p>
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
      <template v-if="mine"
        ><button
          v-if="slip.source.kind === 'shelves' && session.mayAnywhere('book')"
          type="button"
          class="btn btn-act"
          :disabled="!slip.lines.length"
          @click="move"
        >
          Make it a move</button
        ><button
          type="button"
          class="btn"
          :class="{ 'btn-act': slip.source.kind !== 'shelves' }"
          :disabled="!slip.lines.length"
          @click="
            settled().then(ok => {
              asking = ok
            })
          "
        >
          Mark as asked for
        </button></template
      >
      <button v-if="canMail" type="button" class="btn" :disabled="!slip.lines.length" @click="beginMail">
        {{ slip.mail.letters.length ? 'Mail it again' : 'Mail it' }}
      </button>
      <RouterLink v-if="slip.asked?.move" class="btn" :to="{ name: 'slip', params: { id: slip.asked.move } }"
        >See the move</RouterLink
      >
      <button type="button" class="btn" @click="print">Print</button
      ><button type="button" class="btn" @click="text">Save as text</button
      ><SaveAs :path="`/api/restock/${props.id}`" name="restock" foot />
      <button v-if="mine || slip.state === 'asked'" type="button" class="btn btn-danger ml-auto" @click="drop">
        {{ open ? 'Throw away' : 'It will not come' }}
      </button>
    </footer>
    <AskDialog :open="mailing" :title="`Mail it to ${slip.name}`" @close="mailing = false">
      <form class="grid gap-3" @submit.prevent="mail">
        <p class="soft">
          The lines go out as text, with a PDF and a CSV.<template v-if="open"> From then on it is asked for.</template>
        </p>
        <label
          ><span class="label">Address</span
          ><input v-model="letter.to" class="field" type="email" autocomplete="off" placeholder="orders@example.org"
        /></label>
        <div v-if="open">
          <span class="label">Expected</span
          ><DateField v-model="letter.expected" label="Expected" near="not known" class="w-40" />
        </div>
        <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
        <div class="flex gap-3">
          <button class="btn btn-act" :disabled="!letter.to.trim()">Send it</button
          ><button type="button" class="btn" @click="mailing = false">Not yet</button>
        </div>
      </form>
    </AskDialog>
    <AskDialog :open="asking" :title="`Asked for, of ${slip.name}`" @close="asking = false">
      <form class="grid gap-3" @submit.prevent="ask">
        <label
          ><span class="label">How, or where</span
          ><input
            v-model="asked.where"
            class="field"
            list="wheres"
            placeholder="by telephone, on their page, by mail" /><datalist id="wheres">
            <option
              v-for="x in ['by telephone', 'on their page', 'by mail', 'at the counter']"
              :key="x"
              :value="x"
            /></datalist
        ></label>
        <div><span class="label">When</span><MomentField v-model="asked.at" label="Asked for" /></div>
        <label
          ><span class="label">Their number, if there is one</span><input v-model="asked.number" class="field mono"
        /></label>
        <div>
          <span class="label">Expected</span
          ><DateField v-model="asked.expected" label="Expected" near="not known" class="w-40" />
        </div>
        <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
        <div class="flex gap-3">
          <button class="btn btn-act" :disabled="!asked.where.trim()">It is asked for</button
          ><button type="button" class="btn" @click="asking = false">Not yet</button>
        </div>
      </form>
    </AskDialog>
  </div>
</template>
<style scoped>
td:first-child,
th:first-child {
  padding-left: 20px;
}
td:last-child {
  padding-right: 20px;
}
</style>
