<script setup lang="ts">
/** Who may do what, and where: each person's roles over places, and the one table of what a role may do. */
import { computed, reactive, ref } from 'vue'
import type { Person, Role } from '@shelve/contract'
import { ApiProblem, call, get, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import SetupTabs from '../places/SetupTabs.vue'
import AskDialog from '../ui/AskDialog.vue'
import BarCode from '../scan/BarCode.vue'

const session = useSession()
const strip = useStrip()
const rows = ref<Person[]>([])
const { it: may } = useReading<{ roles: { role: Role; may: string[] }[] }>(
  () => '/api/rights',
  e => e.kind === 'setup',
)
const rights = computed(() => may.value?.roles ?? [])
const wrong = ref('')
const form = reactive({ name: '', signIn: '', password: '', role: 'keeper' as Role, place: '' })
const ROLES: Role[] = ['manager', 'keeper', 'buyer', 'observer', 'requester']
const ACTIONS: Record<string, string> = {
  read: 'look at stock',
  ask: 'ask for things',
  take: 'take from an open shelf',
  order: 'send out what is asked for',
  book: 'book slips',
  reverse: 'take slips back',
  review: 'review counts',
  see_value: 'see values',
  override: 'use an expired lot, with a reason',
  close_month: 'close a month',
  approve: 'approve orders',
  set_up: 'set up',
}
async function load() {
  rows.value = (await get<{ rows: Person[] }>('/api/people')).rows
}
const reload = live(load, e => e.kind === 'setup')
const places = computed(() => session.places.filter(p => p.active && (p.kind === 'premises' || p.kind === 'area')))
const where = (place: string | null) => (place === null ? 'everywhere' : session.placeName(place))
const told = (e: unknown) =>
  e instanceof ApiProblem ? e.problem.fields.map(f => f.message).join(' ') || e.message : said(e)
async function add() {
  wrong.value = ''
  try {
    await post('/api/people', { ...form, place: form.place || null })
    Object.assign(form, { name: '', signIn: '', password: '', role: 'keeper', place: '' })
    await reload()
  } catch (e) {
    wrong.value = told(e)
  }
}
const editing = ref<Person | null>(null)
const change = reactive({ name: '', active: true, grants: [] as { role: Role; place: string }[], password: '' })
function edit(p: Person) {
  editing.value = p
  wrong.value = ''
  Object.assign(change, {
    name: p.name,
    active: p.active,
    grants: p.grants.map(g => ({ role: g.role, place: g.place ?? '' })),
    password: '',
  })
}
async function save() {
  wrong.value = ''
  try {
    await call('PUT', `/api/people/${editing.value!.id}`, {
      revision: editing.value!.revision,
      body: {
        name: change.name,
        active: change.active,
        grants: change.grants.map(g => ({ role: g.role, place: g.place || null })),
        password: change.password || null,
      },
    })
    strip.say(`${change.name} is saved.`)
    editing.value = null
    await reload()
  } catch (e) {
    wrong.value = told(e)
  }
}
const badge = ref('')
const badgeOf = ref('')
async function makeBadge(p: Person) {
  try {
    badge.value = (await call<{ badge: string }>('POST', `/api/people/${p.id}/badge`)).badge
    badgeOf.value = p.name
    await reload()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
const print = () => window.print()
</script>
<template>
  <SetupTabs />
  <div class="slip">
    <div class="px-5 pt-4 pb-3">
      <h1>People</h1>
      <p class="soft">A role reaches over a place and all that lies in it; somebody may have several.</p>
    </div>
    <div class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Name</th>
            <th>Signs in as</th>
            <th>What, and where</th>
            <th>Changes hands by</th>
            <th><span class="sr-only">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in rows" :key="p.id" :class="{ gone: !p.active }">
            <td class="font-medium wrap-anywhere min-w-28">
              {{ p.name }}<span v-if="!p.active" class="soft font-normal"> · no longer signs in</span>
            </td>
            <td class="mono">{{ p.signIn }}</td>
            <td>
              <div v-for="(g, i) in p.grants" :key="i">
                {{ g.role }} <span class="soft">{{ where(g.place) }}</span>
              </div>
            </td>
            <td>
              {{ [p.hasPin ? 'PIN' : '', p.hasBadge ? 'badge' : ''].filter(Boolean).join(', ') || 'password only' }}
            </td>
            <td class="text-right whitespace-nowrap">
              <button type="button" class="btn btn-small" @click="makeBadge(p)">New badge</button>
              <button type="button" class="btn btn-small ml-1" @click="edit(p)">Change</button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <form
      v-if="rows.length"
      class="px-5 py-4 border-t border-hair flex flex-wrap gap-3 items-end"
      @submit.prevent="add"
    >
      <label class="w-40"><span class="label">Name</span><input v-model="form.name" class="field field-small" /></label
      ><label class="w-32"
        ><span class="label">Signs in as</span
        ><input v-model="form.signIn" class="field field-small" autocomplete="off" autocapitalize="none" /></label
      ><label class="w-36"
        ><span class="label">First password</span
        ><input v-model="form.password" type="password" class="field field-small" autocomplete="new-password"
      /></label>
      <label
        ><span class="label">Role</span
        ><select v-model="form.role" class="field field-small">
          <option v-for="r in ROLES" :key="r" :value="r">{{ r }}</option>
        </select></label
      ><label class="w-36"
        ><span class="label">Where</span
        ><select v-model="form.place" class="field field-small">
          <option value="">everywhere</option>
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.path }}</option>
        </select></label
      >
      <button class="btn btn-small btn-act">Add this person</button>
      <p v-if="wrong && !editing" class="error basis-full" role="alert">{{ wrong }}</p>
    </form>
  </div>
  <div class="pt-4" />
  <section class="slip">
    <div class="px-5 pt-4 pb-3"><h1>Who may do what</h1></div>
    <div class="overflow-x-auto pb-3">
      <table class="list edge rights">
        <thead>
          <tr>
            <th>May</th>
            <th v-for="r in rights" :key="r.role">{{ r.role }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(words, a) in ACTIONS" :key="a">
            <td>{{ words }}</td>
            <td v-for="r in rights" :key="r.role">
              {{ r.may.includes(a) ? 'yes' : '' }}<span v-if="!r.may.includes(a)" class="soft">no</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
  <AskDialog :open="!!editing" :title="`What ${editing?.name} may do`" @close="editing = null">
    <form class="grid gap-3" @submit.prevent="save">
      <label><span class="label">Name</span><input v-model="change.name" class="field" /></label>
      <div v-for="(g, i) in change.grants" :key="i" class="flex gap-2 items-end">
        <label class="grow"
          ><span class="label">Role</span
          ><select v-model="g.role" class="field">
            <option v-for="r in ROLES" :key="r" :value="r">{{ r }}</option>
          </select></label
        ><label class="grow"
          ><span class="label">Where</span
          ><select v-model="g.place" class="field">
            <option value="">everywhere</option>
            <option v-for="p in places" :key="p.id" :value="p.id">{{ p.path }}</option>
          </select></label
        ><button
          type="button"
          class="btn btn-quiet btn-small"
          v-wants="
            change.grants.length === 1 ? 'Everybody has one role at least; take the person out of use instead.' : ''
          "
          @click="change.grants.splice(i, 1)"
        >
          Remove
        </button>
      </div>
      <div>
        <button type="button" class="btn btn-small" @click="change.grants.push({ role: 'observer', place: '' })">
          Add a role
        </button>
      </div>
      <label
        ><span class="label">New password (leave empty to keep it)</span
        ><input v-model="change.password" type="password" class="field" autocomplete="new-password"
      /></label>
      <label class="flex gap-2 items-center"><input v-model="change.active" type="checkbox" /> may sign in</label>
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <div class="flex gap-3 mt-2">
        <button class="btn btn-act">Save</button
        ><button type="button" class="btn" @click="editing = null">Leave it</button>
      </div>
    </form>
  </AskDialog>
  <AskDialog :open="badge !== ''" :title="`Badge of ${badgeOf}`" @close="badge = ''">
    <p class="soft mb-3 no-print">
      Print it now: it is shown once. Whoever scans it on a tablet that somebody is signed in on takes over as
      {{ badgeOf }}; an older badge no longer does.
    </p>
    <div class="badge">
      <b>{{ badgeOf }}</b><BarCode :code="badge" />
    </div>
    <div class="flex gap-3 mt-4 no-print">
      <button type="button" class="btn btn-act" @click="print">Print this</button
      ><button type="button" class="btn" @click="badge = ''">Close</button>
    </div>
  </AskDialog>
</template>
<style scoped>
.gone td {
  color: var(--soft);
}
.rights td:not(:first-child),
.rights th:not(:first-child) {
  text-align: center;
  width: 110px;
}
.badge {
  border: 1px solid var(--hair);
  border-radius: 6px;
  padding: 16px;
  background: #fff;
  color: #000;
  display: grid;
  gap: 8px;
  justify-items: center;
}
</style>
