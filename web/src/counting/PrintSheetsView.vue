<script setup lang="ts">
/** Sheets on paper for some areas: blind or with figures, looked at as they will be printed, then printed with their codes. */
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { CountArea, PrintedSheet } from '@shelve/contract'
import { get, post, said } from '../shell/api.ts'
import { useGoOn } from '../ui/go-on.ts'
import PdfPages from '../ui/PdfPages.vue'
import { fetchPdf } from '../ui/pdf.ts'
import { usePreview } from '../ui/preview.ts'

const route = useRoute()
const router = useRouter()
const asked = (of: unknown) =>
  String(of ?? '')
    .split(',')
    .filter(Boolean)
const chosen = computed(() => ({ areas: asked(route.query.areas), groups: asked(route.query.groups) }))
const many = computed(() => chosen.value.areas.length + chosen.value.groups.length)
// Sheets are chosen under Count: without an area there is nothing to print here.
if (!many.value) void router.replace({ name: 'count' })
const blind = ref(route.query.figures !== 'yes')
const extra = ref(6)
const areas = ref<CountArea[]>([])
const sheets = ref<PrintedSheet[]>([])
const wrong = ref('')
/** What is to be known first stands there, or could not be read: until then there is nothing to press that would move away. */
const came = ref(false)
const printed = ref<PrintedSheet[]>([])
const address = computed(() => `/api/sheet-papers?sheets=${printed.value.map(s => s.id).join(',')}`)
const asking = get<{ rows: CountArea[]; sheets: PrintedSheet[] }>('/api/count-areas').then(
  r => {
    const wanted = (group: string | undefined, place: string) =>
      group === undefined ? chosen.value.areas.includes(place) : chosen.value.groups.includes(group)
    areas.value = r.rows.filter(a => wanted(a.group?.id, a.id))
    sheets.value = r.sheets.filter(s => wanted(s.group?.id, s.place))
  },
  e => {
    wrong.value = said(e)
  },
)
void asking.finally(() => (came.value = true))
const waiting = computed(() => areas.value.filter(a => a.waiting))
const older = computed(() => sheets.value.filter(s => !s.entry && !printed.value.some(p => p.id === s.id)))
const names = (n: string[]) => (n.length > 1 ? `${n.slice(0, -1).join(', ')} and ${n.at(-1)}` : (n[0] ?? ''))
const sheet = computed(() => ({ ...chosen.value, blind: blind.value, extra: extra.value }))
/** As they will look; once they are printed, as they are. */
const preview = usePreview<{ printed: string } | { sheet: object }>(
  () => (printed.value.length ? { printed: address.value } : many.value ? { sheet: sheet.value } : null),
  of => ('printed' in of ? fetchPdf(of.printed) : fetchPdf('/api/sheet-preview', of.sheet)),
)
let printing = false
async function print() {
  if (printing || printed.value.length || !many.value) return
  printing = true
  wrong.value = ''
  try {
    printed.value = (await post<{ rows: PrintedSheet[] }>('/api/sheets', sheet.value)).rows
  } catch (e) {
    wrong.value = said(e)
  } finally {
    printing = false
  }
}
useGoOn(print, { opened: () => asking })
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <template v-if="!printed.length">
        <h1>Print {{ many === 1 ? 'a sheet' : `${many} sheets` }} for counting</h1>
        <template v-if="came">
          <p v-if="areas.length" class="soft mb-3">
            {{ names(areas.map(a => a.group?.name ?? a.name)) }}: {{ areas.reduce((n, a) => n + a.lines, 0) }} lines in
            walking order, a new page for each{{ many > 1 ? ', all under one number' : ' area' }}.
          </p>
          <fieldset class="flex flex-col gap-2 mb-3">
            <legend class="label">What stands on it</legend>
            <label class="flex gap-2 items-baseline"
              ><input v-model="blind" type="radio" :value="true" /><span
                >blind <span class="soft">· nobody is led by a figure</span></span
              ></label
            ><label class="flex gap-2 items-baseline"
              ><input v-model="blind" type="radio" :value="false" /><span
                >with figures <span class="soft">· what is right is only ticked</span></span
              ></label
            >
          </fieldset>
          <label class="block mb-3"
            ><span class="label">Empty lines for what else lies there</span
            ><select v-model.number="extra" class="field w-28!">
              <option v-for="n in [0, 3, 6, 12, 20]" :key="n" :value="n">{{ n }}</option>
            </select></label
          >
          <p v-for="a in waiting" :key="a.group?.id ?? a.id" class="text-straw mb-2">
            {{ a.waiting }} slip{{ a.waiting === 1 ? '' : 's' }} of {{ a.name }}
            {{ a.waiting === 1 ? 'is' : 'are' }} not booked yet.
            <RouterLink class="go" :to="{ name: 'ledger', query: { state: 'draft' } }">See them first</RouterLink>
          </p>
          <p v-for="s in older" :key="s.id" class="text-straw mb-2">
            Sheet {{ s.number }} of {{ s.group?.name ?? s.placeName }}, by {{ s.printedBy }}, is not entered yet.
            Printing this one makes that one void.
          </p>
          <div class="flex gap-3 mt-4">
            <button type="button" class="btn btn-act" :disabled="!many" @click="print">
              Print {{ many === 1 ? 'it' : 'them' }}</button
            ><RouterLink class="btn" :to="{ name: 'count' }">Leave it</RouterLink>
          </div>
        </template>
      </template>
      <template v-else>
        <h1>
          Sheet {{ printed[0]!.number }}{{ printed.length > 1 ? `, of ${printed.length} parts,` : '' }} is ready for the
          printer
        </h1>
        <p class="soft mb-3">
          {{ printed.reduce((n, s) => n + s.pages, 0) }} page{{
            printed.reduce((n, s) => n + s.pages, 0) === 1 ? '' : 's'
          }}. Write the time on each page: what moves while you count is then known.
        </p>
        <div class="flex flex-wrap gap-3">
          <a class="btn btn-act" :href="address" target="_blank" rel="noopener">Open the paper</a
          ><a class="btn" :href="address" download="count-sheets.pdf">Save as PDF</a
          ><RouterLink class="btn" :to="{ name: 'count' }">Back to Count</RouterLink>
        </div>
        <p class="soft mt-4">Back from the shelves: scan a page’s code anywhere, or choose its sheet under Count.</p>
      </template>
      <p v-if="wrong || preview.wrong.value" class="error mt-3" role="alert">{{ wrong || preview.wrong.value }}</p>
    </section>
    <PdfPages :pdf="preview.pdf.value" :drawing="preview.drawing.value" label="How it will look" />
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
  gap: 22px;
  align-items: start;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
