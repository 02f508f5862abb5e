<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Me } from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useWay } from '../shell/way.ts'

const session = useSession()
const way = useWay()
const zones = ref<string[]>([])
const currencies = Intl.supportedValuesOf('currency')
const region = new Intl.Locale(navigator.language).maximize().region
const form = reactive({
  organisation: {
    name: '',
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    currency: region === 'GB' ? 'GBP' : region === 'US' ? 'USD' : 'EUR',
    decimalMark: (1.5).toLocaleString(navigator.language).includes(',') ? ',' : '.',
    dateOrder: region === 'US' ? 'mdy' : 'dmy',
  },
  manager: { name: '', signIn: '', password: '' },
  area: '',
})
const problem = ref<ApiProblem | null>(null)
const other = ref('')
const busy = ref(false)
void get<{ zones: string[] }>('/api/start').then(s => {
  zones.value = s.zones
})
const sample = computed(
  () =>
    `1${form.organisation.decimalMark}5 kg · ${{ dmy: '25 Nov 2026', mdy: 'Nov 25 2026', ymd: '2026 Nov 25' }[form.organisation.dateOrder]}`,
)
const suggest = () => {
  if (!form.manager.signIn)
    form.manager.signIn =
      form.manager.name
        .trim()
        .split(/\s+/)[0]
        ?.toLowerCase()
        .replace(/[^a-z0-9._-]/g, '') ?? ''
}
async function begin() {
  busy.value = true
  problem.value = null
  other.value = ''
  try {
    session.took(await call<Me>('POST', '/api/start', { body: form }))
    await session.loadPlaces()
    await way.push({ name: 'begin' })
  } catch (e) {
    if (e instanceof ApiProblem && e.problem.fields.length) problem.value = e
    else other.value = said(e)
  } finally {
    busy.value = false
  }
}
const wrong = (f: string) => problem.value?.field(f)
</script>
<template>
  <main class="mx-auto max-w-3xl px-4 py-8">
    <p class="font-bold text-[18px] text-kelp mb-4">Shelve</p>
    <form class="slip p-7" novalidate @submit.prevent="begin">
      <h1>Set up your stockroom</h1>
      <p class="soft mb-6">
        A minute here, then the first item and the first delivery. All of it but currency and zone can be changed later.
      </p>
      <div class="grid sm:grid-cols-2 gap-x-8 gap-y-5">
        <fieldset class="flex flex-col gap-4">
          <legend class="font-semibold mb-3">The organisation</legend>
          <label
            ><span class="label">Name</span
            ><input
              v-model="form.organisation.name"
              class="field"
              v-focus
              autocomplete="organization"
              :aria-invalid="!!wrong('organisation.name')"
            /><span v-if="wrong('organisation.name')" class="error">{{ wrong('organisation.name') }}</span></label
          >
          <label
            ><span class="label">Time zone</span
            ><select v-model="form.organisation.zone" class="field">
              <option v-for="z in zones" :key="z">{{ z }}</option>
            </select></label
          >
          <label
            ><span class="label">Currency</span
            ><select v-model="form.organisation.currency" class="field">
              <option v-for="c in currencies" :key="c">{{ c }}</option>
            </select></label
          >
          <div class="grid grid-cols-2 gap-3">
            <label
              ><span class="label">Decimals with</span
              ><select v-model="form.organisation.decimalMark" class="field">
                <option value=".">a point</option>
                <option value=",">a comma</option>
              </select></label
            >
            <label
              ><span class="label">Dates as</span
              ><select v-model="form.organisation.dateOrder" class="field">
                <option value="dmy">day month year</option>
                <option value="mdy">month day year</option>
                <option value="ymd">year month day</option>
              </select></label
            >
          </div>
          <p class="soft text-[13px]">
            It will look like <span class="mono">{{ sample }}</span>
          </p>
        </fieldset>
        <fieldset class="flex flex-col gap-4">
          <legend class="font-semibold mb-3">You, the first manager</legend>
          <label
            ><span class="label">Your name</span
            ><input
              v-model="form.manager.name"
              class="field"
              autocomplete="name"
              :aria-invalid="!!wrong('manager.name')"
              @blur="suggest"
            /><span v-if="wrong('manager.name')" class="error">{{ wrong('manager.name') }}</span></label
          >
          <label
            ><span class="label">You sign in as</span
            ><input
              v-model="form.manager.signIn"
              class="field"
              autocomplete="username"
              :aria-invalid="!!wrong('manager.signIn')"
            /><span v-if="wrong('manager.signIn')" class="error">{{ wrong('manager.signIn') }}</span></label
          >
          <label
            ><span class="label">Password, at least 8 characters</span
            ><input
              v-model="form.manager.password"
              type="password"
              class="field"
              autocomplete="new-password"
              :aria-invalid="!!wrong('manager.password')"
            /><span v-if="wrong('manager.password')" class="error">{{ wrong('manager.password') }}</span></label
          >
          <label class="mt-3"
            ><span class="label">Your first area (a room, a cupboard, a trolley)</span
            ><input
              v-model="form.area"
              class="field"
              placeholder="Back cupboard"
              :aria-invalid="!!wrong('area')"
            /><span v-if="wrong('area')" class="error">{{ wrong('area') }}</span></label
          >
        </fieldset>
      </div>
      <p v-if="other" class="error mt-4" role="alert">{{ other }}</p>
      <button class="btn btn-act mt-6" :disabled="busy">Begin</button>
    </form>
  </main>
</template>
