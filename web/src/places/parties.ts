import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { CostCentre, Job } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { askedOnce } from '../shell/asked-once.ts'

/** Jobs and cost centres, for whom things are: asked for once by whichever screen first wants them, and anew after a change of set-up. */
export const useParties = defineStore('parties', () => {
  const jobs = ref<Job[]>([])
  const centres = ref<CostCentre[]>([])
  /** Whether the names have come. */
  const there = ref(false)
  const { need, forget } = askedOnce(async () => {
    const [j, c] = await Promise.all([
      get<{ rows: Job[] }>('/api/jobs'),
      get<{ rows: CostCentre[] }>('/api/cost-centres'),
    ])
    jobs.value = j.rows
    centres.value = c.rows
    there.value = true
  })
  const nameOf = (d: { job: string | null; costCentre: string | null }): string =>
    jobs.value.find(j => j.id === d.job)?.name ?? centres.value.find(c => c.id === d.costCentre)?.name ?? ''
  /** The area that somebody is served from: their cost centre's, also a job's. */
  function usualOf(d: { job: string | null; costCentre: string | null }): string | null {
    const centre = jobs.value.find(j => j.id === d.job)?.costCentre?.id ?? d.costCentre
    return centres.value.find(c => c.id === centre)?.usual?.id ?? null
  }
  return { jobs, centres, there, need, forget, nameOf, usualOf }
})
