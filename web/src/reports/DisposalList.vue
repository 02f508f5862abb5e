<script setup lang="ts">
/** What was wasted by its waste code, for whoever disposes of it: how much, and what it weighs. */
import { computed } from 'vue'
import { decimal, weightSaid } from '@shelve/core'
import type { Disposal } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import { lastDay } from '../ui/months.ts'

const props = defineProps<{ span: { readonly from: string; readonly to: string } }>()
const session = useSession()
const f = useFormat()
const path = () => `/api/look-back/disposal${query({ ...props.span, place: session.placeId })}`
const { it: out } = useReading<Disposal>(path)
const weight = (grams: string | null) => (grams === null ? 'not known' : weightSaid(decimal(grams)))
/** Where some of it is not weighed, it is that much at the least. */
function together(r: Disposal['rows'][number]): string {
  if (r.grams !== null) return weight(r.grams)
  const known = r.items.reduce((sum, i) => sum + decimal(i.grams ?? '0'), 0n)
  return known > 0n ? `at least ${weightSaid(known)}` : 'not known'
}
const coded = computed(() => out.value?.rows.filter(r => r.code) ?? [])
const without = computed(() => out.value?.rows.find(r => !r.code)?.items ?? [])
const slips = (r: Disposal['rows'][number]['items'][number]) => ({
  name: 'ledger',
  query: {
    flow: 'wasted',
    from: `${props.span.from}-01`,
    to: lastDay(props.span.to),
    item: r.id,
    about: `Wasted: ${r.name}`,
  },
})
</script>
<template>
  <section v-if="coded.length" class="mt-6">
    <div class="px-5 flex flex-wrap gap-3 items-end justify-between">
      <h2>For disposal <span class="soft text-[13px] font-normal">by waste code, with what it weighs</span></h2>
      <SaveAs :path="path()" name="disposal" />
    </div>
    <div class="px-5 overflow-x-auto">
      <table class="list" aria-label="For disposal">
        <thead>
          <tr>
            <th>Waste code</th>
            <th>Item</th>
            <th class="text-right!">Quantity</th>
            <th><span class="sr-only">Unit</span></th>
            <th class="text-right!">Weighs</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in coded" :key="r.code"
            ><tr v-for="(i, n) in r.items" :key="i.id">
              <td class="mono wrap-anywhere min-w-16">{{ n ? '' : r.code }}</td>
              <td class="wrap-anywhere min-w-28">
                <RouterLink class="go" :to="slips(i)">{{ i.name }}</RouterLink>
                <span class="mono soft text-[12px] ml-2">{{ i.code }}</span>
              </td>
              <td class="num">{{ f.aligned(i.quantity, f.placesOf(r.items.map(x => x.quantity))) }}</td>
              <td class="soft unit">{{ i.unit }}</td>
              <td class="num" :class="{ soft: i.grams === null }">{{ weight(i.grams) }}</td>
            </tr>
            <tr v-if="r.items.length > 1">
              <td colspan="4" class="text-right soft">together</td>
              <td class="num font-semibold">{{ together(r) }}</td>
            </tr></template
          >
        </tbody>
      </table>
      <details v-if="without.length" class="mt-2">
        <summary class="soft text-[13px] cursor-pointer">
          {{ without.length }} thing{{ without.length === 1 ? '' : 's' }} without a waste code
        </summary>
        <p class="text-[13px] mt-1">
          <RouterLink v-for="i in without" :key="i.id" class="go mr-4 inline-block" :to="slips(i)"
            >{{ i.name }} <span class="mono">{{ f.number(i.quantity) }}</span> {{ i.unit }}</RouterLink
          >
        </p>
      </details>
    </div>
  </section>
</template>
