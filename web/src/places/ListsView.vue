<script setup lang="ts">
/** Lists of names: who pays, what things are used for, who delivers, why something is wasted. Renamed and taken out of use here. */
import { reactive, ref } from 'vue'
import type { CostCentre, Job, Named } from '@shelve/contract'
import { get, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import JobsOver from './JobsOver.vue'
import NameList from './NameList.vue'
import SetupTabs from './SetupTabs.vue'

const session = useSession()
const jobs = ref<Job[]>([])
const over = ref(0)
const centres = ref<CostCentre[]>([])
const reasons = ref<Named[]>([])
const suppliers = ref<Named[]>([])
const wrong = ref('')
const job = reactive({ code: '', name: '', costCentre: '' })
const centre = reactive({ code: '', name: '', usual: '' })
const reason = ref('')
/** Until they are there nothing is shown: a list that comes would push away what is about to be touched. */
const came = ref(false)
async function load() {
  const rows = async <T,>(path: string) => (await get<{ rows: T[] }>(path)).rows
  const [j, c, r, s] = await Promise.all([
    get<{ rows: Job[]; more: number }>('/api/jobs'),
    rows<CostCentre>('/api/cost-centres'),
    rows<Named>('/api/waste-reasons'),
    rows<Named>('/api/suppliers'),
  ])
  jobs.value = j.rows
  over.value = j.more
  centres.value = c
  reasons.value = r
  suppliers.value = s
  came.value = true
}
const reload = live(load, e => e.kind === 'setup')
async function add(path: string, body: object, clear: () => void) {
  wrong.value = ''
  try {
    await post(path, body)
    clear()
    await reload()
  } catch (e) {
    wrong.value = said(e)
  }
}
const addJob = () =>
  add('/api/jobs', { ...job, costCentre: job.costCentre || null }, () => Object.assign(job, { code: '', name: '' }))
const addCentre = () =>
  add(
    '/api/cost-centres',
    { name: centre.name, usual: centre.usual || null, ...(centre.code ? { code: centre.code } : {}) },
    () => Object.assign(centre, { code: '', name: '', usual: '' }),
  )
const addReason = () =>
  add('/api/waste-reasons', { name: reason.value }, () => {
    reason.value = ''
  })
</script>
<template>
  <SetupTabs />
  <p v-if="wrong" class="error mb-2" role="alert">{{ wrong }}</p>
  <div v-if="came" class="lists">
    <div>
      <section class="slip p-5">
        <h1 class="mb-1">Jobs</h1>
        <p class="soft mb-3">What things are used for, again and again.</p>
        <NameList path="/api/jobs" what="job" :rows="jobs" :centres="centres" @changed="reload" />
        <JobsOver :many="over" :centres="centres" @changed="reload" />
        <form v-if="session.maySetUp" class="flex flex-wrap gap-2" @submit.prevent="addJob">
          <input
            v-model="job.code"
            class="field field-small mono w-24!"
            placeholder="code"
            aria-label="Code of the job"
          /><input
            v-model="job.name"
            class="field field-small flex-1"
            placeholder="name"
            aria-label="Name of the job"
          /><select v-model="job.costCentre" class="field field-small w-40!" aria-label="Cost centre of the job">
            <option value="">no cost centre</option>
            <option v-for="c in centres.filter(x => x.active)" :key="c.id" :value="c.id">{{ c.name }}</option></select
          ><button
            class="btn btn-small"
            v-wants="!job.code ? 'A job wants a code.' : !job.name ? 'A job wants a name.' : ''"
          >
            Add
          </button>
        </form>
      </section>
    </div>
    <div>
      <section class="slip p-5">
        <h2 class="as-title mb-1">Cost centres</h2>
        <p class="soft mb-3">Who pays: a department, a project, a ward; and the area that it is served from.</p>
        <NameList
          path="/api/cost-centres"
          what="cost centre"
          :rows="centres"
          :areas="session.areas"
          @changed="reload"
        />
        <form v-if="session.maySetUp" class="flex flex-wrap gap-2" @submit.prevent="addCentre">
          <input
            v-model="centre.code"
            class="field field-small mono w-24!"
            placeholder="code"
            aria-label="Code of the cost centre"
          /><input
            v-model="centre.name"
            class="field field-small flex-1"
            placeholder="name"
            aria-label="Name of the cost centre"
          /><select v-model="centre.usual" class="field field-small w-40!" aria-label="Served from">
            <option value="">from anywhere</option>
            <option v-for="a in session.areas" :key="a.id" :value="a.id">{{ a.path }}</option></select
          ><button class="btn btn-small" v-wants="!centre.name ? 'A cost centre wants a name.' : ''">Add</button>
        </form>
      </section>
      <section class="slip p-5">
        <h2 class="as-title mb-1">Suppliers</h2>
        <p class="soft mb-3">Who delivers. A new one is made by the first delivery that names it.</p>
        <NameList path="/api/suppliers" what="supplier" :rows="suppliers" @changed="reload" />
      </section>
      <section class="slip p-5">
        <h2 class="as-title mb-1">Waste reasons</h2>
        <p class="soft mb-3">Why something is thrown away.</p>
        <NameList path="/api/waste-reasons" what="reason" :rows="reasons" @changed="reload" />
        <form v-if="session.maySetUp" class="flex gap-2" @submit.prevent="addReason">
          <input
            v-model="reason"
            class="field field-small"
            placeholder="another reason"
            aria-label="Another waste reason"
          /><button class="btn btn-small" v-wants="!reason ? 'What is the reason called?' : ''">Add</button>
        </form>
      </section>
    </div>
  </div>
</template>
<style scoped>
.lists {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  column-gap: 20px;
}
.lists section {
  margin-bottom: 20px;
}
.as-title {
  font-size: 20px;
  font-weight: 700;
  color: var(--ink);
}
@media (max-width: 1023px) {
  .lists {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
