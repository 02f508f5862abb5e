<script setup lang="ts">
/** Lists that are picked, what lies ready to be fetched, and a new list for several jobs. */
import { computed, ref } from 'vue'
import type { JobRow, PickRow } from '@shelve/contract'
import { v7 } from '../shell/uuid.ts'
import { post, query, said } from '../shell/api.ts'
import { type Happened } from '../shell/events.ts'
import { useReading } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { useWay } from '../shell/way.ts'
import { useFormat } from '../ui/format.ts'
import JobsTabs from './JobsTabs.vue'
import PickFetched from './PickFetched.vue'
import { JOB_STATES, WHENCE } from './whence.ts'

const session = useSession()
const way = useWay()
const f = useFormat()
const over = ref(false)
const wrong = ref('')
const concerns = (e: Happened) => ['job', 'booked', 'draft', 'setup', 'stock'].includes(e.kind)
const { it: picks, reload } = useReading<{ rows: PickRow[] }>(
  () => `/api/picks${query({ place: session.placeId, over: over.value ? 'true' : undefined })}`,
  concerns,
)
const { it: planned } = useReading<{ rows: JobRow[] }>(
  () => `/api/jobs/planned${query({ place: session.placeId })}`,
  concerns,
)
const rows = computed(() => picks.value?.rows ?? [])
const jobs = computed(() => planned.value?.rows.filter(j => j.needs > 0) ?? [])
const loaded = computed(() => picks.value !== undefined && planned.value !== undefined)
const chosen = ref(new Set<string>())
const may = computed(() => session.mayAnywhere('book'))
async function begin() {
  try {
    const { id } = await post<{ id: string }>('/api/picks', { id: v7(), jobs: [...chosen.value] })
    await way.push({ name: 'pick', params: { id } })
  } catch (e) {
    wrong.value = said(e)
  }
}
const STATES = { picking: 'being picked', ready: 'ready to fetch', fetched: 'fetched' } as const
function toggle(id: string) {
  if (!chosen.value.delete(id)) chosen.value.add(id)
}
</script>
<template>
  <JobsTabs />
  <p v-if="wrong" class="error mb-3" role="alert">{{ wrong }}</p>
  <div class="two">
    <section class="slip pb-2">
      <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-center">
        <h1>{{ over ? 'What was fetched' : 'Picking' }}</h1>
        <button type="button" class="btn btn-small" @click="over = !over">
          {{ over ? 'What is being picked' : 'What was fetched' }}
        </button>
      </div>
      <ul v-if="rows.length">
        <li v-for="r in rows" :key="r.id" class="row">
          <div class="min-w-0">
            <RouterLink class="font-medium go" :to="{ name: 'pick', params: { id: r.id } }">{{ r.name }}</RouterLink>
            <div class="soft text-[12px] wrap-anywhere">
              <template v-if="r.jobs.length">{{ r.jobs.map(j => j.code).join(', ') }} · </template>{{ r.place
              }}<template v-if="r.number">
                · <span class="mono">{{ r.number }}</span></template
              >
              · {{ r.picker ?? r.by }}, {{ f.when(r.at) }}
            </div>
          </div>
          <div class="text-right min-w-0">
            <b>{{ STATES[r.state] }}</b>
            <div class="soft text-[12px]">
              {{
                r.state === 'fetched'
                  ? `by ${r.fetchedBy}, ${f.when(r.fetchedAt!)}`
                  : `${r.taken} of ${r.lines} line${r.lines === 1 ? '' : 's'} taken`
              }}
            </div>
            <PickFetched v-if="r.state === 'ready' && may" :id="r.id" :name="r.name" class="mt-1" @said="reload" />
          </div>
        </li>
      </ul>
      <p v-else-if="loaded" class="px-5 pb-4 soft">
        {{ over ? 'Nothing was fetched yet.' : 'Nothing is being picked, and nothing waits to be fetched.' }}
      </p>
    </section>
    <section v-if="may && loaded" class="slip pb-4">
      <h2 class="px-5 pt-4 pb-2">A list for</h2>
      <ul v-if="jobs.length">
        <li v-for="j in jobs" :key="j.id" class="row">
          <label class="flex gap-3 items-start min-w-0 cursor-pointer"
            ><input type="checkbox" class="mt-1" :checked="chosen.has(j.id)" @change="toggle(j.id)" /><span
              class="min-w-0 wrap-anywhere"
              >{{ j.name }}
              <span class="soft text-[12px] block"
                ><span class="mono">{{ j.code }}</span
                ><template v-if="j.day">, {{ f.date(j.day) }}</template
                >, {{ JOB_STATES[j.state] }}</span
              ></span
            ></label
          ><span class="soft text-[13px] text-right">{{ j.whence ? WHENCE[j.whence].word : '' }}</span>
        </li>
      </ul>
      <p v-else-if="loaded" class="px-5 soft">No job needs anything here.</p>
      <div v-if="loaded" class="px-5 pt-3">
        <button
          type="button"
          class="btn btn-act"
          v-wants="chosen.size ? '' : 'Choose the jobs that it is picked for.'"
          @click="begin"
        >
          {{ chosen.size > 1 ? `Pick for ${chosen.size} jobs` : 'Pick' }}
        </button>
      </div>
    </section>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 10px 20px;
  border-top: 1px solid var(--hair);
}
@media (max-width: 1023px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
