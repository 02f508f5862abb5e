<script setup lang="ts">
/** A template as it is written: what it makes, what it takes, and how it is done. Saving it makes a new version. */
import { computed, nextTick, ref, watch } from 'vue'
import { proposeCode } from '@shelve/core'
import type { IndexItem, Template, TemplateInput, TemplateView } from '@shelve/contract'
import { X } from '@lucide/vue'
import { ApiProblem, get, post, put, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import JobsTabs from './JobsTabs.vue'
import { useScan } from '../scan/store.ts'
import { useGoOn } from '../ui/go-on.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import TemplateBesides from './TemplateBesides.vue'
import TemplateLineMore from './TemplateLineMore.vue'
import { daysTyped, freshMakes, freshTemplate, freshTemplateLine } from './template-form.ts'

const props = defineProps<{ id?: string }>()
const way = useWay()
const index = useIndex()
const strip = useStrip()
const form = ref<Template>(freshTemplate())
const version = ref<number | undefined>()
const problem = ref<ApiProblem | null>(null)
const other = ref('')
const busy = ref(false)
/** What it says is drawn once it has come, with the names of its items: it would move what is below, and take the place of what was typed before. */
const came = ref(!props.id)
const there = computed(() => came.value && (index.there || !form.value.lines.length))
/** What is scanned while it is on its way is written down once it is there. */
let asked: Promise<unknown> = Promise.resolve()
if (props.id)
  asked = get<TemplateView>(`/api/templates/${props.id}`).then(
    t => {
      form.value = t.content
      version.value = t.version
      open.value = new Set(t.content.lines.flatMap(l => (l.from || l.instead.length ? [l.id] : [])))
      came.value = true
    },
    e => {
      other.value = said(e)
    },
  )
/** A code is proposed out of the name, until somebody writes their own. */
watch(
  () => form.value.name,
  (name, old) => {
    const proposed = (of: string) => (of.trim() ? proposeCode(of, () => false) : '')
    if (!props.id && form.value.code === proposed(old)) form.value.code = proposed(name)
  },
  { flush: 'sync' },
)
const item = (id: string): IndexItem | undefined => index.byId.get(id)
const OF_MAKES = ['makes.typed', 'makes.yields', 'makes.batch', 'makes.shelfLife']
const made = computed(() => (form.value.makes ? item(form.value.makes.item) : undefined))
const lines = ref<HTMLElement>()
/** Lines of which all that they may say is shown. */
const open = ref(new Set<string>())
async function add(i: IndexItem) {
  form.value.lines.push(freshTemplateLine(i.id))
  await nextTick()
  lines.value?.querySelector<HTMLInputElement>('tr:last-child [data-takes]')?.focus()
}
// What is scanned is one line more.
useScan().wants(async m => {
  await asked
  const found = m.item ? item(m.item) : undefined
  if (!found) return false
  void add(found)
  return true
})
/** What a line says in numbers. */
const AMOUNTS = [
  ['typed', (name: string) => `Takes of ${name}`, 'w-24!'],
  ['fixed', (name: string) => `For each run, of ${name}`, 'w-24!'],
  ['loss', (name: string) => `Lost of ${name}, per cent`, 'w-20!'],
] as const
const toPicker = () => document.querySelector<HTMLInputElement>('[data-add] input')?.focus()
const wrong = (field: string) => problem.value?.problem.fields.find(x => x.line === null && x.field === field)?.message
const wrongOn = (line: string, field?: string) =>
  problem.value?.problem.fields.find(x => x.line === line && (field === undefined || x.field === field))?.message
const missing = computed(() =>
  !form.value.name.trim() ? 'What is it called?' : form.value.lines.length ? '' : 'What does it take? Add a line.',
)
async function save() {
  if (busy.value) return
  if (missing.value) return strip.wants(missing.value)
  busy.value = true
  problem.value = null
  other.value = ''
  try {
    const body: TemplateInput = form.value
    const { id } = props.id
      ? await put<{ id: string }>(
          `/api/templates/${props.id}`,
          body,
          version.value === undefined ? {} : { revision: version.value },
        )
      : await post<{ id: string }>('/api/templates', body)
    strip.say(`${form.value.name} is saved.`)
    await way.push({ name: 'template', params: { id } })
  } catch (e) {
    if (e instanceof ApiProblem && e.problem.fields.length) problem.value = e
    else other.value = said(e)
  } finally {
    busy.value = false
  }
}
useGoOn(save, { of: () => props.id, opened: () => asked })
/** What stands beside no field of its own. */
const elsewhere = computed(
  () =>
    problem.value?.problem.fields.filter(
      x =>
        x.line === null &&
        !['code', 'name', 'makes.share', ...OF_MAKES].includes(x.field ?? '') &&
        !x.field?.startsWith('makes.besides.'),
    ) ?? [],
)
</script>
<template>
  <JobsTabs />
  <form class="slip p-6 max-w-5xl" novalidate @submit.prevent="save">
    <h1 class="mb-4">{{ id ? form.name || 'Template' : 'New template' }}</h1>
    <template v-if="there">
      <div class="grid sm:grid-cols-2 gap-x-8 gap-y-4">
        <label
          ><span class="label">Name</span
          ><input v-model="form.name" v-focus="!id" class="field" :aria-invalid="!!wrong('name')" /><span
            v-if="wrong('name')"
            class="error"
            >{{ wrong('name') }}</span
          ></label
        ><label
          ><span class="label">Code (yours, short)</span
          ><input v-model="form.code" v-code class="field mono" :aria-invalid="!!wrong('code')" /><span
            v-if="wrong('code')"
            class="error"
            >{{ wrong('code') }}</span
          ></label
        >
      </div>
      <fieldset class="mt-6 min-w-0">
        <legend class="font-semibold mb-1">What it makes</legend>
        <template v-if="form.makes">
          <p class="mb-2">
            <span class="font-medium">{{ made?.name }}</span>
            <button type="button" class="btn btn-quiet btn-small ml-2" @click="form.makes = null">
              Something else
            </button>
          </p>
          <div class="flex flex-wrap gap-3 items-end">
            <label class="w-40"
              ><span class="label">The lines are for ({{ made?.unit }})</span
              ><input
                v-model="form.makes.typed"
                class="field field-small field-num"
                :aria-invalid="!!wrong('makes.typed')" /></label
            ><label class="w-32"
              ><span class="label">Yields, per cent</span
              ><input
                v-model="form.makes.yields"
                class="field field-small field-num"
                placeholder="100"
                :aria-invalid="!!wrong('makes.yields')" /></label
            ><label class="w-32"
              ><span class="label">In batches of</span
              ><input
                v-model="form.makes.batch"
                class="field field-small field-num"
                placeholder="any"
                :aria-invalid="!!wrong('makes.batch')" /></label
            ><label class="w-28"
              ><span class="label">Keeps, days</span
              ><input
                :value="form.makes.shelfLife ?? ''"
                class="field field-small field-num"
                inputmode="numeric"
                :aria-invalid="!!wrong('makes.shelfLife')"
                @input="form.makes.shelfLife = daysTyped($event)"
            /></label>
          </div>
          <p v-for="k in OF_MAKES" :key="k" class="error">{{ wrong(k) }}</p>
          <TemplateBesides v-model="form.makes" :wrong="wrong" />
        </template>
        <div v-else class="max-w-md">
          <p class="soft text-[13px] mb-2">
            Nothing where it only uses: a service, a round. Then its lines are for one run.
          </p>
          <ItemPicker
            label="What it makes"
            placeholder="Type what it makes"
            @pick="i => (form.makes = freshMakes(i.id))"
          />
        </div>
      </fieldset>
      <fieldset class="mt-6 min-w-0">
        <legend class="font-semibold mb-1">What it takes</legend>
        <p class="soft text-[13px] mb-2">In the unit of the item, or in one that you name: 400 g, 1 case, 3*12.</p>
        <div v-if="form.lines.length" class="takes">
          <table class="list">
            <thead>
              <tr>
                <th>Item</th>
                <th>Takes</th>
                <th>For each run, more</th>
                <th>Lost, per cent</th>
                <th>May be left out</th>
                <th>Note</th>
                <th><span class="sr-only">Remove</span></th>
              </tr>
            </thead>
            <tbody ref="lines">
              <template v-for="(l, i) in form.lines" :key="l.id">
                <tr :class="{ opened: open.has(l.id) }">
                  <td class="wrap-anywhere min-w-28">
                    <span class="font-medium">{{ item(l.item)?.name }}</span>
                    <div class="soft text-[12px]">in {{ item(l.item)?.unit }}</div>
                    <p v-if="wrongOn(l.id)" class="error" role="alert">{{ wrongOn(l.id) }}</p>
                  </td>
                  <td v-for="[field, label, width] in AMOUNTS" :key="field">
                    <input
                      v-model="l[field]"
                      :data-takes="field === 'typed' || undefined"
                      class="field field-small field-num"
                      :class="width"
                      :aria-label="label(item(l.item)?.name ?? '')"
                      :aria-invalid="!!wrongOn(l.id, field)"
                      @keydown.enter.prevent="$event.ctrlKey || toPicker()"
                    />
                  </td>
                  <td>
                    <label class="left-out"
                      ><input
                        v-model="l.optional"
                        type="checkbox"
                        :aria-label="`${item(l.item)?.name} may be left out`"
                    /></label>
                  </td>
                  <td>
                    <input
                      v-model="l.note"
                      class="field field-small w-36!"
                      :aria-label="`Note on ${item(l.item)?.name}`"
                    />
                  </td>
                  <td class="whitespace-nowrap text-right">
                    <button
                      v-if="!open.has(l.id)"
                      type="button"
                      class="btn btn-quiet btn-small"
                      :aria-label="`More of ${item(l.item)?.name}: where from, what instead`"
                      @click="open.add(l.id)"
                    >
                      More
                    </button>
                    <button
                      type="button"
                      class="btn btn-quiet btn-small px-1!"
                      :aria-label="`Remove ${item(l.item)?.name}`"
                      @click="form.lines.splice(i, 1)"
                    >
                      <X :size="15" aria-hidden="true" />
                    </button>
                  </td>
                </tr>
                <tr v-if="open.has(l.id)">
                  <td colspan="7">
                    <TemplateLineMore
                      v-model="form.lines[i]!"
                      :name="item(l.item)?.name ?? ''"
                      :wrong="f => wrongOn(l.id, f)"
                    />
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
        </div>
        <div class="max-w-md mt-3" data-add>
          <ItemPicker
            elsewhere
            label="What it takes: scan it, or type its name"
            placeholder="Scan or type what it takes"
            @pick="add"
          />
        </div>
      </fieldset>
      <label class="block mt-6"
        ><span class="label">How it is done</span
        ><textarea v-model="form.steps" class="field" rows="4" placeholder="One step a line" />
      </label>
      <label v-if="id" class="flex gap-2 items-center mt-4"
        ><input v-model="form.active" type="checkbox" /> in use
        <span class="soft">· parts are made by what is in use</span></label
      >
      <p v-for="x in elsewhere" :key="x.code" class="error mt-3" role="alert">{{ x.message }}</p>
    </template>
    <p v-if="other" class="error mt-3" role="alert">{{ other }}</p>
    <div v-if="there" class="flex flex-wrap gap-3 mt-6">
      <button type="submit" class="btn btn-act" v-wants="missing">Save this template</button
      ><RouterLink class="btn" :to="id ? { name: 'template', params: { id } } : { name: 'templates' }"
        >Leave it</RouterLink
      >
    </div>
  </form>
</template>
<style scoped>
/* A list that drops out of a table is cut where the table scrolls: there it gets room. */
@media (max-width: 1199px) {
  .takes {
    position: relative;
    overflow-x: auto;
  }
  .takes:has([role='listbox']) {
    padding-bottom: 260px;
  }
}
.opened td {
  border-bottom: 0;
}
.left-out {
  display: inline-flex;
  align-items: center;
  min-width: 28px;
  min-height: 28px;
}
@media (pointer: coarse) {
  .left-out {
    min-width: 48px;
    min-height: 48px;
  }
}
td:first-child,
th:first-child {
  padding-left: 0;
}
</style>
