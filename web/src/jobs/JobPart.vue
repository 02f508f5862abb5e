<script setup lang="ts">
/** What must be made first for a job: a slip of its own beneath it, as deep as it goes. */
import { ref, watch } from 'vue'
import { isInTime, type JobView } from '@shelve/contract'
import { useRoute } from 'vue-router'
import { v7 } from '../shell/uuid.ts'
import { get, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import DiscOf from '../ui/DiscOf.vue'
import { useFormat } from '../ui/format.ts'
import { isOver } from './job-paper.ts'
import { behind, binOf, JOB_STATES, unitFor, WHENCE } from './whence.ts'

const props = defineProps<{ id: string; depth: number }>()
const route = useRoute()
const way = useWay()
const strip = useStrip()
const f = useFormat()
const job = ref<JobView | null>(null)
const load = live(
  async () => {
    const { id } = props
    const j = await get<JobView>(`/api/jobs/${id}`)
    if (id === props.id) job.value = j
  },
  e => ['job', 'booked', 'setup', 'stock', 'restock'].includes(e.kind),
)
watch(
  () => props.id,
  () => void load(),
)
async function makeNow() {
  try {
    const { id } = await post<{ id: string }>(`/api/jobs/${props.id}/make`, { id: v7() })
    // Once it is made one is back where it is made for.
    await way.push({ name: 'make', params: { id }, query: { back: route.fullPath } })
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
const open = (j: JobView) => j.lines.filter(l => Number(l.left) > 0)
const can = (j: JobView) => {
  if (isOver(j)) return JOB_STATES[j.state]
  const well = open(j).filter(l => isInTime(l.whence)).length
  return well === open(j).length ? 'all can be met' : `${well} of ${open(j).length} can be met`
}
</script>
<template>
  <div v-if="job" class="beneath">
    <section class="slip mt-3" :aria-label="`First: ${job.head.name}`">
      <div class="px-5 pt-4 pb-2 flex flex-wrap gap-3 justify-between items-baseline">
        <div class="min-w-0 wrap-anywhere">
          <h2>
            First:
            <RouterLink class="go" :to="{ name: 'job', params: { id } }"
              >{{ job.makes?.name ?? job.head.name }}, {{ f.number(job.wanted) }} {{ unitFor(job) }}</RouterLink
            >
          </h2>
          <p class="soft text-[13px]">
            <span class="mono">{{ job.head.code }}</span>, {{ JOB_STATES[job.state]
            }}<template v-if="job.makes?.shelfLife">
              · keeps {{ job.makes.shelfLife }} day{{ job.makes.shelfLife === 1 ? '' : 's' }}</template
            >
          </p>
        </div>
        <span class="flex flex-wrap gap-3 items-center"
          ><span class="soft">{{ can(job) }}</span
          ><button
            v-if="job.mayChange && !isOver(job)"
            type="button"
            class="btn btn-small no-print"
            :aria-label="`Make ${job.makes?.name ?? job.head.name} now`"
            @click="makeNow"
          >
            Make it now
          </button></span
        >
      </div>
      <ul>
        <li v-for="l in job.lines" :key="l.id" class="line">
          <span class="min-w-0"
            >{{ l.named.name }} <span class="mono soft text-[12px]">{{ l.named.code }}</span></span
          ><span class="mono text-right">{{ f.number(l.need) }} {{ l.named.unit === 'each' ? '' : l.named.unit }}</span
          ><span
            ><template v-if="Number(l.left) > 0"
              ><span class="inline-flex items-center gap-1.5" :class="{ error: l.whence === 'missing' }"
                ><DiscOf :fill="WHENCE[l.whence].fill" />{{ WHENCE[l.whence].word
                }}<template v-if="l.whence === 'missing'"> {{ f.number(l.missing) }}</template></span
              ><span v-if="behind(l, f)" class="soft text-[12px] block">{{ behind(l, f) }}</span></template
            ><span v-else class="soft">taken</span></span
          ><span class="soft text-[13px]"
            ><template v-if="l.first"
              >{{ binOf(l.first.place, job.placeName)
              }}<template v-if="l.first.lot">, lot {{ l.first.lot }}</template></template
            ></span
          >
        </li>
      </ul>
    </section>
    <JobPart v-for="p in job.parts" :id="p.id" :key="p.id" :depth="depth + 1" />
  </div>
</template>
<style scoped>
.beneath {
  margin-left: 34px;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 2.2fr) minmax(0, 1fr) minmax(0, 1.5fr) minmax(0, 1.2fr);
  gap: 4px 16px;
  align-items: baseline;
  padding: 8px 20px;
  border-top: 1px solid var(--hair);
}
@media (max-width: 900px) {
  .beneath {
    margin-left: 14px;
  }
  .line {
    grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr);
  }
}
</style>
