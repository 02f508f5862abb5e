<script setup lang="ts">
/** Which account code is used for what: a default for each sort, and for categories, places and reasons where theirs differs. */
import { computed, reactive, ref } from 'vue'
import type { AccountCodes } from '@shelve/contract'
import { call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useStrip } from '../shell/strip.ts'
import SetupTabs from '../places/SetupTabs.vue'

const strip = useStrip()
const codes = ref<AccountCodes | null>(null)
const wrong = ref('')
/** What is typed, by kind and id. */
const typed = reactive<Record<string, string>>({})
const SORTS = {
  stock: 'What lies in stock',
  opening: 'Opening stock',
  received: 'Received from suppliers',
  used: 'Used',
  wasted: 'Wasted',
  differences: 'Count differences',
  price: 'Price differences',
  made: 'Made and relabelled',
} as const
/** All of them, by the name of what is typed. */
const all = (c: AccountCodes) => [
  ...c.sorts.map(s => ({
    name: s.sort as string,
    kind: s.sort as string,
    id: null as string | null,
    code: s.code ?? '',
  })),
  ...Object.entries({ category: c.categories, place: c.places, reason: c.reasons }).flatMap(([kind, rows]) =>
    rows.map(r => ({ name: `${kind} ${r.id}`, kind, id: r.id as string | null, code: r.code ?? '' })),
  ),
]
/** What is set, also by somebody else meanwhile; what is typed here and not saved yet stays. */
function took(c: AccountCodes) {
  const shown = new Map((codes.value ? all(codes.value) : []).map(a => [a.name, a.code]))
  for (const { name, code } of all(c)) if ((typed[name] ?? '').trim() === (shown.get(name) ?? '')) typed[name] = code
  codes.value = c
}
live(
  async () => took(await get<AccountCodes>('/api/account-codes')),
  e => e.kind === 'setup',
)
const changed = computed(() =>
  (codes.value ? all(codes.value) : [])
    .map(a => ({ ...a, now: (typed[a.name] ?? '').trim() }))
    .filter(a => a.now !== a.code)
    .map(a => ({ kind: a.kind, id: a.id, code: a.now || null })),
)
async function save() {
  wrong.value = ''
  try {
    took(await call<AccountCodes>('PUT', '/api/account-codes', { body: { codes: changed.value } }))
    strip.say('The codes are saved; summaries of all months use them.')
  } catch (e) {
    wrong.value = said(e)
  }
}
const groups = computed(() =>
  codes.value
    ? [
        {
          kind: 'category',
          title: 'Stock, by category',
          note: 'What lies in stock of its items.',
          rows: codes.value.categories,
        },
        { kind: 'place', title: 'Use, by place', note: 'What is used from there.', rows: codes.value.places },
        { kind: 'reason', title: 'Waste, by reason', note: 'What is thrown away for it.', rows: codes.value.reasons },
      ]
    : [],
)
</script>
<template>
  <SetupTabs />
  <form v-if="codes" @submit.prevent="save">
    <div class="flex flex-wrap gap-4 justify-between items-end mb-3">
      <div>
        <h1>Account codes</h1>
        <p class="soft">By these the period summary is written. An empty field takes the code beside it.</p>
      </div>
      <button class="btn btn-act" v-wants="!changed.length ? 'No code is changed yet.' : ''">
        Save {{ changed.length || '' }} code{{ changed.length === 1 ? '' : 's' }}
      </button>
    </div>
    <p v-if="wrong" class="error mb-2" role="alert">{{ wrong }}</p>
    <div class="four">
      <section class="slip p-5">
        <h2 class="mb-1">Each sort</h2>
        <p class="soft mb-2">Where nothing else is said.</p>
        <label v-for="s in codes.sorts" :key="s.sort" class="row"
          ><span>{{ SORTS[s.sort] }}</span
          ><input v-model="typed[s.sort]" class="field field-small mono w-24! shrink-0" :placeholder="s.inherited"
        /></label>
      </section>
      <section v-for="g in groups" :key="g.kind" class="slip p-5">
        <h2 class="mb-1">{{ g.title }}</h2>
        <p class="soft mb-2">{{ g.note }}</p>
        <label
          v-for="r in g.rows"
          :key="r.id"
          class="row"
          :class="{ 'pl-4': r.parent && g.rows.some(x => x.id === r.parent) }"
          ><span>{{ r.name }}</span
          ><input
            v-model="typed[`${g.kind} ${r.id}`]"
            class="field field-small mono w-24! shrink-0"
            :placeholder="r.inherited"
        /></label>
      </section>
    </div>
  </form>
  <p v-else-if="wrong" class="error">{{ wrong }}</p>
</template>
<style scoped>
.four {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 18px;
  align-items: start;
}
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
  padding: 4px 0;
  border-bottom: 1px solid var(--hair);
}
.row > span {
  min-width: 0;
  overflow-wrap: anywhere;
}
.four > section {
  min-width: 0;
}
.row:last-child {
  border: 0;
}
</style>
