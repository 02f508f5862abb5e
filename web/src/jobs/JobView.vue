<script setup lang="ts">
/** A job: a slip whose lines are needs. What it takes, whether that is here, made for it, elsewhere or missing; what must be made first hangs beneath. */
import { computed, nextTick, ref } from 'vue'
import { useRoute } from 'vue-router'
import { decimal, formatDecimal } from '@shelve/core'
import {
  isInTime,
  type IndexItem,
  type JobHead,
  type JobState,
  type JobStated,
  type JobView as JobViewed,
} from '@shelve/contract'
import BothVersions from '../papers/BothVersions.vue'
import { v7 } from '../shell/uuid.ts'
import { useScan } from '../scan/store.ts'
import { post, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { useFormat } from '../ui/format.ts'
import { useGoOn } from '../ui/go-on.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import JobCame from './JobCame.vue'
import JobCosts from './JobCosts.vue'
import JobHeadFields from './JobHeadFields.vue'
import JobLines from './JobLines.vue'
import JobPart from './JobPart.vue'
import LeftBehind from './LeftBehind.vue'
import JobsTabs from './JobsTabs.vue'
import { isOver, useJobPaper } from './job-paper.ts'
import { saysRepeats } from './repeats.ts'
import { JOB_STATES, unitFor } from './whence.ts'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const index = useIndex()
const strip = useStrip()
const route = useRoute()
const way = useWay()
const f = useFormat()
const { view: job, paper, known, open, wrong, refused, draft, reload, saved, does } = useJobPaper(() => props.id)
const writes = computed(() => open.value && job.value!.mayChange)
const lines = computed(() => (open.value ? paper.value.lines : (job.value?.lines ?? [])))
const left = computed(() => job.value?.lines.filter(l => Number(l.left) > 0) ?? [])
const well = computed(() => left.value.filter(l => isInTime(l.whence)).length)
/** What of it is free where it is done and could be kept for it, and what could be handed out now. */
const free = computed(() => left.value.filter(l => Number(l.here) > 0))
const ready = computed(() => left.value.filter(l => Number(l.here) + Number(l.held) > 0))
/** What could be handed out: what lies with it too. */
const out = computed(() => ready.value.length + (job.value?.lines.filter(l => Number(l.lies) > 0).length ?? 0))
const kept = computed(() => left.value.filter(l => Number(l.wished) > 0))
const began = computed(() => job.value?.lines.some(l => Number(l.used) !== 0) ?? false)
const details = ref(false)
const fieldWrong = (field: string) => refused.value.find(r => r.line === null && r.field === field)?.message
const follows = computed(() => job.value?.parent !== null && job.value?.parent !== undefined)
/** How it stands, in a few words. */
const standing = computed(() => {
  const j = job.value!
  if (isOver(j)) return JOB_STATES[j.state]
  const can = !j.lines.length
    ? 'nothing is written on it yet'
    : !left.value.length
      ? 'nothing more is needed'
      : `${well.value} of ${left.value.length} need${left.value.length === 1 ? '' : 's'} can be met`
  return `${JOB_STATES[j.state]}, ${can}`
})

async function add(item: IndexItem) {
  let line = paper.value.lines.find(l => l.item === item.id)
  if (!line) {
    line = { id: v7(), item: item.id, typed: '1', unit: null, optional: false, from: null, note: '' }
    paper.value.lines.push(line)
    await draft.save()
  }
  await nextTick()
  const box = document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)
  box?.focus()
  box?.select()
}
// What is scanned is put on it, or is the line that stands there already.
useScan().wants(async m => {
  if (!job.value) await reload()
  const it = m.item ? index.byId.get(m.item) : undefined
  if (!writes.value || !it) return false
  void add(it)
  return true
})
function remove(id: string) {
  paper.value.lines = paper.value.lines.filter(l => l.id !== id)
}
/** Something of a line was kept: what stands here is as the server has it since. */
function told(now: JobViewed) {
  job.value = now
  const of = now.lines.find(l => l.wished !== '0')
  strip.say(of ? `It is kept for ${now.head.name}.` : 'Nothing more of it is free.')
}
async function reserve() {
  if (!(await saved())) return
  const before = new Map(job.value!.lines.map(l => [l.id, l.held]))
  if (!(await does('reservations', {}))) return
  const n = job.value!.lines.filter(l => l.held !== before.get(l.id)).length
  strip.say(
    n ? `Kept for ${job.value!.head.name}: ${n} line${n === 1 ? '' : 's'}.` : 'Nothing more of it is free here.',
  )
}
async function instead(need: string, item: string) {
  if (!(await saved()) || !(await does('instead', { need, item }))) return
  const of = job.value!.lines.find(l => l.item === item)!
  strip.say(`${of.named.name}, ${of.note}.`, 'good')
}
async function release(need: string | null = null) {
  if ((await saved()) && (await does('freeing', { need }))) strip.say('It is free again, for whoever comes first.')
}
async function state(to: JobState) {
  if (open.value && !(await saved())) return
  if (!(await does('state', { state: to }))) return
  const { lost } = job.value as JobStated
  strip.say(
    lost.length
      ? `Not free any more: ${lost.map(l => `${f.number(l.quantity)} ${l.item.unit === 'each' ? '' : `${l.item.unit} `}of ${l.item.name}`).join(', ')}.`
      : `${job.value!.head.name} is ${JOB_STATES[to]}.`,
  )
  await reload()
}
/** What becomes of it as a slip to be looked at: what is here of what it still needs, or what is made by it now. */
async function asSlip(kind: 'issue' | 'make', more: object = {}) {
  if (!(await saved())) return
  try {
    const { id } = await post<{ id: string }>(`/api/jobs/${props.id}/${kind}`, { id: v7(), ...more })
    await way.push({ name: kind, params: { id }, query: { back: route.fullPath } })
  } catch (e) {
    wrong.value = said(e)
  }
}
const handOut = () => asSlip('issue')
/** Something was picked, and lies with it, or where it was to be done before. */
const withIt = computed(() => Boolean(job.value?.behind.length || job.value?.lines.some(l => Number(l.lies) > 0)))
async function pickIt() {
  if (!(await saved())) return
  try {
    const { id } = await post<{ id: string }>('/api/picks', { id: v7(), jobs: [props.id] })
    await way.push({ name: 'pick', params: { id } })
  } catch (e) {
    wrong.value = said(e)
  }
}
async function putBack() {
  try {
    const { id } = await post<{ id: string }>(`/api/jobs/${props.id}/putting-back`, { id: v7() })
    await way.push({ name: 'move', params: { id }, query: { back: route.fullPath } })
  } catch (e) {
    wrong.value = said(e)
  }
}
/** How much is made now: what is left of it, until somebody types less. */
const now = ref('')
const toMake = computed(() => {
  const j = job.value!
  const rest = decimal(j.wanted) - decimal(j.made)
  return formatDecimal(rest > 0n ? rest : decimal(j.wanted))
})
const makeIt = () => asSlip('make', { typed: now.value })
const missing = computed(() => (out.value ? '' : 'Nothing that it still needs is here.'))
async function goOn() {
  if (!writes.value) return
  if (job.value!.makes) await makeIt()
  else if (missing.value) strip.wants(missing.value)
  else await handOut()
}
useGoOn(goOn, {
  of: () => props.id,
  opened: () => job.value ?? reload(),
})
/** When it comes again, in words. */
const again = computed(() => saysRepeats(open.value ? paper.value.head : job.value!.head))
const FIELDS: Partial<Record<keyof JobHead, string>> = {
  day: 'the day',
  time: 'the time',
  typed: 'for how much',
  name: 'what it is called',
  note: 'the note',
  repeats: 'when it comes again',
  again: 'when it comes again',
}
</script>
<template>
  <JobsTabs />
  <NotThere v-if="wrong && !job" :said="wrong" :to="{ name: 'jobs' }" back="Back to Jobs" />
  <div v-if="job && index.there" class="two">
    <div>
      <section class="slip">
        <div class="px-5 pt-4 pb-3 flex gap-4 justify-between items-start head">
          <div class="min-w-0 grow">
            <h1 class="flex flex-wrap gap-x-2 items-center">
              <span>{{ open ? paper.head.name : job.head.name }}</span><template
                v-if="job.wanted !== '0' || job.template"
                ><span>{{ ' for ' }}</span
                ><input
                  v-if="writes && !follows"
                  v-model="paper.head.typed"
                  class="field field-num w-24! text-[18px]"
                  :placeholder="f.number(job.wanted)"
                  aria-label="For how much"
                  :aria-invalid="!!fieldWrong('typed') || undefined"
                  autocomplete="off"
                /><span v-else class="mono">{{ f.number(job.wanted) }}</span
                ><span>{{ ` ${unitFor(job)} ` }}</span></template
              ><span v-if="(open ? paper.head : job.head).day" class="font-normal"
                >{{ f.longDay((open ? paper.head : job.head).day!) }}
                <span class="mono">{{ (open ? paper.head : job.head).time }}</span></span
              >
            </h1>
            <p v-if="fieldWrong('typed')" class="error" role="alert">{{ fieldWrong('typed') }}</p>
            <p class="soft text-pretty">
              <template v-if="job.template"
                >by
                <RouterLink class="go" :to="{ name: 'template', params: { id: job.template.id } }"
                  >{{ job.template.name }}, version {{ job.template.version }}</RouterLink
                ><template v-if="job.template.last > job.template.version">
                  (there is a version {{ job.template.last }} by now)</template
                >
                · </template
              ><template v-if="job.parent"
                >made for
                <RouterLink class="go" :to="{ name: 'job', params: { id: job.parent.id } }"
                  >{{ job.parent.name }}, {{ job.parent.code }}</RouterLink
                >
                · </template
              >in {{ job.placeName }}<template v-if="job.costCentreName"> · {{ job.costCentreName }}</template
              ><template v-if="job.personName"> · {{ job.personName }} sees to it</template
              ><template v-if="job.head.reference"> · their {{ job.head.reference }}</template>
            </p>
            <p v-if="again || job.before || job.next" class="soft">
              {{ again
              }}<template v-if="job.next"
                >{{ again ? ': ' : '' }}the next is
                <RouterLink class="go mono" :to="{ name: 'job', params: { id: job.next.id } }">{{
                  job.next.code
                }}</RouterLink><template v-if="job.next.day">, {{ f.date(job.next.day) }}</template></template
              ><template v-if="job.before"
                >{{ again || job.next ? '; ' : '' }}before it
                <RouterLink class="go mono" :to="{ name: 'job', params: { id: job.before.id } }">{{
                  job.before.code
                }}</RouterLink></template
              >
            </p>
            <p v-if="job.head.note" class="mt-1">{{ job.head.note }}</p>
          </div>
          <div class="text-right standing">
            <p class="mono text-[16px] wrap-anywhere">{{ job.head.code }}</p>
            <p class="soft">
              {{ standing
              }}<template v-if="draft.company.value.length">
                · <b class="text-ink">{{ draft.company.value.join(', ') }}</b> writes on it too</template
              >
            </p>
            <button
              v-if="writes"
              type="button"
              class="btn btn-quiet btn-small no-print"
              :aria-expanded="details"
              @click="details = !details"
            >
              Day, place, who
            </button>
          </div>
        </div>
        <div v-if="writes && details" class="px-5 pb-4 no-print">
          <JobHeadFields v-model="paper.head" :wrong="fieldWrong" :follows="follows" />
        </div>
        <p v-if="draft.ended.value?.unsaved" class="notice mx-5 mb-3" role="alert">
          {{ draft.ended.value.message }} What you typed last is not on it.
        </p>
        <BothVersions
          v-for="d in draft.differingHead.value?.fields ?? []"
          :key="d.field"
          class="mx-5 mb-3"
          :by="draft.differingHead.value!.by"
          :what="FIELDS[d.field as keyof JobHead] ?? 'its particulars'"
          :theirs="String(d.theirs ?? 'nothing')"
          @take="draft.settleHead(d.field, false)"
          @keep="draft.settleHead(d.field, true)"
        />
        <JobLines
          v-if="lines.length"
          :lines="lines"
          :known="known"
          :writes="writes"
          :refused="refused"
          :differing="draft.differing.value"
          :began="began"
          :place="job.head.place"
          :place-name="job.placeName"
          :job="id"
          @remove="remove"
          @settle="draft.settleLine"
          @kept="told"
          @free="l => void release(l)"
          @instead="(need, item) => void instead(need, item)"
        />
        <p v-else class="px-5 pb-3 soft">It needs nothing yet: scan or type what it will take.</p>
        <LeftBehind v-if="job.behind.length" :behind="job.behind" />
        <div v-if="writes" data-add class="px-5 py-3 no-print">
          <ItemPicker label="What else it takes" @pick="i => void add(i)" />
        </div>
        <p v-if="wrong" class="error px-5 pb-3" role="alert">{{ wrong }}</p>
        <footer v-if="job.mayChange" class="px-5 py-3 border-t border-hair flex flex-wrap gap-3 no-print">
          <template v-if="open"
            ><span v-if="job.makes" class="flex gap-2 items-center mr-3"
              ><button type="button" class="btn btn-act" @click="makeIt">Make</button
              ><input
                v-model="now"
                class="field field-small field-num w-20! said-so"
                :placeholder="f.number(toMake)"
                :aria-label="`How much of ${job.makes.name} is made now`"
                autocomplete="off"
                @keydown.enter.prevent="makeIt"
              /><span class="soft">{{ job.wantedUnit }} of it</span></span
            ><button type="button" class="btn" :class="{ 'btn-act': !job.makes }" v-wants="missing" @click="handOut">
              Hand out what is here</button
            ><button v-if="ready.length" type="button" class="btn" @click="pickIt">Pick it</button
            ><button v-if="withIt" type="button" class="btn" @click="putBack">Put back what lies with it</button
            ><button v-if="free.length" type="button" class="btn" @click="reserve()">Keep what is here for it</button
            ><button v-if="kept.length" type="button" class="btn" @click="release()">Free what is kept</button
            ><button v-if="job.state === 'planned'" type="button" class="btn" @click="state('in_work')">
              It is in work</button
            ><button v-else type="button" class="btn" @click="state('planned')">Back to planned</button
            ><button type="button" class="btn" @click="state('done')">It is done</button
            ><button type="button" class="btn btn-danger ml-auto" @click="state('dropped')">Drop it</button></template
          ><template v-else
            ><RouterLink class="btn" :to="{ name: 'jobs', query: { like: job.id } }">Begin one like it</RouterLink
            ><button type="button" class="btn" @click="state('planned')">Open it again</button
            ><button v-if="withIt" type="button" class="btn" @click="putBack">
              Put back what lies with it
            </button></template
          >
        </footer>
      </section>
      <JobCame :job="job" />
      <JobPart v-for="p in job.parts" :id="p.id" :key="p.id" :depth="1" />
      <section v-if="job.template?.steps.trim()" class="slip mt-4 px-5 py-4">
        <h2 class="mb-2">How it is done</h2>
        <p class="whitespace-pre-line">{{ job.template.steps }}</p>
      </section>
    </div>
    <aside><JobCosts :job="job" /></aside>
  </div>
</template>
<style scoped>
/* What is left to be made stands there as good as typed. */
.said-so::placeholder {
  color: var(--ink);
  opacity: 1;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 2.4fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
.standing {
  flex-shrink: 0;
  max-width: 45%;
}
@media (max-width: 760px) {
  .head {
    flex-direction: column;
  }
  .standing {
    max-width: 100%;
  }
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
