<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Place } from '@shelve/contract'
import { post, put, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useTakers } from '../scan/takers.ts'
import { numberTyped } from '../ui/typed.ts'
import SetupTabs from './SetupTabs.vue'

const session = useSession()
const wrong = ref('')
const editing = ref<string | null>(null)
const form = reactive({ name: '', parent: '', kind: 'bin', walk: '', codes: '', countEveryDays: '', openShelf: false })
const KINDS = {
  premises: 'premises',
  area: 'area',
  bin: 'bin',
  held: 'place for held goods',
  transit: 'on the way',
  with_job: 'with a job',
}
const tree = computed(() => {
  const out: { p: Place; depth: number }[] = []
  const walk = (parent: string | null, depth: number) => {
    for (const p of session.places.filter(x => x.parent === parent && x.kind !== 'with_job')) {
      out.push({ p, depth })
      walk(p.id, depth + 1)
    }
  }
  walk(null, 0)
  return out
})
function fresh(parent: Place | null) {
  editing.value = 'new'
  wrong.value = ''
  Object.assign(form, {
    name: '',
    parent: parent?.id ?? '',
    kind: parent && parent.kind !== 'premises' ? 'bin' : 'area',
    walk: '',
    codes: '',
    countEveryDays: '',
    openShelf: false,
  })
}
function edit(p: Place) {
  editing.value = p.id
  wrong.value = ''
  Object.assign(form, {
    name: p.name,
    parent: p.parent ?? '',
    kind: p.kind,
    walk: String(p.walk),
    codes: p.codes.join(' '),
    countEveryDays: p.countEveryDays === null ? '' : String(p.countEveryDays),
    openShelf: p.openShelf,
  })
}
async function save() {
  const body = {
    name: form.name,
    parent: form.parent || null,
    kind: form.kind,
    codes: form.codes.split(/\s+/).filter(Boolean),
    countEveryDays: form.kind === 'area' ? numberTyped(form.countEveryDays) : null,
    openShelf: form.kind === 'area' && form.openShelf,
    ...(form.walk.trim() ? { walk: numberTyped(form.walk) } : {}),
  }
  const p = session.places.find(x => x.id === editing.value)
  try {
    if (p) await put(`/api/places/${p.id}`, body, { revision: p.revision })
    else await post('/api/places', body)
    await session.loadPlaces()
    if (p) editing.value = null
    else form.name = ''
    wrong.value = ''
  } catch (e) {
    wrong.value = said(e)
  }
}
const codesScanned = useTakers().collect(
  () => form.codes,
  c => {
    form.codes = c
  },
)
</script>
<template>
  <SetupTabs />
  <div class="slip max-w-4xl">
    <div class="px-5 pt-4 pb-3 flex justify-between gap-4 items-end">
      <div>
        <h1>Places</h1>
        <p class="soft">In walking order: a sheet leads through them as they stand here.</p>
      </div>
      <button v-if="session.maySetUp" type="button" class="btn btn-small btn-act" @click="fresh(null)">New area</button>
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
        ><select v-model="form.parent" class="field field-small" :disabled="editing !== 'new'">
          <option value="">nothing: at the top</option>
          <option v-for="p in session.places" :key="p.id" :value="p.id">{{ p.path }}</option>
        </select></label
      ><label
        ><span class="label">What it is</span
        ><select v-model="form.kind" class="field field-small">
          <option v-for="(l, k) in KINDS" :key="k" :value="k">{{ l }}</option>
        </select></label
      ><label class="w-24"
        ><span class="label">Walk no.</span
        ><input v-model="form.walk" class="field field-small field-num" inputmode="numeric" /></label
      ><label class="w-40"
        ><span class="label">Its barcode</span
        ><input
          v-model="form.codes"
          v-code="codesScanned"
          class="field field-small mono"
          @keydown.enter.prevent /></label
      ><label v-if="form.kind === 'area'" class="w-36"
        ><span class="label">Count every … days</span
        ><input v-model="form.countEveryDays" class="field field-small field-num" inputmode="numeric" /></label
      ><label v-if="form.kind === 'area'" class="flex gap-2 items-center text-[13px] basis-full"
        ><input v-model="form.openShelf" type="checkbox" /> An open shelf: whoever may ask for things may take them from
        here themselves</label
      ><button class="btn btn-small btn-act">{{ editing === 'new' ? 'Make this place' : 'Save place' }}</button
      ><button type="button" class="btn btn-small" @click="editing = null">Done</button>
      <p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p>
    </form>
    <table class="list">
      <thead>
        <tr>
          <th>Place</th>
          <th>What</th>
          <th>Counted</th>
          <th>Own code</th>
          <th>Barcode</th>
          <th><span class="sr-only">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ p, depth } in tree" :key="p.id">
          <td
            class="wrap-anywhere min-w-44"
            :style="{ paddingLeft: 20 + depth * 22 + 'px' }"
            :class="{ 'font-semibold': depth === 0 }"
          >
            {{ p.name }}
          </td>
          <td>{{ KINDS[p.kind] }}{{ p.openShelf ? ', open shelf' : '' }}</td>
          <td>{{ p.countEveryDays ? `every ${p.countEveryDays} days` : '' }}</td>
          <td class="mono soft">{{ p.own }}</td>
          <td class="mono">{{ p.codes.join(', ') }}</td>
          <td class="text-right whitespace-nowrap">
            <template v-if="session.may('set_up', p.id)"
              ><button v-if="p.kind !== 'bin'" type="button" class="btn btn-small" @click="fresh(p)">
                New {{ p.kind === 'premises' ? 'area' : 'bin' }} here
              </button>
              <button type="button" class="btn btn-small ml-1" :aria-label="`Change ${p.name}`" @click="edit(p)">
                Change
              </button></template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
<style scoped>
th:first-child {
  padding-left: 20px;
}
</style>
