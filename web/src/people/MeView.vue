<script setup lang="ts">
/** One's own PIN, and where one is signed in; a manager sees everybody's. */
import { ref } from 'vue'
import type { SessionView } from '@shelve/contract'
import { ApiProblem, call, said } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useFormat } from '../ui/format.ts'

const session = useSession()
const strip = useStrip()
const f = useFormat()
const { it: sessions, reload: load } = useReading<{ rows: SessionView[] }>(
  () => '/api/sessions',
  e => e.kind === 'audit',
)
const password = ref('')
const pin = ref('')
const wrong = ref('')
async function save(value: string | null) {
  wrong.value = ''
  try {
    await call('PUT', '/api/session/pin', { body: { password: password.value, pin: value } })
    await session.load()
    password.value = pin.value = ''
    strip.say(value === null ? 'Your PIN is gone.' : 'Your PIN is set. On a shared tablet it changes hands.')
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? e.problem.fields.map(x => x.message).join(' ') || e.message : said(e)
  }
}
const old = ref('')
const fresh = ref('')
const refused = ref('')
async function change() {
  refused.value = ''
  try {
    await call('PUT', '/api/session/password', { body: { password: old.value, fresh: fresh.value } })
    old.value = fresh.value = ''
    strip.say('Your password is changed. Everywhere else you are signed out.')
    await load()
  } catch (e) {
    refused.value = e instanceof ApiProblem ? e.problem.fields.map(x => x.message).join(' ') || e.message : said(e)
  }
}
async function end(s: SessionView) {
  try {
    await call('DELETE', `/api/sessions/${s.id}`)
    await load()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <div class="grid gap-5 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.6fr)] items-start">
    <div class="grid gap-5 grid-cols-1">
      <section class="slip p-5">
        <h1>My password</h1>
        <p class="soft mb-3">With a new one you are signed out everywhere but here.</p>
        <form class="grid gap-3 grid-cols-1" @submit.prevent="change">
          <label
            ><span class="label">The password you have</span
            ><input v-model="old" type="password" class="field" autocomplete="current-password"
          /></label>
          <label
            ><span class="label">The new one, at least 8 signs</span
            ><input v-model="fresh" type="password" class="field" autocomplete="new-password"
          /></label>
          <p v-if="refused" class="error" role="alert">{{ refused }}</p>
          <div>
            <button
              class="btn btn-act"
              v-wants="
                !old
                  ? 'Type the old password first.'
                  : fresh.length < 8
                    ? 'The new password has eight characters or more.'
                    : ''
              "
            >
              Change the password
            </button>
          </div>
        </form>
      </section>
      <section class="slip p-5">
        <h1>My PIN</h1>
        <p class="soft mb-3">
          Four to eight digits, for changing hands on a tablet that somebody is signed in on.
          {{ session.me?.hasPin ? 'You have one.' : 'You have none yet.' }}
        </p>
        <form class="grid gap-3 grid-cols-1" @submit.prevent="save(pin)">
          <label
            ><span class="label">Your password</span
            ><input v-model="password" type="password" class="field" autocomplete="current-password"
          /></label>
          <label
            ><span class="label">{{ session.me?.hasPin ? 'New PIN' : 'PIN' }}</span
            ><input
              v-model="pin"
              type="password"
              class="field mono"
              inputmode="numeric"
              maxlength="8"
              autocomplete="off"
          /></label>
          <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
          <div class="flex gap-3">
            <button
              class="btn btn-act"
              v-wants="!password ? 'Type your password first.' : pin.length < 4 ? 'A PIN has four digits or more.' : ''"
            >
              Set the PIN</button
            ><button
              v-if="session.me?.hasPin"
              type="button"
              class="btn"
              v-wants="!password ? 'Type your password first.' : ''"
              @click="save(null)"
            >
              Take it away
            </button>
          </div>
        </form>
      </section>
    </div>
    <section class="slip">
      <div class="px-5 pt-4 pb-2">
        <h1>{{ session.maySetUp ? 'Who is signed in where' : 'Where I am signed in' }}</h1>
        <p class="soft">What somebody was writing is kept when they are signed out.</p>
      </div>
      <div class="overflow-x-auto">
        <table class="list edge">
          <thead>
            <tr>
              <th>Who</th>
              <th>Device</th>
              <th>Signed in</th>
              <th>Last seen</th>
              <th><span class="sr-only">End</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in sessions?.rows" :key="s.id">
              <td class="font-medium">{{ s.person }}</td>
              <td>{{ s.device || 'not known' }}</td>
              <td>{{ f.when(s.since) }}</td>
              <td>{{ s.current ? 'now, here' : f.when(s.seenAt) }}</td>
              <td class="text-right">
                <button v-if="!s.current" type="button" class="btn btn-small" @click="end(s)">Sign out</button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  </div>
</template>
