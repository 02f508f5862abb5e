<script setup lang="ts">
/** What is short or due: have, coming, lying elsewhere, and how much brings it up to the target. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { ShortRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import FigureOf from '../ui/FigureOf.vue'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import LiesElsewhere from './LiesElsewhere.vue'

const session = useSession()
const router = useRouter()
const f = useFormat()
const path = () => `/api/short${query({ place: session.placeId })}`
const { it: short } = useReading<{ rows: ShortRow[] }>(path)
const rows = computed(() => short.value?.rows ?? [])
const have = computed(() => f.placesOf(rows.value.map(r => r.levels.available)))
const bring = computed(() => f.placesOf(rows.value.map(r => r.levels.bring)))
</script>
<template>
  <div class="slip">
    <div class="view-head">
      <div>
        <h1>What is short {{ session.place ? `in ${session.place.name}` : 'in my places' }}</h1>
        <p class="soft min-h-[1lh]">
          <template v-if="short">{{ rows.length }} line{{ rows.length === 1 ? '' : 's' }}, most urgent first</template>
        </p>
      </div>
      <SaveAs :path="path()" name="short" :disabled="!rows.length" />
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Item</th>
            <th v-if="!session.placeId">Place</th>
            <th>Level</th>
            <th>State</th>
            <th class="text-right!">Have</th>
            <th class="text-right!">Coming</th>
            <th class="text-right!">Bring</th>
            <th><span class="sr-only">Unit</span></th>
            <th>Lies elsewhere</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="r in rows"
            :key="r.item + r.place.id"
            class="link"
            @click="router.push({ name: 'item', params: { id: r.item } })"
          >
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.item } }">{{ r.name }}</RouterLink>
              <div class="mono soft text-[12px]">{{ r.code }}</div>
            </td>
            <td class="wrap-anywhere min-w-20" v-if="!session.placeId">{{ r.place.name }}</td>
            <td class="w-28 xl:w-36"><LevelBar :levels="r.levels" /></td>
            <td>
              <FigureOf figure="state" :item="r.item" :place="r.place.id" :label="`State of ${r.name}`"
                ><StateDisc :state="r.levels.state"
              /></FigureOf>
              <div v-if="r.levels.days !== null && r.levels.state !== 'out'" class="soft text-[12px]">
                lasts
                {{ r.levels.days === 0 ? 'less than a day' : `${r.levels.days} day${r.levels.days === 1 ? '' : 's'}` }}
              </div>
              <div v-if="r.levels.unusable !== '0'" class="soft text-[12px]">
                {{ f.number(r.levels.unusable) }} {{ r.unit }} not usable
              </div>
            </td>
            <td class="num">
              <FigureOf figure="available" :item="r.item" :place="r.place.id" :label="`Available of ${r.name}`">{{
                f.number(r.levels.available)
              }}</FigureOf>{{ f.pad(r.levels.available, have) }}
            </td>
            <td class="num">{{ r.levels.coming === '0' ? '' : f.number(r.levels.coming) }}</td>
            <td class="num font-semibold">
              <FigureOf figure="bring" :item="r.item" :place="r.place.id" :label="`To bring of ${r.name}`">{{
                f.number(r.levels.bring)
              }}</FigureOf>{{ f.pad(r.levels.bring, bring) }}
            </td>
            <td class="soft unit wrap-anywhere min-w-14">{{ r.unit }}</td>
            <td>
              <LiesElsewhere
                :item="r.item"
                :name="r.name"
                :place="r.place.id"
                :bring="r.levels.bring"
                :elsewhere="r.elsewhere"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="short" class="px-5 pb-6 soft">
      Nothing is short{{ session.place ? ' here' : '' }}. Items with a minimum appear here when they fall to it; set
      minimum and target on an item’s page.
    </p>
  </div>
</template>
