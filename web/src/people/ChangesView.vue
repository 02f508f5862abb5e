<script setup lang="ts">
/** Who changed what of rights and settings, when and from where; and who was not let in. */
import { computed, ref } from 'vue'
import type { AuditEntry, AuditKind } from '@shelve/contract'
import { writtenMonth } from '@shelve/core'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import SetupTabs from '../places/SetupTabs.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import NextPage from '../ui/NextPage.vue'

const f = useFormat()
const what = ref<AuditKind | ''>('')
const q = ref('')
const WHAT: Record<AuditKind, string> = {
  begun: 'Shelve was set up',
  person_added: 'new person',
  person_renamed: 'name of a person',
  person_out_of_use: 'taken out of use',
  person_in_use: 'in use again',
  roles: 'roles and places',
  password_reset: 'password reset by a manager',
  password: 'own password',
  pin: 'own PIN',
  badge: 'new badge',
  signed_out: 'signed out from afar',
  setting: 'setting',
  account_code: 'account code',
  month_closed: 'month closed',
  sign_in_refused: 'sign-in refused',
  hands_refused: 'badge or PIN refused',
  put_back: 'backup put in place',
}
/** Why somebody was not let in, and what settings are called on their own page. */
const WORDS: Record<string, string> = {
  wrong_sign_in: 'name and password do not belong together',
  wrong_pin: 'wrong PIN',
  pin_locked: 'PIN wrong too often',
  unknown_badge: 'nobody has this badge',
  name: 'Name',
  zone: 'Time zone',
  currency: 'Currency',
  decimalMark: 'Decimal mark',
  dateOrder: 'Order of dates',
  shortRule: 'What counts as short',
  method: 'Usual cost method',
  patienceDays: 'Days that what was asked for counts as coming',
  tolerancePercent: 'Per cent that a count may be off',
  toleranceValue: 'Value that a count may be off',
  aheadDays: 'Days ahead that what jobs will need calls for restocking',
}
const word = (r: AuditEntry, text: string) =>
  r.what === 'month_closed' && text
    ? writtenMonth(text)
    : r.what === 'setting' || r.what.endsWith('_refused')
      ? (WORDS[text] ?? text.replaceAll('_', ' '))
      : text
/** What stood and what stands. */
const stood = (r: AuditEntry, text: string) =>
  r.what === 'put_back' && text ? `knows all until ${f.when(text)}` : word(r, text)
const path = (cursor?: string) => `/api/audit${query({ what: what.value, q: q.value.trim(), cursor, limit: 100 })}`
const { rows, first, next, more, loaded } = usePages<
  AuditEntry,
  { rows: AuditEntry[]; next: string | null; total: number | null }
>(path, e => e.kind !== 'draft')
const total = computed(() => first.value?.total ?? 0)
</script>
<template>
  <SetupTabs />
  <div class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-end">
      <div>
        <h1>Who changed what</h1>
        <p class="soft">
          Rights, settings, passwords, months, backups; kept for good<template v-if="loaded"
            >: {{ total }} in all</template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <input
          v-model.lazy="q"
          class="field field-small w-44!"
          placeholder="Who or what"
          aria-label="Filter by who or what"
        /><select v-model="what" class="field field-small w-52!" aria-label="What was changed">
          <option value="">everything</option>
          <option v-for="(label, k) in WHAT" :key="k" :value="k">{{ label }}</option></select
        ><SaveAs :path="path()" name="audit" :disabled="!rows.length" />
      </div>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>Of</th>
            <th>Before</th>
            <th>After</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in rows" :key="i">
            <td class="whitespace-nowrap">{{ f.when(r.at) }}</td>
            <td class="wrap-anywhere min-w-20">{{ r.by ?? 'nobody signed in' }}</td>
            <td>{{ WHAT[r.what] }}</td>
            <td class="wrap-anywhere">{{ word(r, r.subject) }}</td>
            <td>{{ stood(r, r.before) }}</td>
            <td>{{ stood(r, r.after) }}</td>
            <td class="soft" :class="{ 'whitespace-nowrap': !r.address }">
              {{
                r.address
                  ? [r.address, r.device].filter(Boolean).join(' · ')
                  : r.what === 'put_back'
                    ? 'the server'
                    : 'Shelve itself'
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="loaded" class="px-5 pb-6 soft">Nothing fits this filter.</p>
    <NextPage v-if="next" class="m-4" label="More" @more="more" />
  </div>
</template>
