<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Category } from '@shelve/contract'
import { get, post, put, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'
import { numberTyped } from '../ui/typed.ts'
import SetupTabs from '../places/SetupTabs.vue'
import { handedTolerance, limitsInWords, toleranceForm, toleranceInput } from './tolerance-form.ts'
import ToleranceFields from './ToleranceFields.vue'

const session = useSession()
const f = useFormat()
const rows = ref<Category[]>([])
const wrong = ref('')
const editing = ref<string | null>(null)
const blank = {
  name: '',
  parent: '',
  unit: '',
  decimals: '',
  identifiedBy: '',
  method: '',
  shelfLifeDays: '',
  daysOnceOpened: '',
}
const form = reactive({ ...blank })
const tolerance = ref(toleranceForm(null))
const handed = computed(() => handedTolerance(rows.value, form.parent || null, session.settings))
const loaded = ref(false)
async function load() {
  rows.value = (await get<{ rows: Category[] }>('/api/categories')).rows
  loaded.value = true
}
const reload = live(load, e => e.kind === 'setup')
const tree = computed(() => {
  const out: { c: Category; depth: number }[] = []
  const walk = (parent: string | null, depth: number) => {
    for (const c of rows.value.filter(x => x.parent === parent)) {
      out.push({ c, depth })
      walk(c.id, depth + 1)
    }
  }
  walk(null, 0)
  return out
})
/** How often a form was opened: which of them is being saved, and whether it still is the one that stands there. */
let opened = 0
let saving = 0
function edit(c: Category | null) {
  opened++
  editing.value = c?.id ?? 'new'
  wrong.value = ''
  tolerance.value = toleranceForm(c?.tolerance ?? null)
  Object.assign(
    form,
    c
      ? {
          name: c.name,
          parent: c.parent ?? '',
          unit: c.unit ?? '',
          decimals: c.decimals ?? '',
          identifiedBy: c.identifiedBy ?? '',
          method: c.method ?? '',
          shelfLifeDays: String(c.shelfLifeDays ?? ''),
          daysOnceOpened: String(c.daysOnceOpened ?? ''),
        }
      : blank,
  )
}
async function save() {
  const body = {
    name: form.name,
    parent: form.parent || null,
    unit: form.unit || null,
    decimals: form.decimals === '' ? null : Number(form.decimals),
    identifiedBy: form.identifiedBy || null,
    method: form.method || null,
    shelfLifeDays: numberTyped(form.shelfLifeDays),
    daysOnceOpened: numberTyped(form.daysOnceOpened),
    tolerance: toleranceInput(tolerance.value),
  }
  const c = rows.value.find(x => x.id === editing.value)
  const mine = opened
  if (saving === mine) return
  saving = mine
  try {
    if (c) await put(`/api/categories/${c.id}`, body, { revision: c.revision })
    else await post('/api/categories', body)
    // Whoever goes on at once finds it as it was saved.
    await reload()
    if (opened === mine) editing.value = null
  } catch (e) {
    if (opened === mine) wrong.value = said(e)
  } finally {
    if (saving === mine) saving = 0
  }
}
const IDENTIFIED: Record<string, string> = {
  quantity: 'quantity',
  lot: 'lot',
  lot_expiry: 'lot and expiry',
  serial: 'serial number',
}
const METHODS: Record<string, string> = {
  average: 'moving average',
  fifo: 'first in, first out',
  lot: 'actual lot',
  standard: 'standard',
}
</script>
<template>
  <SetupTabs />
  <div class="slip max-w-5xl">
    <div class="px-5 pt-4 pb-3 flex justify-between gap-4 items-end">
      <div>
        <h1>Categories</h1>
        <p class="soft">What stands here, its items inherit unless they say otherwise.</p>
      </div>
      <button v-if="session.maySetUp" type="button" class="btn btn-small btn-act" @click="edit(null)">
        New category
      </button>
    </div>
    <form
      v-if="editing"
      class="px-5 py-4 bg-frost border-y border-hair flex flex-wrap gap-3 items-end"
      @submit.prevent="save"
    >
      <label class="w-44"
        ><span class="label">Name</span><input v-model="form.name" class="field field-small" v-focus /></label
      ><label
        ><span class="label">Within</span
        ><select v-model="form.parent" class="field field-small">
          <option value="">nothing: at the top</option>
          <option v-for="c in rows.filter(x => x.id !== editing)" :key="c.id" :value="c.id">{{ c.name }}</option>
        </select></label
      ><label class="w-24"><span class="label">Unit</span><input v-model="form.unit" class="field field-small" /></label
      ><label class="w-24"
        ><span class="label">Decimals</span
        ><select v-model="form.decimals" class="field field-small">
          <option value="">—</option>
          <option v-for="n in 7" :key="n" :value="n - 1">{{ n - 1 }}</option>
        </select></label
      >
      <label
        ><span class="label">Identified by</span
        ><select v-model="form.identifiedBy" class="field field-small">
          <option value="">—</option>
          <option v-for="(l, k) in IDENTIFIED" :key="k" :value="k">{{ l }}</option>
        </select></label
      ><label
        ><span class="label">Cost method</span
        ><select v-model="form.method" class="field field-small">
          <option value="">—</option>
          <option v-for="(l, k) in METHODS" :key="k" :value="k">{{ l }}</option>
        </select></label
      ><label class="w-32"
        ><span class="label">Shelf life, days</span
        ><input v-model="form.shelfLifeDays" class="field field-small field-num" inputmode="numeric" /></label
      ><label class="w-32"
        ><span class="label">Once opened, days</span
        ><input v-model="form.daysOnceOpened" class="field field-small field-num" inputmode="numeric"
      /></label>
      <ToleranceFields
        v-model="tolerance"
        class="basis-full"
        :unit="form.unit"
        :handed="handed.limits"
        :by="handed.by"
      />
      <button class="btn btn-small btn-act">Save category</button
      ><button type="button" class="btn btn-small" @click="editing = null">Leave it</button>
      <p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p>
    </form>
    <table v-if="tree.length" class="list">
      <thead>
        <tr>
          <th>Category</th>
          <th class="text-right!">Items</th>
          <th>Unit</th>
          <th>Decimals</th>
          <th>Identified by</th>
          <th>Cost method</th>
          <th>A count may be off by</th>
          <th><span class="sr-only">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ c, depth } in tree" :key="c.id">
          <td :style="{ paddingLeft: 20 + depth * 22 + 'px' }" class="font-medium wrap-anywhere min-w-44">
            {{ c.name }}
          </td>
          <td class="num">{{ c.items }}</td>
          <td>{{ c.unit }}</td>
          <td>{{ c.decimals }}</td>
          <td>{{ c.identifiedBy ? IDENTIFIED[c.identifiedBy] : '' }}</td>
          <td>{{ c.method ? METHODS[c.method] : '' }}</td>
          <td>{{ c.tolerance ? limitsInWords(c.tolerance, c.unit ?? '', f) : '' }}</td>
          <td class="text-right">
            <button
              v-if="session.maySetUp"
              type="button"
              class="btn btn-small"
              :aria-label="`Change ${c.name}`"
              @click="edit(c)"
            >
              Change
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="loaded" class="px-5 pb-6 soft">No category yet. They save typing once there are many items alike.</p>
  </div>
</template>
<style scoped>
th:first-child {
  padding-left: 20px;
}
</style>
