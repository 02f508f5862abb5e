<script setup lang="ts">
/** What jobs trimmed of what they took: it stands in the cost of what they made, beside what was wasted of the same. */
import type { Trimmed } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{ span: { readonly from: string; readonly to: string } }>()
const session = useSession()
const f = useFormat()
const path = () => `/api/look-back/trimmed${query({ ...props.span, place: session.placeId })}`
const { it: out } = useReading<Trimmed>(path)
const aligned = (x: string, key: 'taken' | 'trimmed' | 'wasted') =>
  f.aligned(x, f.placesOf(out.value!.rows.map(r => r[key])))
</script>
<template>
  <section v-if="out?.rows.length" class="mt-6">
    <div class="px-5 flex flex-wrap gap-3 items-end justify-between">
      <h2>
        Trimmed by jobs
        <span class="soft text-[13px] font-normal"
          >peeled, boned, poured away by their templates: <span class="mono">{{ f.amount(out.value) }}</span>, in the
          cost of what they made and no waste</span
        >
      </h2>
      <SaveAs :path="path()" name="trimmed" />
    </div>
    <div class="px-5 overflow-x-auto">
      <table class="list" aria-label="Trimmed by jobs">
        <thead>
          <tr>
            <th>Item</th>
            <th class="text-right!">Taken</th>
            <th class="text-right!">Trimmed</th>
            <th><span class="sr-only">Unit</span></th>
            <th class="text-right!">Value</th>
            <th class="text-right!">Wasted</th>
            <th class="text-right!">Value</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in out.rows" :key="r.id">
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="go" :to="{ name: 'item', params: { id: r.id } }">{{ r.name }}</RouterLink>
              <span class="mono soft text-[12px] ml-2">{{ r.code }}</span>
            </td>
            <td class="num soft">{{ aligned(r.taken, 'taken') }}</td>
            <td class="num">{{ aligned(r.trimmed, 'trimmed') }}</td>
            <td class="soft unit">{{ r.unit }}</td>
            <td class="num">{{ f.money(r.value) }}</td>
            <td class="num soft">{{ aligned(r.wasted, 'wasted') }}</td>
            <td class="num soft">{{ f.money(r.wastedValue) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
