<script setup lang="ts">
import { reactive, ref } from 'vue'
import type { Job, Named } from '@shelve/contract'
import { call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import SetupTabs from './SetupTabs.vue'

const session = useSession()
const jobs = ref<Job[]>([])
const centres = ref<Named[]>([])
const reasons = ref<Named[]>([])
const wrong = ref('')
const job = reactive({ code: '', name: '', costCentre: '' })
const centre = reactive({ code: '', name: '' })
const reason = ref('')
async function load() {
  const [j, c, r] = await Promise.all([
    get<{ rows: Job[] }>('/api/jobs'),
    get<{ rows: Named[] }>('/api/cost-centres'),
    get<{ rows: Named[] }>('/api/waste-reasons'),
  ])
  jobs.value = j.rows
  centres.value = c.rows
  reasons.value = r.rows
}
const reload = live(load, e => e.kind === 'setup')
async function add(path: string, body: object, clear: () => void) {
  wrong.value = ''
  try {
    await call('POST', path, { body })
    clear()
    await reload()
  } catch (e) {
    wrong.value = said(e)
  }
}
const addJob = () =>
  add('/api/jobs', { ...job, costCentre: job.costCentre || null }, () => Object.assign(job, { code: '', name: '' }))
const addCentre = () =>
  add('/api/cost-centres', { name: centre.name, ...(centre.code ? { code: centre.code } : {}) }, () =>
    Object.assign(centre, { code: '', name: '' }),
  )
const addReason = () =>
  add('/api/waste-reasons', { name: reason.value }, () => {
    reason.value = ''
  })
</script>
<template>
  <SetupTabs />
  <p v-if="wrong" class="error mb-2" role="alert">{{ wrong }}</p>
  <div class="grid lg:grid-cols-3 gap-5 items-start">
    <section class="slip p-5">
      <h1 class="mb-1">Cost centres</h1>
      <p class="soft mb-3">Who pays: a department, a project, a ward.</p>
      <ul class="mb-3">
        <li v-for="c in centres" :key="c.id" class="py-1.5 border-b border-hair">
          <span class="mono soft">{{ c.code }}</span> {{ c.name }}
        </li>
      </ul>
      <form v-if="session.maySetUp" class="flex gap-2" @submit.prevent="addCentre">
        <input
          v-model="centre.code"
          class="field field-small mono w-24!"
          placeholder="code"
          aria-label="Code of the cost centre"
        /><input
          v-model="centre.name"
          class="field field-small"
          placeholder="name"
          aria-label="Name of the cost centre"
        /><button class="btn btn-small" :disabled="!centre.name">Add</button>
      </form>
    </section>
    <section class="slip p-5">
      <h1 class="mb-1">Jobs</h1>
      <p class="soft mb-3">What things are used for, again and again.</p>
      <ul class="mb-3">
        <li v-for="j in jobs" :key="j.id" class="py-1.5 border-b border-hair">
          <span class="mono soft">{{ j.code }}</span> {{ j.name
          }}<span v-if="j.costCentre" class="soft text-[13px]"> · {{ j.costCentre.name }}</span>
        </li>
      </ul>
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
        /><select v-model="job.costCentre" class="field field-small" aria-label="Cost centre of the job">
          <option value="">no cost centre</option>
          <option v-for="c in centres" :key="c.id" :value="c.id">{{ c.name }}</option></select
        ><button class="btn btn-small" :disabled="!job.name || !job.code">Add</button>
      </form>
    </section>
    <section class="slip p-5">
      <h1 class="mb-1">Waste reasons</h1>
      <p class="soft mb-3">Why something is thrown away.</p>
      <ul class="mb-3">
        <li v-for="r in reasons" :key="r.id" class="py-1.5 border-b border-hair">{{ r.name }}</li>
      </ul>
      <form v-if="session.maySetUp" class="flex gap-2" @submit.prevent="addReason">
        <input
          v-model="reason"
          class="field field-small"
          placeholder="another reason"
          aria-label="Another waste reason"
        /><button class="btn btn-small" :disabled="!reason">Add</button>
      </form>
    </section>
  </div>
</template>
