<script setup lang="ts">
/** What is counted together though it is no area: a category, or items picked by hand, in a place, by a cycle of its own. */
import { computed, reactive, ref } from 'vue'
import type { Category, CountGroup, CountGroupInput, IndexItem } from '@shelve/contract'
import { ApiProblem, get, post, put, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import ItemPicker from '../ui/ItemPicker.vue'

const session = useSession()
const index = useIndex()
const strip = useStrip()
const groups = ref<CountGroup[]>([])
const categories = ref<Category[]>([])
const loaded = ref(false)
const reload = live(
  async () => {
    const [g, c] = await Promise.all([
      get<{ rows: CountGroup[] }>('/api/count-groups'),
      get<{ rows: Category[] }>('/api/categories'),
    ])
    groups.value = g.rows
    categories.value = c.rows
    loaded.value = true
  },
  e => e.kind === 'sheet' || e.kind === 'setup',
)
const places = computed(() => session.places.filter(p => p.active && session.may('set_up', p.id)))
interface Form {
  id: string | null
  revision: number
  name: string
  place: string
  by: 'category' | 'items'
  category: string
  items: string[]
  every: string
}
const blank = (): Form => ({
  id: null,
  revision: 0,
  name: '',
  place: session.placeId ?? places.value[0]?.id ?? '',
  by: 'items',
  category: '',
  items: [],
  every: '',
})
const form = reactive<Form>(blank())
const wrong = ref<Record<string, string>>({})
function edit(g: CountGroup) {
  Object.assign(form, {
    id: g.id,
    revision: g.revision,
    name: g.name,
    place: g.place,
    by: g.category ? 'category' : 'items',
    category: g.category?.id ?? '',
    items: g.items.map(i => i.id),
    every: g.everyDays === null ? '' : String(g.everyDays),
  })
  wrong.value = {}
}
function clear() {
  Object.assign(form, blank())
  wrong.value = {}
}
const input = (): CountGroupInput => ({
  name: form.name,
  place: form.place,
  category: form.by === 'category' ? form.category || null : null,
  items: form.by === 'items' ? form.items : [],
  everyDays: form.every.trim() ? Number(form.every) : null,
  active: true,
})
/** What is still wanted, said beside its field before anything is sent. */
function missing(): Record<string, string> {
  const no: Record<string, string> = {}
  if (!form.name.trim()) no.name = 'What is it called?'
  if (!form.place) no.place = 'Where is it counted?'
  if (form.by === 'category' && !form.category) no.category = 'Which category?'
  if (form.by === 'items' && !form.items.length) no.items = 'Which items? Scan or type them.'
  if (form.every.trim() && !/^[1-9]\d{0,3}$/.test(form.every.trim())) no.everyDays = 'A number of days, or nothing.'
  return no
}
async function send(
  body: CountGroupInput,
  of: { readonly id: string; readonly revision: number } | null,
  done: string,
) {
  try {
    if (of) await put(`/api/count-groups/${of.id}`, body, { revision: of.revision })
    else await post('/api/count-groups', body)
    strip.say(done)
    clear()
    await reload()
  } catch (e) {
    wrong.value =
      e instanceof ApiProblem && e.problem.fields.length
        ? Object.fromEntries(e.problem.fields.map(x => [x.field ?? 'form', x.message]))
        : { form: said(e) }
  }
}
async function save() {
  wrong.value = missing()
  if (Object.keys(wrong.value).length) return
  const name = form.name.trim()
  const { id, revision } = form
  await send(
    input(),
    id === null ? null : { id, revision },
    id === null ? `${name} is counted together.` : `${name} is changed.`,
  )
}
const use = (g: CountGroup, active: boolean) =>
  send(
    {
      name: g.name,
      place: g.place,
      category: g.category?.id ?? null,
      items: g.items.map(i => i.id),
      everyDays: g.everyDays,
      active,
    },
    g,
    active ? `${g.name} is in use again.` : `${g.name} is out of use.`,
  )
const take = (item: IndexItem) => {
  if (!form.items.includes(item.id)) form.items.push(item.id)
}
const what = (g: CountGroup) =>
  g.category
    ? `all of ${g.category.name}`
    : `${g.items
        .slice(0, 3)
        .map(i => i.name)
        .join(', ')}${g.items.length > 3 ? ` and ${g.items.length - 3} more` : ''}`
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <div class="flex justify-between gap-4 items-start mb-3">
        <div>
          <h1>What is counted together</h1>
          <p class="soft">Counted more often, or otherwise, than the area it lies in.</p>
        </div>
        <RouterLink class="btn btn-small" :to="{ name: 'count' }">Back to Count</RouterLink>
      </div>
      <table v-if="groups.length" class="list">
        <thead>
          <tr>
            <th>Name</th>
            <th>Of what</th>
            <th>Counted</th>
            <th><span class="sr-only">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in groups" :key="g.id" :class="{ soft: !g.active }">
            <td class="wrap-anywhere min-w-28">
              <span class="font-medium">{{ g.name }}</span><span class="block soft text-[12px]"
                >in {{ g.placeName }}</span
              >
            </td>
            <td class="wrap-anywhere min-w-28">{{ what(g) }}</td>
            <td class="whitespace-nowrap">
              {{ !g.active ? 'out of use' : g.everyDays ? `every ${g.everyDays} days` : 'no cycle' }}
            </td>
            <td class="text-right">
              <template v-if="session.may('set_up', g.place)"
                ><button
                  v-if="g.active"
                  type="button"
                  class="btn btn-small"
                  :aria-label="`Change ${g.name}`"
                  @click="edit(g)"
                >
                  Change</button
                ><button
                  type="button"
                  class="btn btn-small ml-1"
                  :aria-label="g.active ? `Take ${g.name} out of use` : `Use ${g.name} again`"
                  @click="use(g, !g.active)"
                >
                  {{ g.active ? 'Out of use' : 'Use again' }}
                </button></template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="loaded" class="soft py-2">
        Nothing yet. Dear things, cold things, or what walks off: name them once, and Count asks for them in time.
      </p>
    </section>
    <form v-if="loaded && places.length" class="slip px-5 py-4 flex flex-col gap-3" novalidate @submit.prevent="save">
      <h2>{{ form.id === null ? 'A new group' : 'Change the group' }}</h2>
      <label
        ><span class="label">Name</span
        ><input
          v-model="form.name"
          class="field"
          maxlength="80"
          :aria-invalid="!!wrong.name || undefined"
          v-focus
        /><span v-if="wrong.name" class="error" role="alert">{{ wrong.name }}</span></label
      >
      <label
        ><span class="label">Where</span
        ><select v-model="form.place" class="field" :aria-invalid="!!wrong.place || undefined">
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.path }}</option></select
        ><span v-if="wrong.place" class="error" role="alert">{{ wrong.place }}</span></label
      >
      <fieldset class="flex gap-4">
        <legend class="label">Of what</legend>
        <label class="flex gap-2 items-center"><input v-model="form.by" type="radio" value="items" /> items</label
        ><label class="flex gap-2 items-center"
          ><input v-model="form.by" type="radio" value="category" /> a category</label
        >
      </fieldset>
      <label v-if="form.by === 'category'"
        ><span class="label">Category, with what is below it</span
        ><select v-model="form.category" class="field" :aria-invalid="!!wrong.category || undefined">
          <option value="" disabled>Choose one</option>
          <option v-for="c in categories" :key="c.id" :value="c.id">{{ c.name }}</option></select
        ><span v-if="wrong.category" class="error" role="alert">{{ wrong.category }}</span></label
      >
      <div v-else>
        <ItemPicker label="Scan or type an item" @pick="take" />
        <span v-if="wrong.items" class="error" role="alert">{{ wrong.items }}</span>
        <ul v-if="form.items.length" class="card mt-2" aria-label="Its items">
          <li
            v-for="i in form.items"
            :key="i"
            class="flex gap-3 items-center px-3 py-1.5 border-b border-hair last:border-0"
          >
            <span class="grow min-w-0">{{ index.byId.get(i)?.name }}</span><span class="mono soft text-[12px]">{{
              index.byId.get(i)?.code
            }}</span
            ><button
              type="button"
              class="btn btn-small"
              :aria-label="`Take off ${index.byId.get(i)?.name}`"
              @click="form.items.splice(form.items.indexOf(i), 1)"
            >
              Take off
            </button>
          </li>
        </ul>
      </div>
      <label
        ><span class="label">Counted every so many days</span
        ><span class="flex gap-2 items-center"
          ><input
            v-model="form.every"
            class="field field-num w-24!"
            inputmode="numeric"
            placeholder="no cycle"
            :aria-invalid="!!wrong.everyDays || undefined"
          /><span class="soft">days</span></span
        ><span v-if="wrong.everyDays" class="error" role="alert">{{ wrong.everyDays }}</span></label
      >
      <p v-if="wrong.form" class="error" role="alert">{{ wrong.form }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act">{{ form.id === null ? 'Count it together' : 'Save it' }}</button><button
          v-if="form.id !== null"
          type="button"
          class="btn"
          @click="clear"
        >
          Leave it
        </button>
      </div>
    </form>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(300px, 1fr);
  gap: 18px;
  align-items: start;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
td:first-child,
th:first-child {
  padding-left: 0;
}
td:last-child {
  padding-right: 0;
}
</style>
