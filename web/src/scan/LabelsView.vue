<script setup lang="ts">
/** Labels for what came on a delivery, or for items and lots as they are scanned: how many of each, on sheets or a roll, seen before they are printed. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { LotView, SlipRow, SlipView } from '@shelve/contract'
import { get, said } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { useIndex } from '../shell/index-store.ts'
import ItemPicker from '../ui/ItemPicker.vue'
import PdfPages from '../ui/PdfPages.vue'
import { fetchPdf } from '../ui/pdf.ts'
import { usePreview } from '../ui/preview.ts'
import { useFormat } from '../ui/format.ts'
import { useScan } from './store.ts'

interface Row {
  item: string
  name: string
  code: string
  lot: string | null
  lotCode: string | null
  expiry: string | null
  count: number
}
const route = useRoute()
const index = useIndex()
const scan = useScan()
const f = useFormat()
const rows = ref<Row[]>([])
const size = ref<'sheet' | 'roll'>('sheet')
const skip = ref(0)
const wrong = ref('')
const title = ref('')
const lotsOf = async (item: string) => (await get<{ rows: LotView[] }>(`/api/items/${item}/lots`)).rows
/** The last deliveries, for whoever comes here without one. */
const deliveries = ref<SlipRow[]>([])
const asks = newest()
/** What is to be touched below the rows comes up with them: it would be pushed away by them. */
const came = ref(false)
async function load() {
  const still = asks()
  came.value = !route.query.slip && !route.query.item
  rows.value = []
  title.value = ''
  wrong.value = ''
  try {
    if (route.query.slip) {
      const slip = await get<SlipView>(`/api/slips/${String(route.query.slip)}`)
      const opened = slip.kind === 'relabel'
      if (!still()) return
      title.value = `what ${opened ? 'was opened' : 'came'} on ${slip.number}`
      for (const l of slip.lines.filter(x => x.item && x.state !== 'taken_back')) {
        const lots = await lotsOf(l.item!.id)
        if (!still()) return
        for (const code of new Set(l.movements.filter(m => !m.revalues).map(m => m.lot))) {
          const lot = code ? lots.find(x => x.code === code) : undefined
          // The package that it was opened of has its label.
          if (opened && lot?.opened === null) continue
          // One a pack that was typed; what is counted singly gets one for the box it lies in.
          const packs = l.unit && /^\d{1,2}$/.test(l.typed) ? Number(l.typed) : 1
          rows.value.push({
            item: l.item!.id,
            name: l.item!.name,
            code: l.item!.code,
            lot: lot?.id ?? null,
            lotCode: lot?.code ?? null,
            expiry: lot?.expiry ?? null,
            count: packs,
          })
        }
      }
    } else if (route.query.item) await add(String(route.query.item), route.query.lot ? String(route.query.lot) : null)
    else deliveries.value = (await get<{ rows: SlipRow[] }>('/api/slips?kind=receipt&state=booked&limit=8')).rows
  } catch (e) {
    if (still()) wrong.value = said(e)
  } finally {
    if (still()) came.value = true
  }
}
watch(
  () => [route.query.slip, route.query.item],
  () => void load(),
  { immediate: true },
)
/** A label of an item, or of each of its lots that lie somewhere; of one lot where it is said. What stands here already gets one more. */
async function add(id: string, lot: string | null = null) {
  await index.ready
  const item = index.byId.get(id)
  if (!item) return
  const lots = item.identifiedBy === 'quantity' ? [] : (await lotsOf(id)).filter(l => l.code)
  const news: Row[] = (lots.length ? lots : [null]).map(l => ({
    item: id,
    name: item.name,
    code: item.code,
    lot: l?.id ?? null,
    lotCode: l?.code ?? null,
    expiry: l?.expiry ?? null,
    count: !lot || lot === l?.id ? 1 : 0,
  }))
  for (const n of news) {
    const r = rows.value.find(x => x.item === n.item && x.lot === n.lot)
    if (r) r.count += n.count
    else rows.value.push(n)
  }
}
scan.wants(m => {
  if (!m.item) return false
  void add(m.item, m.lot?.id ?? null).catch(e => {
    wrong.value = said(e)
  })
  return true
})
const total = computed(() => rows.value.reduce((n, r) => n + (r.count || 0), 0))
const body = () => ({
  size: size.value,
  skip: size.value === 'sheet' ? skip.value || 0 : 0,
  labels: rows.value.filter(r => r.count > 0).map(r => ({ item: r.item, lot: r.lot, count: r.count })),
})
const preview = usePreview(
  () => (total.value ? body() : null),
  of => fetchPdf('/api/label-papers', of),
)
/** What is lacking for opening or saving them. */
const lacks = computed(() =>
  !total.value
    ? 'Choose what labels are for, and how many.'
    : preview.drawing.value
      ? 'The labels are being drawn.'
      : preview.pdf.value
        ? ''
        : 'They could not be drawn: what is wrong stands above.',
)
function out(save: boolean) {
  if (!preview.pdf.value || preview.drawing.value) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(preview.pdf.value)
  if (save) link.download = 'labels.pdf'
  else link.target = '_blank'
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <h1>
        Labels<template v-if="title"> for {{ title }}</template>
      </h1>
      <p class="soft mb-3">A scanner reads from each exactly this lot, or this item where it has none.</p>
      <table v-if="rows.length" class="list">
        <thead>
          <tr>
            <th>Item</th>
            <th>Lot, use by</th>
            <th class="text-right!">Labels</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in rows" :key="i">
            <td class="font-medium wrap-anywhere min-w-28">
              {{ r.name }}
              <div class="mono soft text-[12px]">{{ r.code }}</div>
            </td>
            <td class="wrap-anywhere min-w-24">
              <span class="mono">{{ r.lotCode }}</span>
              <div v-if="r.expiry" class="soft text-[12px]">{{ f.date(r.expiry, true) }}</div>
            </td>
            <td class="text-right">
              <input
                v-model.number="r.count"
                class="field field-small field-num w-20!"
                type="number"
                min="0"
                max="300"
                :aria-label="`Labels for ${r.name} ${r.lotCode ?? ''}`"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="came" class="mt-3">
        <ItemPicker
          elsewhere
          :label="rows.length ? 'Another item, by scan or name' : 'Which item? Scan it or type its name'"
          @pick="
            i =>
              add(i.id).catch(e => {
                wrong = said(e)
              })
          "
        />
      </div>
      <div v-if="rows.length" class="flex flex-wrap gap-4 mt-4 items-end">
        <label
          ><span class="label">On</span
          ><select v-model="size" class="field field-small">
            <option value="sheet">sheets, 24 of 70 × 37 mm</option>
            <option value="roll">a roll, 62 × 29 mm</option>
          </select></label
        ><label v-if="size === 'sheet'"
          ><span class="label">Used up on the first sheet</span
          ><input v-model.number="skip" class="field field-small field-num w-20!" type="number" min="0" max="23"
        /></label>
      </div>
      <p v-if="wrong || preview.wrong.value" class="error mt-3" role="alert">{{ wrong || preview.wrong.value }}</p>
      <div v-if="rows.length" class="flex flex-wrap gap-3 mt-4">
        <button type="button" class="btn btn-act" v-wants="lacks" @click="out(false)">
          Open {{ total }} label{{ total === 1 ? '' : 's' }}</button
        ><button type="button" class="btn" v-wants="lacks" @click="out(true)">Save as PDF</button>
      </div>
    </section>
    <section v-if="!rows.length && deliveries.length">
      <h2 class="mt-2 mb-2">Or what came on a delivery</h2>
      <ul class="card">
        <li
          v-for="d in deliveries"
          :key="d.id"
          class="px-4 py-2.5 border-b border-hair last:border-0 flex justify-between gap-3 items-center"
        >
          <span class="min-w-0"
            ><span class="mono">{{ d.number }}</span> {{ d.title
            }}<span class="block soft text-[12px]">{{ f.when(d.at) }} · {{ d.by }}</span></span
          ><RouterLink
            class="btn btn-small shrink-0"
            :to="{ name: 'labels', query: { slip: d.id } }"
            :aria-label="`Labels for ${d.number}`"
            >Labels</RouterLink
          >
        </li>
      </ul>
    </section>
    <PdfPages v-else :pdf="preview.pdf.value" :drawing="preview.drawing.value" label="How they will look" />
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 22px;
  align-items: start;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
td:last-child,
th:last-child {
  padding-right: 0;
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
