<script setup lang="ts">
/** What was where on a past day, read in two ways: as it was, or as the books stood. */
import { computed, ref } from 'vue'
import type { PastCategory, PastRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { remembered } from '../shell/remembered.ts'
import { useSession } from '../shell/session.ts'
import DateField from '../ui/DateField.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'

const session = useSession()
const f = useFormat()
const before = (day: string) => new Date(Date.parse(`${day.slice(0, 7)}-01`) - 86_400_000).toISOString().slice(0, 10)
const day = ref<string | null>(before(f.today()))
const reading = ref<'books' | 'was'>('books')
const by = remembered('past-by', ['item', 'category'] as const, 'item')
const wrong = ref('')
const path = (more = {}) =>
  `/api/past${query({ day: day.value, reading: reading.value, place: session.placeId, ...more })}`
const { it } = useReading<{ rows: PastRow[]; categories: PastCategory[]; value?: string }>(
  () => (day.value ? path() : undefined),
  () => false,
  wrong,
)
const rows = computed(() => it.value?.rows ?? [])
const categories = computed(() => it.value?.categories ?? [])
const value = computed(() => it.value?.value)
const places = computed(() => f.placesOf(rows.value.map(r => r.quantity)))
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>What lay there on a past day{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p class="soft">
          {{
            reading === 'books'
              ? 'As the books stood that evening: what had been written by then.'
              : 'As it was that evening: what had happened by then, also what was written later.'
          }}<template v-if="value !== undefined">
            Worth <b class="mono text-ink">{{ f.amount(value) }}</b>.</template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-3 items-center">
        <label class="flex gap-2 items-center"
          ><span class="soft text-[13px]">on</span
          ><DateField v-model="day" label="Day" near="a past day" class="w-32" /></label
        ><label class="flex gap-2 items-center"
          ><input v-model="reading" type="radio" value="books" /> as the books stood</label
        ><label class="flex gap-2 items-center"><input v-model="reading" type="radio" value="was" /> as it was</label
        ><label class="flex gap-2 items-center"
          ><span class="sr-only">By what</span
          ><select v-model="by" class="field field-small">
            <option value="item">by item</option>
            <option value="category">by category</option>
          </select></label
        ><SaveAs :path="path({ by })" name="stock-on-a-day" :disabled="!rows.length" />
      </div>
    </div>
    <p v-if="wrong" class="error px-5 pb-4" role="alert">{{ wrong }}</p>
    <table v-else-if="rows.length && by === 'category'" class="list edge">
      <thead>
        <tr>
          <th>Category</th>
          <th class="text-right!">Items</th>
          <th v-if="value !== undefined" class="text-right!">Value</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, i) in categories" :key="i">
          <td>
            <span v-if="c.category" class="font-medium">{{ c.category }}</span><span v-else class="soft"
              >no category</span
            >
          </td>
          <td class="num">{{ c.items }}</td>
          <td v-if="value !== undefined" class="num">{{ f.money(c.value) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <td class="font-medium">All of it</td>
          <td class="num font-medium">{{ rows.length }}</td>
          <td v-if="value !== undefined" class="num font-medium">{{ f.money(value) }}</td>
        </tr>
      </tfoot>
    </table>
    <table v-else-if="rows.length" class="list edge">
      <thead>
        <tr>
          <th>Item</th>
          <th class="text-right!">Lay there</th>
          <th><span class="sr-only">Unit</span></th>
          <th v-if="value !== undefined" class="text-right!">Value</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.item">
          <td class="wrap-anywhere min-w-28">
            <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.item } }">{{ r.name }}</RouterLink>
            <span class="mono soft text-[12px] ml-1">{{ r.code }}</span>
          </td>
          <td class="num">{{ f.aligned(r.quantity, places) }}</td>
          <td class="soft unit">{{ r.unit }}</td>
          <td v-if="value !== undefined" class="num">{{ f.money(r.value) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="it" class="px-5 pb-6 soft">Nothing lay there then: nothing had been written by that day.</p>
  </div>
</template>
<style scoped>
tfoot td {
  border-top: 1px solid var(--hair);
}
</style>
