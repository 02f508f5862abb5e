<script setup lang="ts">
/** Items from a spreadsheet, as CSV: what would come of them is looked at first, then they are taken, whole or not at all. */
import { computed, ref, watch } from 'vue'
import { ITEM_COLUMNS, type ItemsTaken } from '@shelve/contract'
import { csvRow } from '@shelve/core'
import { post, saidEach } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import SetupTabs from '../places/SetupTabs.vue'
import { saveText } from '../ui/csv.ts'
import FileMark from '../ui/FileMark.vue'
import { textChosen } from '../ui/text-of.ts'

const session = useSession()
const strip = useStrip()
const text = ref('')
const place = ref(session.placeId ?? session.areas[0]?.id ?? '')
const mark = ref<'.' | ',' | null>(null)
const wrong = ref<string[]>([])
/** What would come of the text that stands there, or what came of it. */
const looked = ref<ItemsTaken | null>(null)
const taken = ref(false)
const busy = ref(false)
// What was looked at is what stands there.
watch([text, place, mark], () => {
  looked.value = null
  taken.value = false
  wrong.value = []
})
async function read(e: Event) {
  text.value = (await textChosen(e)) ?? text.value
}
async function send(look: boolean) {
  if (busy.value) return
  busy.value = true
  const of = [text.value, place.value, mark.value] as const
  try {
    const it = await post<ItemsTaken>('/api/items/brought', {
      text: of[0],
      place: of[1] || null,
      decimalMark: of[2],
      look,
    })
    if (!look) strip.say(`${counted(it.rows.filter(isOther).length)} taken.`)
    // Of what was typed since, this says nothing.
    if (text.value !== of[0] || place.value !== of[1] || mark.value !== of[2]) return
    looked.value = it
    taken.value = !look
    wrong.value = []
  } catch (e) {
    looked.value = null
    wrong.value = saidEach(e)
  } finally {
    busy.value = false
  }
}
const isOther = (r: ItemsTaken['rows'][number]) => r.came === 'new' || r.came === 'changed'
const counted = (n: number) => `${n} item${n === 1 ? '' : 's'}`
const come = (how: ItemsTaken['rows'][number]['came']) => looked.value?.rows.filter(r => r.came === how) ?? []
/** What is another comes first. */
const ORDER = ['new', 'changed', 'retired', 'same'] as const
const rows = computed(() => ORDER.flatMap(how => come(how)))
const CAME = { new: 'new', changed: 'changed', same: 'as it was', retired: 'retired, stays so' } as const
const SHORT = { new: 'new', changed: 'changed', same: 'as they were', retired: 'retired, stay so' } as const
const sum = computed(() =>
  ORDER.flatMap(how => {
    const n = come(how).length
    return n ? [`${n} ${n === 1 ? CAME[how] : SHORT[how]}`] : []
  }).join(', '),
)
/** Of so many the file says what lies there, though they are known. */
const left = computed(() => looked.value?.rows.filter(r => r.left.length).length ?? 0)
const others = computed(() => rows.value.filter(isOther).length)
const missing = computed(() => (text.value.trim() ? '' : 'Choose a file, or paste its text.'))
const submit = () => send(looked.value === null || !others.value || taken.value)
const empty = () => saveText('items.csv', csvRow([...ITEM_COLUMNS]))
</script>
<template>
  <SetupTabs />
  <form class="slip" aria-label="Items from a spreadsheet" @submit.prevent="submit">
    <div class="px-5 pt-4 pb-3">
      <h1>Items from a spreadsheet</h1>
      <p class="soft max-w-[85ch]">
        A CSV file whose first line names its columns. Only <span class="mono">code</span> must be there; an empty cell
        says nothing, a <span class="mono">-</span> takes away what stood there. What is known by its code becomes what
        the file says of it, so that the same file taken again doubles nothing. An item may stand on several lines, one
        for each place or lot.
      </p>
      <dl class="columns mt-3">
        <dt>The item</dt>
        <dd class="mono">{{ ITEM_COLUMNS.slice(0, ITEM_COLUMNS.indexOf('place')).join(', ') }}</dd>
        <dt>Where it is</dt>
        <dd class="mono">{{ ITEM_COLUMNS.slice(ITEM_COLUMNS.indexOf('place')).join(', ') }}</dd>
        <dt>Packs</dt>
        <dd><span class="mono">case=12 9521234000014; can=5</span> with their barcodes behind, where they have any</dd>
      </dl>
    </div>
    <div class="px-5 pb-4 flex flex-wrap gap-4 items-end">
      <label
        ><span class="label">A file</span
        ><input type="file" accept=".csv,.txt,.tsv,text/csv" class="field field-small" @change="read"
      /></label>
      <label
        ><span class="label">Where, if a line says no place</span
        ><select v-model="place" class="field field-small">
          <option v-for="p in session.areas" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select></label
      >
      <FileMark v-model="mark" />
      <button type="button" class="btn btn-small" @click="empty">Save an empty one</button>
    </div>
    <label class="block px-5 pb-4"
      ><span class="label">or its text</span
      ><textarea v-model="text" v-focus class="field mono text-[13px]" rows="7" spellcheck="false" wrap="off" />
    </label>
    <ul v-if="wrong.length" class="error px-5 pb-3" role="alert">
      <li v-for="w in wrong" :key="w">{{ w }}</li>
      <li>Nothing was taken.</li>
    </ul>
    <div v-if="looked" role="status" class="px-5 pb-3">
      <p class="font-semibold">{{ taken ? 'Taken' : 'What would come of it' }}: {{ sum }}.</p>
      <p v-if="looked.categories.length">
        {{ looked.categories.length === 1 ? 'A new category' : 'New categories' }}: {{ looked.categories.join(', ') }}.
      </p>
      <p v-if="looked.openings.length">
        What lies there is {{ taken ? 'booked' : 'booked with it' }}:
        <template v-for="(o, i) in looked.openings" :key="i"
          ><template v-if="i">, </template
          ><RouterLink v-if="o.id" class="go" :to="{ name: 'slip', params: { id: o.id } }"
            >{{ o.lines }} line{{ o.lines === 1 ? '' : 's' }} in {{ o.place }}</RouterLink
          ><template v-else>{{ o.lines }} line{{ o.lines === 1 ? '' : 's' }} in {{ o.place }}</template></template
        >.
      </p>
      <p v-if="left">
        What lies there of {{ left === 1 ? 'one that is' : `${left} that are` }} known is not changed by a file: that is
        counted, or delivered.
      </p>
    </div>
    <div class="px-5 pb-4 flex flex-wrap gap-3">
      <button class="btn btn-act" v-wants="missing">
        {{ looked && others && !taken ? `Take ${counted(others)}` : 'Look at it' }}
      </button>
      <RouterLink class="btn" :to="{ name: 'setup-items' }">{{ taken ? 'To the items' : 'Leave it' }}</RouterLink>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Item</th>
            <th>Code</th>
            <th>{{ taken ? 'What came of it' : 'What would come of it' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.code">
            <td class="wrap-anywhere min-w-28">
              <RouterLink v-if="r.id" class="font-medium" :to="{ name: 'item-edit', params: { id: r.id } }">{{
                r.name
              }}</RouterLink><span v-else class="font-medium">{{ r.name }}</span>
            </td>
            <td class="mono wrap-anywhere min-w-24">{{ r.code }}</td>
            <td class="wrap-anywhere" :class="{ soft: r.came === 'same' }">
              {{ CAME[r.came] }}
              <ul v-if="r.changed.length">
                <li v-for="c in r.changed" :key="c.what + c.is">
                  <span class="soft">{{ c.what }}</span> {{ c.was || '—' }} → {{ c.is || '—' }}
                </li>
              </ul>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </form>
</template>
<style scoped>
.columns {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 16px;
  font-size: 13px;
}
.columns dt {
  color: var(--soft);
}
</style>
