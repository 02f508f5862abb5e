<script setup lang="ts">
/** A new item, or an item changed or copied. Only code, name and unit are needed. */
import { computed, ref, watch } from 'vue'
import { nearest, proposeCode } from '@shelve/core'
import { useRoute, useRouter } from 'vue-router'
import { type Category, type Item, refusedInWords } from '@shelve/contract'
import { ApiProblem, get, post, put, remove, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { useScan } from '../scan/store.ts'
import { useTakers } from '../scan/takers.ts'
import SetupTabs from '../places/SetupTabs.vue'
import { unread } from '../ui/unread.ts'
import MethodChange from './MethodChange.vue'
import CategoryField from './CategoryField.vue'
import PackFields from './PackFields.vue'
import FirstStock from './FirstStock.vue'
import { formOf, freshItem, isEmptyPack, itemInput, stockInput, stockRow, type StockRow, words } from './item-form.ts'
import { categoriesUp } from './categories-up.ts'
import { handedTolerance } from './tolerance-form.ts'
import ItemMore from './ItemMore.vue'
import { UNITS } from './units.ts'

const props = defineProps<{ id?: string }>()
const route = useRoute()
const router = useRouter()
const way = useWay()
const index = useIndex()
const strip = useStrip()
const scan = useScan()
const session = useSession()
const revision = ref<number | undefined>()
const frozen = ref(false)
/** Something of it lies somewhere. */
const lies = ref(false)
const foundBy = ref<string | null>(null)
const method = ref<Item['method']>('average')
const changing = ref(false)
const problem = ref<ApiProblem | null>(null)
const other = ref('')
const busy = ref(false)
const { choices: categories, come: categoriesCame, reload: loadCategories } = useChoices<Category>('/api/categories')
const form = ref(freshItem())
/** Where a new one stands from the beginning. */
const stock = ref<StockRow[]>([stockRow(session.placeId)])
async function madeCategory(id: string) {
  await loadCategories()
  form.value.category = id
}
const copyOf = typeof route.query.copy === 'string' ? route.query.copy : undefined
if (typeof route.query.code === 'string') form.value.codes = route.query.code
const named = typeof route.query.name === 'string' ? route.query.name : undefined
/** What stands there is drawn once it has come: it would move what is below, and take the place of what was typed before. */
const there = ref(!(props.id ?? copyOf))
/** What is scanned while it is on its way is written down once it is there. */
let came: Promise<unknown> = Promise.resolve()
if (props.id ?? copyOf)
  came = Promise.all([get<Item>(`/api/items/${props.id ?? copyOf}`), categoriesCame]).then(
    ([i]) => {
      if (props.id) {
        revision.value = i.revision
        frozen.value = i.unitFrozen
        lies.value = i.methodBySlip
        foundBy.value = i.foundBy
        method.value = i.method
      }
      form.value = formOf(i, !props.id)
      there.value = true
    },
    e => {
      other.value = said(e)
    },
  )
/** A code is proposed out of the name, until somebody writes their own. */
const taken = computed(() => new Set(index.items.map(i => i.code.toUpperCase())))
watch(
  () => form.value.name,
  (name, old) => {
    const proposed = (of: string) => (of.trim() ? proposeCode(of, c => taken.value.has(c)) : '')
    if (!props.id && form.value.code === proposed(old)) form.value.code = proposed(name)
  },
  { flush: 'sync' },
)
if (named) form.value.name = named
type Handed = 'unit' | 'decimals' | 'identifiedBy' | 'method' | 'shelfLifeDays' | 'daysOnceOpened'
/** What the nearest category that says it hands down. */
const handed = <K extends Handed>(of: K): Category[K] | null =>
  nearest(categoriesUp(categories.value, form.value.category), c => c[of])
/** By what method it is costed, by itself or handed down. */
const costed = computed(() => form.value.method || handed('method') || session.me?.settings?.method)
/** Counted or measured in, and identified by: its own, or handed down. */
const unit = computed(() => form.value.unit || handed('unit') || '')
const identified = computed(() => form.value.identifiedBy || handed('identifiedBy') || 'quantity')
// A code scanned here is written down here.
const codesScanned = useTakers().collect(
  () => form.value.codes,
  c => {
    form.value.codes = c
  },
)
scan.wants(async m => {
  await came
  if (m.item && m.item !== props.id) return false
  const codes = words(form.value.codes)
  if (m.kind !== 'command' && !codes.includes(m.code)) form.value.codes = [...codes, m.code].join(' ')
  return true
})
/** What was seen of the item, for whoever else changes it. */
const seen = () => (revision.value === undefined ? {} : { revision: revision.value })
async function save() {
  other.value = unread.value ?? ''
  if (other.value) return
  busy.value = true
  const heard = String(route.query.heard ?? '')
  problem.value = null
  // What never lies on a shelf stands nowhere.
  const first = stockInput(form.value.kept === 'stock' ? stock.value : [])
  const packs = form.value.packs.flatMap((p, i) => (isEmptyPack(p) ? [] : [i]))
  const body = itemInput(form.value, costed.value === 'standard')
  try {
    const saved = props.id
      ? await put<Item>(`/api/items/${props.id}`, body, seen())
      : await post<Item>('/api/items', { ...body, stock: first.sent })
    await index.load()
    strip.say(
      `${saved.name} is saved.`,
      'good',
      props.id || first.sent.some(r => r.minimum ?? r.target)
        ? []
        : [{ label: 'Set its levels', run: () => void router.push({ name: 'item', params: { id: saved.id } }) }],
    )
    await way.push(
      typeof route.query.back === 'string' && route.query.back.startsWith('/')
        ? route.query.back
        : props.id
          ? { name: 'item', params: { id: saved.id } }
          : { name: 'setup-items' },
    )
    // What was scanned, and was nobody's, goes on to where it was scanned.
    if (heard) void scan.scanned(heard)
  } catch (e) {
    if (e instanceof ApiProblem && e.problem.fields.length) problem.value = inRows(e, { stock: first.rows, packs })
    else other.value = said(e)
  } finally {
    busy.value = false
  }
}
/** Where the keyboard goes on after the packs. */
const afterPacks = () =>
  (
    document.querySelector<HTMLElement>('[data-stock] input') ?? document.querySelector<HTMLElement>('form .btn-act')
  )?.focus()
async function revive() {
  try {
    await post(`/api/items/${props.id}/revival`)
    strip.say('It is in use again. Scan its barcodes to link them.')
    await index.load()
    await way.push({ name: 'setup-items' })
  } catch (e) {
    other.value = said(e)
  }
}
async function retire() {
  try {
    await remove(`/api/items/${props.id}`, seen())
    strip.say('It is retired; its history stays.')
    await index.load()
    await way.push({ name: 'setup-items' })
  } catch (e) {
    other.value = said(e)
  }
}
/** Rows that say nothing are not sent: what is said of one is said of the row as it stands here. */
const inRows = (e: ApiProblem, rows: Readonly<Record<string, readonly number[]>>) =>
  new ApiProblem({
    ...e.problem,
    fields: e.problem.fields.map(x => ({
      ...x,
      field:
        x.field?.replace(/^(stock|packs)\.(\d+)/, (_, of: string, n: string) => `${of}.${rows[of]![Number(n)]}`) ??
        null,
    })),
  })
const wrong = (f: string) => problem.value?.field(f)
const unknownFields = computed(
  () =>
    problem.value?.problem.fields.filter(
      x =>
        ![
          'code',
          'name',
          'unit',
          'codes',
          'packs',
          'decimals',
          'identifiedBy',
          ...stock.value.map((_, i) => `stock.${i}`),
          ...(lies.value ? [] : ['standardCost']),
        ].some(k => x.field === k || x.field?.startsWith(`${k}.`)),
    ) ?? [],
)
</script>
<template>
  <SetupTabs />
  <form class="slip p-6 max-w-4xl" novalidate @submit.prevent="save">
    <h1 class="mb-4">{{ props.id ? form.name || 'Item' : 'New item' }}</h1>
    <p v-if="!there && other" class="error" role="alert">{{ other }}</p>
    <template v-if="there">
      <p v-if="foundBy" class="notice mb-4">
        {{ foundBy }} wrote it down where it was found. Look through it and save it: then it is complete.
      </p>
      <div class="grid sm:grid-cols-2 gap-x-8 gap-y-4">
        <label
          ><span class="label">Name</span
          ><input v-model="form.name" class="field" v-focus="!id && !named" :aria-invalid="!!wrong('name')" /><span
            v-if="wrong('name')"
            class="error"
            >{{ wrong('name') }}</span
          ></label
        >
        <label
          ><span class="label">Code (yours, short)</span
          ><input v-model="form.code" v-code class="field mono" :aria-invalid="!!wrong('code')" /><span
            v-if="wrong('code')"
            class="error"
            >{{ wrong('code') }}</span
          ></label
        >
        <label
          ><span class="label">Counted or measured in</span
          ><input
            v-model="form.unit"
            class="field"
            v-focus="named !== undefined"
            list="units"
            :disabled="frozen"
            :placeholder="handed('unit') ?? 'each, box, kg, L …'"
            :aria-invalid="!!wrong('unit')"
          /><datalist id="units">
            <option v-for="u in UNITS" :key="u" :value="u" /></datalist
          ><span v-if="frozen" class="soft text-[13px]">Stock has moved in it: it stays.</span
          ><span v-if="wrong('unit')" class="error">{{ wrong('unit') }}</span></label
        >
        <CategoryField v-model="form.category" :categories="categories" @made="madeCategory" />
        <label
          ><span class="label">Decimals kept</span
          ><select v-model="form.decimals" class="field">
            <option value="">
              {{ handed('decimals') === null ? 'none: whole numbers' : `as the category: ${handed('decimals')}` }}
            </option>
            <option v-for="n in 7" :key="n" :value="String(n - 1)">{{ n - 1 }}</option></select
          ><span v-if="wrong('decimals')" class="error">{{ wrong('decimals') }}</span></label
        >
        <label
          ><span class="label">Identified by</span
          ><select v-model="form.identifiedBy" class="field">
            <option value="">{{ handed('identifiedBy') ? 'as the category' : 'quantity only' }}</option>
            <option value="quantity">quantity only</option>
            <option value="lot">lot</option>
            <option value="lot_expiry">lot and expiry</option>
            <option value="serial">serial number</option></select
          ><span v-if="wrong('identifiedBy')" class="error">{{ wrong('identifiedBy') }}</span></label
        >
        <label class="sm:col-span-2"
          ><span class="label">Barcodes of one {{ form.unit || 'unit' }} (scan them here)</span
          ><input v-model="form.codes" v-code="codesScanned" class="field mono" :aria-invalid="!!wrong('codes')" /><span
            v-if="wrong('codes')"
            class="error"
            >{{ wrong('codes') }}</span
          ></label
        >
      </div>
      <PackFields v-model="form.packs" @done="afterPacks" :unit="unit" :wrong="wrong" />
      <FirstStock
        v-if="!props.id && form.kept === 'stock'"
        v-model="stock"
        :unit="unit"
        :by="identified"
        :wrong="wrong"
      />
      <ItemMore
        v-model="form"
        :lies="lies"
        :costed="costed"
        :known="method"
        :tolerance="handedTolerance(categories, form.category || null, session.settings)"
        :handed="{ shelfLifeDays: handed('shelfLifeDays'), daysOnceOpened: handed('daysOnceOpened') }"
        :wrong="wrong('standardCost')"
        @change="changing = true"
      />
      <p v-for="x in unknownFields" :key="x.field ?? ''" class="error mt-3" role="alert">
        {{ refusedInWords(x.field, x.message) }}
      </p>
      <p v-if="other" class="error mt-3" role="alert">{{ other }}</p>
      <div class="flex flex-wrap gap-3 mt-6">
        <button class="btn btn-act" :disabled="busy">{{ props.id ? 'Save item' : 'Make this item' }}</button><button
          type="button"
          class="btn"
          @click="router.back()"
        >
          Leave it</button
        ><RouterLink v-if="props.id" class="btn" :to="{ name: 'item-new', query: { copy: props.id } }"
          >Copy it</RouterLink
        ><button v-if="props.id && form.active" type="button" class="btn btn-danger ml-auto" @click="retire">
          Retire item</button
        ><button v-else-if="props.id" type="button" class="btn ml-auto" @click="revive">Take it into use again</button>
      </div>
    </template>
  </form>
  <MethodChange
    v-if="props.id && lies"
    :open="changing"
    :item="props.id"
    :name="form.name"
    :unit="form.unit"
    :method="method"
    @close="changing = false"
    @changed="
      (m, r) => {
        method = m
        form.method = m
        revision = r
      }
    "
  />
</template>
