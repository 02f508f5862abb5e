<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import type { BackupsView, Settings } from '@shelve/contract'
import { call, said } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import NumberField from '../ui/NumberField.vue'
import { decimalTyped } from '../ui/typed.ts'
import SetupTabs from '../places/SetupTabs.vue'
import { useFormat } from '../ui/format.ts'

const session = useSession()
const strip = useStrip()
const form = reactive<Settings>({ ...session.settings })
/** What each field said when it was shown: what somebody else changes meanwhile is shown, what is typed here stays. */
let shown: Settings = { ...session.settings }
const mine = () => Object.fromEntries(Object.entries(form).filter(([k, v]) => v !== shown[k as keyof Settings]))
/** How much a count may be off in value; nothing where there is no such limit. */
const worth = computed({
  get: () => form.toleranceValue ?? '',
  set: typed => (form.toleranceValue = typed || null),
})
/** What is sent of it: numbers as they are read. */
const read = (changed: ReturnType<typeof mine>) =>
  Object.fromEntries(
    Object.entries(changed).map(([k, v]) => [k, k.startsWith('tolerance') && v ? decimalTyped(String(v)) : v]),
  )
watch(
  () => session.settings,
  now => {
    Object.assign(form, { ...now, ...mine() })
    shown = { ...now }
  },
)
const wrong = ref('')
interface Verified {
  ok: boolean
  movements: number
  faults: { check: string; where: string }[]
}
const verified = ref<Verified | null>(null)
const busy = ref(false)
async function save() {
  wrong.value = ''
  try {
    await call('PUT', '/api/settings', { body: read(mine()) })
    await session.load()
    strip.say('Saved.')
  } catch (e) {
    wrong.value = said(e)
  }
}
async function verify() {
  busy.value = true
  try {
    verified.value = await call<Verified>('POST', '/api/verification')
  } catch (e) {
    wrong.value = said(e)
  } finally {
    busy.value = false
  }
}
const { it: backups, reload: readBackups } = useReading<BackupsView>(
  () => (session.maySetUp ? '/api/backups' : undefined),
  e => e.kind === 'setup',
)
const copying = ref(false)
async function backUp() {
  copying.value = true
  try {
    await call('POST', '/api/backups')
    await readBackups()
    strip.say('The backup is written and has its checksum.')
  } catch (e) {
    strip.say(said(e), 'bad')
  } finally {
    copying.value = false
  }
}
const f = useFormat()
const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${f.number((bytes / 1e6).toFixed(1))} MB`
</script>
<template>
  <SetupTabs />
  <div class="grid lg:grid-cols-2 gap-5 items-start">
    <form class="slip p-6 flex flex-col gap-4" @submit.prevent="save">
      <h1>The organisation</h1>
      <label><span class="label">Name</span><input v-model="form.name" class="field" /></label>
      <p class="soft">Amounts in {{ form.currency }}, clock of {{ form.zone }}: both stay.</p>
      <label
        ><span class="label">Decimals with</span
        ><select v-model="form.decimalMark" class="field">
          <option value=".">a point</option>
          <option value=",">a comma</option>
        </select></label
      ><label
        ><span class="label">Dates as</span
        ><select v-model="form.dateOrder" class="field">
          <option value="dmy">day month year</option>
          <option value="mdy">month day year</option>
          <option value="ymd">year month day</option>
        </select></label
      >
      <label
        ><span class="label">An item is short</span
        ><select v-model="form.shortRule" class="field">
          <option value="at_or_below">at its minimum or below</option>
          <option value="below">only below its minimum</option>
        </select></label
      ><label
        ><span class="label">What was asked for counts as coming until so many days past its day</span
        ><input v-model.number="form.patienceDays" type="number" min="0" max="365" class="field field-num" /></label
      ><label
        ><span class="label">What jobs will need calls for restocking so many days ahead</span
        ><input v-model.number="form.aheadDays" type="number" min="0" max="365" class="field field-num" /></label
      ><label
        ><span class="label">A count may be off by so many per cent of what was expected</span
        ><NumberField v-model="form.tolerancePercent" /></label
      ><label
        ><span class="label">… and by no more than this in value; nothing: no such limit</span
        ><NumberField v-model="worth" /></label
      ><label
        ><span class="label">New items are costed by</span
        ><select v-model="form.method" class="field">
          <option value="average">moving average</option>
          <option value="fifo">first in, first out</option>
          <option value="lot">actual lot</option>
          <option value="standard">standard</option>
        </select></label
      >
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <button v-if="session.maySetUp" class="btn btn-act self-start">Save</button>
    </form>
    <div class="grid gap-5">
      <section class="slip p-6">
        <h1>Can the figures be trusted?</h1>
        <p class="soft mb-3">
          Works out every balance, cost and seal anew from the movements and compares. It changes nothing.
        </p>
        <button v-if="session.maySetUp" type="button" class="btn" :disabled="busy" @click="verify">
          {{ busy ? 'Working it out …' : 'Work everything out anew' }}
        </button>
        <p v-if="verified" class="mt-3" role="status">
          <b>{{ verified.ok ? 'Everything agrees' : `${verified.faults.length} things do not agree` }}</b>:
          {{ verified.movements }} movements.
        </p>
        <ul v-if="verified && !verified.ok">
          <li v-for="(x, i) in verified.faults.slice(0, 20)" :key="i" class="error">{{ x.check }}: {{ x.where }}</li>
        </ul>
        <h2 class="mt-6 mb-2">The ledger in open formats</h2>
        <p class="flex flex-wrap gap-2">
          <a class="btn btn-small" href="/api/ledger.csv" download>CSV</a
          ><a class="btn btn-small" href="/api/ledger.jsonl" download>JSON Lines</a
          ><a class="btn btn-small" href="/api/ledger.journal" download>Plain-text journal</a>
        </p>
      </section>
      <section v-if="backups" class="slip p-6">
        <h1>Backups</h1>
        <p class="soft mb-3">
          {{
            backups.hours
              ? `One is taken every ${backups.hours} hours, the last ${backups.keep} are kept`
              : 'They are taken by hand only'
          }}, in the data directory, each with its checksum. Copy them to another machine as well.
        </p>
        <p v-if="backups.trouble" class="error mb-3" role="alert">
          The last one could not be written: {{ backups.trouble }}
        </p>
        <table v-if="backups.rows.length" class="list mb-3">
          <tbody>
            <tr v-for="b in backups.rows.slice(0, 6)" :key="b.name">
              <td class="pl-0!">{{ f.when(b.at) }}</td>
              <td class="mono soft text-[12px]">{{ b.name }}</td>
              <td class="num">{{ size(b.bytes) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft mb-3">There is none yet.</p>
        <button type="button" class="btn" :disabled="copying" @click="backUp">
          {{ copying ? 'Copying …' : 'Take one now' }}
        </button>
      </section>
    </div>
  </div>
</template>
