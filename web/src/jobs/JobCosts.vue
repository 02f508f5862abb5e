<script setup lang="ts">
/** What a job costs, with its working, and how many could be made of what is there. */
import { computed } from 'vue'
import { forOne } from '@shelve/core'
import type { JobView } from '@shelve/contract'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'
import { unitFor } from './whence.ts'

const props = defineProps<{ job: JobView }>()
const session = useSession()
const f = useFormat()
const worthy = computed(() => props.job.lines.filter(l => l.worth && Number(l.worth) !== 0))
const unknown = computed(() => props.job.lines.filter(l => l.worth === null).map(l => l.named.name))
const how = (l: JobView['lines'][number]) => {
  const need = `${f.number(l.need)}${l.named.unit === 'each' ? '' : ` ${l.named.unit}`}`
  return l.made ? `${need}, ${f.number(l.made.quantity)} of it made` : l.cost ? `${need} at ${f.money(l.cost)}` : need
}
</script>
<template>
  <template v-if="session.seeValue && job.cost !== undefined && job.lines.length">
    <h2 class="side">What it costs, the working</h2>
    <ul class="card mb-4">
      <li v-for="l in worthy" :key="l.id" class="apart">
        <span
          >{{ l.named.name }} <span class="soft text-[12px]">{{ how(l) }}</span></span
        ><span class="mono">{{ f.money(l.worth!) }}</span>
      </li>
      <li class="apart font-semibold">
        <span
          >{{ job.wanted === '0' ? 'Together' : `${f.number(job.wanted)} ${unitFor(job)}`
          }}<template v-if="job.one && job.wanted !== '1'"
            >, {{ f.money(job.one) }} {{ forOne(job.wantedUnit === 'times' ? 'each' : job.wantedUnit) }}</template
          ></span
        ><span class="mono">{{ job.cost === null ? 'not known' : f.money(job.cost) }}</span>
      </li>
      <li v-if="job.cost === null" class="apart soft">
        <span>Nobody knows yet what {{ unknown.join(', ') }} cost{{ unknown.length === 1 ? 's' : '' }}.</span>
      </li>
    </ul>
  </template>
  <template v-if="job.could !== null">
    <h2 class="side">How many could be {{ job.makes ? 'made' : 'done' }} now</h2>
    <ul class="card">
      <li class="apart">
        <span
          >With what is in {{ job.placeName }}, free or kept for it<span
            v-for="s in job.short"
            :key="s.item.id"
            class="block soft text-[12px]"
            >for more, {{ f.number(s.quantity) }}{{ s.item.unit === 'each' ? '' : ` ${s.item.unit}` }} of
            {{ s.item.name }} would be missing</span
          ></span
        ><span class="mono font-semibold">{{ f.number(job.could) }}</span>
      </li>
    </ul>
  </template>
</template>
<style scoped>
.side {
  font-size: 14px;
  margin: 6px 0 8px;
}
</style>
