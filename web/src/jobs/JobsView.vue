<script setup lang="ts">
/** Jobs that wait to be done, the first due first: whether each can be done; those that are over; a new one. */
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { JobRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import { useSession } from '../shell/session.ts'
import DiscOf from '../ui/DiscOf.vue'
import { useFormat } from '../ui/format.ts'
import NextPage from '../ui/NextPage.vue'
import JobBring from './JobBring.vue'
import JobNew from './JobNew.vue'
import JobsTabs from './JobsTabs.vue'
import { JOB_STATES, unitFor, WHENCE } from './whence.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()
const f = useFormat()
const over = computed(() => route.query.over === 'yes')
const { rows, next, more, loaded } = usePages<JobRow>(
  cursor => `/api/jobs/${over.value ? 'over' : 'planned'}${query({ place: session.placeId, cursor })}`,
  e => ['job', 'booked', 'setup', 'stock', 'restock'].includes(e.kind),
)
/** What is made for another job stands beneath it. */
const ordered = computed(() => {
  const ids = new Set(rows.value.map(r => r.id))
  const beneath = (id: string | null, depth: number): { row: JobRow; depth: number }[] =>
    rows.value
      .filter(r => (r.parent && ids.has(r.parent.id) ? r.parent.id : null) === id)
      .flatMap(row => [{ row, depth }, ...beneath(row.id, depth + 1)])
  return beneath(null, 0)
})
const places = computed(() => f.placesOf(rows.value.map(r => r.wanted)))
const like = computed(() => (typeof route.query.like === 'string' ? route.query.like : ''))
const making = ref<'' | 'new' | 'bring'>(like.value ? 'new' : '')
const mayPlan = computed(() => session.may('book'))
const can = (r: JobRow) => `${r.met} of ${r.needs} need${r.needs === 1 ? '' : 's'}`
</script>
<template>
  <JobsTabs />
  <JobNew v-if="making === 'new'" :like="like" @close="making = ''" />
  <JobBring v-if="making === 'bring'" @close="making = ''" />
  <div class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-end">
      <div>
        <h1>{{ over ? 'Jobs that are over' : 'Jobs' }}</h1>
        <p class="soft">
          {{ session.place ? `in ${session.place.name}` : 'in all my places'
          }}<template v-if="!over">, the first due first</template>
        </p>
      </div>
      <div class="flex flex-wrap gap-3">
        <RouterLink class="btn btn-small" :to="{ name: 'jobs', query: over ? {} : { over: 'yes' } }">{{
          over ? 'Those to be done' : 'Those that are over'
        }}</RouterLink>
        <button v-if="mayPlan" type="button" class="btn btn-small" @click="making = making === 'bring' ? '' : 'bring'">
          Take from a file
        </button>
        <button
          v-if="mayPlan"
          type="button"
          class="btn btn-small btn-act"
          @click="making = making === 'new' ? '' : 'new'"
        >
          New job
        </button>
      </div>
    </div>
    <div v-if="ordered.length" class="overflow-x-auto">
      <table class="list">
        <thead>
          <tr>
            <th>Job</th>
            <th>By when</th>
            <th class="text-right!">For</th>
            <th><span class="sr-only">Unit</span></th>
            <th>{{ over ? 'How it ended' : 'Can it be done?' }}</th>
            <th>Where</th>
            <th>Who sees to it</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="{ row: r, depth } in ordered"
            :key="r.id"
            class="link"
            @click="router.push({ name: 'job', params: { id: r.id } })"
          >
            <td class="wrap-anywhere min-w-44" :style="{ paddingLeft: `${20 + depth * 24}px` }">
              <RouterLink class="font-medium" :to="{ name: 'job', params: { id: r.id } }">{{ r.name }}</RouterLink>
              <div class="soft text-[12px]">
                <span class="mono">{{ r.code }}</span><template v-if="r.costCentreName">
                  · {{ r.costCentreName }}</template
                ><template v-if="r.parent"> · made for {{ r.parent.code }}</template
                ><template v-if="r.standing"> · comes again</template>
              </div>
            </td>
            <td>
              <template v-if="r.day"
                >{{ f.date(r.day) }}<span v-if="r.time" class="mono ml-2">{{ r.time }}</span>
                <div class="text-[12px]" :class="!over && f.daysTo(r.day) < 0 ? 'text-straw' : 'soft'">
                  {{ f.far(r.day) }}
                </div></template
              ><span v-else class="soft">no day said</span>
            </td>
            <td class="num">{{ r.wanted === '0' ? '' : f.aligned(r.wanted, places) }}</td>
            <td class="soft unit">{{ r.wanted === '0' ? '' : unitFor(r) }}</td>
            <td>
              <template v-if="over">{{ JOB_STATES[r.state] }}</template>
              <template v-else-if="r.whence"
                ><span
                  class="inline-flex items-center gap-1.5 whitespace-nowrap"
                  :class="r.whence === 'missing' ? 'error' : ''"
                  ><DiscOf :fill="WHENCE[r.whence].fill" />{{
                    r.met === r.needs ? (r.whence === 'here' ? 'Yes, all here' : 'Yes, in time') : WHENCE[r.whence].word
                  }}</span
                >
                <div class="soft text-[12px]">
                  {{ r.met === r.needs ? '' : `${can(r)} can be met`
                  }}<template v-if="r.state !== 'planned'"
                    >{{ r.met === r.needs ? '' : ' · ' }}{{ JOB_STATES[r.state] }}</template
                  >
                </div></template
              ><span v-else class="soft">{{ r.needs ? 'nothing more is needed' : 'no needs written yet' }}</span>
            </td>
            <td class="wrap-anywhere min-w-20">{{ r.placeName }}</td>
            <td class="wrap-anywhere min-w-20">{{ r.personName ?? '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <NextPage v-if="next" class="px-5 py-3" label="Earlier ones" @more="more" />
    <p v-if="loaded && !ordered.length" class="px-5 pb-6 soft">
      {{
        over
          ? 'No job is over yet.'
          : 'Nothing is planned. A job says what will be needed and by when, so that it is there on the day.'
      }}
    </p>
  </div>
</template>
<style scoped>
th:first-child {
  padding-left: 20px;
}
td:last-child,
th:last-child {
  padding-right: 20px;
}
</style>
