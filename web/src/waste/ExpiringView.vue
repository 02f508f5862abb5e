<script setup lang="ts">
/** Lots that run out of date, or have: beside when that is, how long they last at today's use; what is chosen is used, moved or wasted in one go. */
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { decimal, formatDecimal } from '@shelve/core'
import type { ExpiringRow, SlipKind } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useReasons } from './reasons.ts'
import { useSession } from '../shell/session.ts'
import { useBeginning } from '../ledger/begin-slip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'

const reasons = useReasons()
const session = useSession()
const route = useRoute()
const router = useRouter()
const begin = useBeginning()
const f = useFormat()
const days = computed({
  get: () => (typeof route.query.days === 'string' ? route.query.days : '30'),
  set: d => void router.replace({ query: { ...route.query, days: d } }),
})
const path = () => `/api/expiring${query({ place: session.placeId, days: days.value })}`
const key = (r: ExpiringRow) => `${r.lot.id} ${r.place.id}`
const chosen = ref(new Set<string>())
const { it: expiring } = useReading<{ rows: ExpiringRow[] }>(path)
const rows = computed(() => expiring.value?.rows ?? [])
watch(rows, now => {
  chosen.value = new Set([...chosen.value].filter(k => now.some(r => key(r) === k)))
})
const picked = computed(() => rows.value.filter(r => chosen.value.has(key(r))))
const past = computed(() => rows.value.filter(r => r.lot.state === 'expired'))
const worth = computed(() => formatDecimal(rows.value.reduce((s, r) => s + decimal(r.value ?? '0'), 0n)))
const places = computed(() => f.placesOf(rows.value.map(r => r.quantity)))
function toggle(k: string) {
  const next = new Set(chosen.value)
  if (!next.delete(k)) next.add(k)
  chosen.value = next
}
const all = (which: ExpiringRow[]) => {
  chosen.value = which.every(r => chosen.value.has(key(r))) ? new Set() : new Set(which.map(key))
}

