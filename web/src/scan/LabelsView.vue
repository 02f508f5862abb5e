<script setup lang="ts">
/** Labels for what came on a delivery, or for one item: how many of each, on sheets or a roll, seen before they are printed. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { LotView, SlipView } from '@shelve/contract'
import { get, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import PdfPages from '../ui/PdfPages.vue'
import { fetchPdf } from '../ui/pdf.ts'
import { useFormat } from '../ui/format.ts'

interface Row { item: string; name: string; code: string; lot: string | null; lotCode: string | null; expiry: string | null; count: number }
const route = useRoute()
const index = useIndex()
const f = useFormat()
const rows = ref<Row[]>([])
const size = ref<'sheet' | 'roll'>('sheet')
const skip = ref(0)
const pdf = ref<Blob | null>(null)
const wrong = ref('')
const title = ref('')
void (async () => {
  try {
    const lotsOf = async (item: string) => (await get<{ rows: LotView[] }>(`/api/items/${item}/lots`)).rows
    if (route.query.slip) {
      const slip = await get<SlipView>(`/api/slips/${String(route.query.slip)}`)
      title.value = `what came on ${slip.number}`
      for (const l of slip.lines.filter(x => x.item && x.state !== 'taken_back')) {
        const lots = await lotsOf(l.item!.id)
        for (const code of new Set(l.movements.filter(m => !m.revalues).map(m => m.lot))) {
          const lot = code ? lots.find(x => x.code === code) : undefined
          // One a pack that was typed; what is counted singly gets one for the box it lies in.
          const packs = l.unit && /^\d{1,2}$/.test(l.typed) ? Number(l.typed) : 1
          rows.value.push({ item: l.item!.id, name: l.item!.name, code: l.item!.code, lot: lot?.id ?? null, lotCode: lot?.code ?? null, expiry: lot?.expiry ?? null, count: packs })
        }
      }
    } else {
      const item = index.byId.get(String(route.query.item))
      if (!item) return
      title.value = item.name
      const lots = item.identifiedBy === 'quantity' ? [] : await lotsOf(item.id)
      rows.value = (lots.length ? lots : [null]).map(l => ({ item: item.id, name: item.name, code: item.code, lot: l?.code ? l.id : null, lotCode: l?.code ?? null, expiry: l?.expiry ?? null, count: !route.query.lot || route.query.lot === l?.id ? 1 : 0 }))
    }
  } catch (e) { wrong.value = said(e) }
})()
const total = computed(() => rows.value.reduce((n, r) => n + (r.count || 0), 0))
const body = () => ({ size: size.value, skip: size.value === 'sheet' ? skip.value : 0, labels: rows.value.filter(r => r.count > 0).map(r => ({ item: r.item, lot: r.lot, count: r.count })) })
let timer: ReturnType<typeof setTimeout> | undefined
watch([rows, size, skip], () => { clearTimeout(timer); timer = setTimeout(async () => { if (!total.value) { pdf.value = null; return } try { pdf.value = await fetchPdf('/api/label-papers', body()); wrong.value = '' } catch (e) { wrong.value = said(e) } }, 300) }, { deep: true })
function out(save: boolean) {
  if (!pdf.value) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(pdf.value)
  if (save) link.download = 'labels.pdf'
  else link.target = '_blank'
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
</script>
<template>
  <div class="two">
    <section class="slip px-5 py-4">
      <h1>Labels<template v-if="title"> for {{ title }}</template></h1><p class="soft mb-3">A scanner reads from each exactly this lot, or this item where it has none.</p>
      <table v-if="rows.length" class="list"><thead><tr><th>Item</th><th>Lot, use by</th><th class="text-right!">Labels</th></tr></thead><tbody><tr v-for="(r, i) in rows" :key="i"><td class="font-medium">{{ r.name }}<div class="mono soft text-[12px]">{{ r.code }}</div></td><td><span class="mono">{{ r.lotCode }}</span><div v-if="r.expiry" class="soft text-[12px]">{{ f.date(r.expiry, true) }}</div></td><td class="text-right"><input v-model.number="r.count" class="field field-small field-num w-20!" type="number" min="0" max="300" :aria-label="`Labels for ${r.name} ${r.lotCode ?? ''}`" /></td></tr></tbody></table>
      <div class="flex flex-wrap gap-4 mt-4 items-end"><label><span class="label">On</span><select v-model="size" class="field field-small"><option value="sheet">sheets, 24 of 70 × 37 mm</option><option value="roll">a roll, 62 × 29 mm</option></select></label><label v-if="size === 'sheet'"><span class="label">Used up on the first sheet</span><input v-model.number="skip" class="field field-small field-num w-20!" type="number" min="0" max="23" /></label></div>
      <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
      <div class="flex gap-3 mt-4"><button type="button" class="btn btn-act" :disabled="!pdf || !total" @click="out(false)">Open {{ total }} label{{ total === 1 ? '' : 's' }}</button><button type="button" class="btn" :disabled="!pdf || !total" @click="out(true)">Save as PDF</button></div>
    </section>
    <PdfPages :pdf="pdf" label="How they will look" />
  </div>
</template>
<style scoped>
.two { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr); gap: 22px; align-items: start; }
td:first-child, th:first-child { padding-left: 0; } td:last-child, th:last-child { padding-right: 0; }
@media (max-width: 1023px) { .two { grid-template-columns: minmax(0, 1fr); } }
</style>