/** A slip with a line for each lot that was chosen; it is looked at and booked like any other. */
async function write(kind: Extract<SlipKind, 'issue' | 'move' | 'supplier_return' | 'waste'>) {
  if (kind === 'waste') await reasons.need()
  const expired = kind === 'waste' ? (reasons.all.find(r => r.name === 'Expired')?.id ?? null) : null
  await begin({
    ...freshContent(kind, session.areaOf(picked.value[0]!.place.id)),
    lines: picked.value.map(r =>
      freshLine({
        item: r.item,
        typed: r.quantity,
        lot: { id: r.lot.id, code: r.lot.code, expiry: r.lot.expiry },
        from: r.place.id,
        reason: r.lot.state === 'expired' ? expired : null,
      }),
    ),
  })
}
const usable = computed(() => picked.value.length > 0 && picked.value.every(r => r.lot.state === 'usable'))
const tooSlow = (r: ExpiringRow) => r.lot.state === 'usable' && (r.lasts === null || r.lasts > f.daysTo(r.lot.expiry))
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>What runs out of date {{ session.place ? `in ${session.place.name}` : 'in my places' }}</h1>
        <p class="soft min-h-[1lh]">
          <template v-if="expiring"
            >{{ rows.length }} lot{{ rows.length === 1 ? '' : 's'
            }}<template v-if="past.length">, {{ past.length }} {{ past.length === 1 ? 'is' : 'are' }} already</template
            ><template v-if="session.seeValue && worth !== '0'"
              >, worth <b class="mono text-ink">{{ f.amount(worth) }}</b></template
            ></template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <label class="flex gap-2 items-center"
          ><span class="soft text-[13px]">within</span
          ><select v-model="days" class="field field-small w-28!">
            <option value="0">today</option>
            <option v-if="!['0', '14', '30', '90', '365'].includes(days)" :value="days">{{ days }} days</option>
            <option value="14">14 days</option>
            <option value="30">30 days</option>
            <option value="90">90 days</option>
            <option value="365">a year</option>
          </select></label
        ><SaveAs :path="path()" name="expiring" :disabled="!rows.length" />
      </div>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <button
        v-if="session.may('book')"
        type="button"
        class="btn btn-small mx-5 mb-2"
        @click="all(past.length ? past : rows)"
      >
        Choose {{ past.length ? 'all out of date' : 'all' }}
      </button>
      <table class="list edge">
        <thead>
          <tr>
            <th><span class="sr-only">Choose</span></th>
            <th>Item</th>
            <th>Lot</th>
            <th>Use by</th>
            <th class="text-right!">Lasts</th>
            <th>Place</th>
            <th class="text-right!">There</th>
            <th><span class="sr-only">Unit</span></th>
            <th v-if="session.seeValue" class="text-right!">Value</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="key(r)" :class="{ on: chosen.has(key(r)) }">
            <td class="w-12">
              <label v-if="session.may('book')" class="choose"
                ><input
                  type="checkbox"
                  class="size-4"
                  :checked="chosen.has(key(r))"
                  :aria-label="`Choose lot ${r.lot.code} of ${r.name}`"
                  @change="toggle(key(r))"
              /></label>
            </td>
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.item } }">{{ r.name }}</RouterLink>
              <div class="mono soft text-[12px]">{{ r.code }}</div>
            </td>
            <td class="mono wrap-anywhere min-w-24">
              <RouterLink class="go" :to="{ name: 'lot', params: { id: r.lot.id } }">{{ r.lot.code }}</RouterLink>
              <div v-if="r.lot.state === 'held' || r.lot.state === 'recalled'" class="soft text-[12px] font-sans">
                {{ r.lot.state }}
              </div>
            </td>
            <td>
              {{ f.date(r.lot.expiry) }}
              <div class="text-[12px]" :class="r.lot.state === 'expired' ? 'text-buoy' : 'text-straw'">
                {{ r.lot.state === 'expired' ? `out of date, ${f.far(r.lot.expiry)}` : f.far(r.lot.expiry) }}
              </div>
            </td>
            <td class="text-right whitespace-nowrap">
              <span v-if="r.lot.state === 'usable'" class="mono">{{
                r.lasts === null ? 'not used' : `${r.lasts} d`
              }}</span>
              <div v-if="tooSlow(r)" class="soft text-[12px]">not used up in time</div>
            </td>
            <td class="wrap-anywhere min-w-20">{{ r.place.name }}</td>
            <td class="num">{{ f.aligned(r.quantity, places) }}</td>
            <td class="soft unit">{{ r.unit }}</td>
            <td v-if="session.seeValue" class="num">{{ f.money(r.value) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="expiring" class="px-5 pb-6 soft">
      Nothing runs out of date {{ days === '0' ? 'today' : `within ${days} days` }}. Lots with a use-by date appear here
      by themselves.
    </p>
    <footer v-if="rows.length && session.may('book')" class="foot stays">
      <span class="soft">{{
        picked.length ? `${picked.length} chosen` : 'Choose lots, then say what becomes of them'
      }}</span>
      <div class="flex flex-wrap gap-2">
        <button
          type="button"
          class="btn"
          v-wants="!usable ? 'Choose lots that may still be used.' : ''"
          @click="write('issue')"
        >
          Use first</button
        ><button
          type="button"
          class="btn"
          v-wants="!picked.length ? 'Choose lots first, on the left of their lines.' : ''"
          @click="write('move')"
        >
          Move</button
        ><button
          type="button"
          class="btn"
          v-wants="!picked.length ? 'Choose lots first, on the left of their lines.' : ''"
          @click="write('supplier_return')"
        >
          Give back</button
        ><button
          type="button"
          class="btn btn-act"
          v-wants="!picked.length ? 'Choose lots first, on the left of their lines.' : ''"
          @click="write('waste')"
        >
          Waste {{ picked.length || '' }}
        </button>
      </div>
    </footer>
  </div>
</template>
<style scoped>
.choose {
  display: inline-flex;
  padding: 4px;
  margin: -4px;
}
@media (pointer: coarse) {
  .choose {
    padding: 16px;
    margin: -16px;
  }
  .choose input {
    width: 22px;
    height: 22px;
  }
}
.foot {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  padding: 12px 20px;
  border-top: 1px solid var(--hair);
  background: var(--sheet);
  border-radius: 0 0 6px 6px;
}
@media (max-width: 1023px) {
  .foot {
    bottom: 68px;
  }
}
</style>
