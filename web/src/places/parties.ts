import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { CostCentre, Job } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { askedOnce } from '../shell/asked-once.ts'

/** Jobs and cost centres, for whom things are: asked for once by whichever screen first wants them, and anew after a change of set-up. */
export const useParties = defineStore('parties', () => {
  const jobs = ref<Job[]>([])
  const centres = ref<CostCentre[]>([])
  /** Jobs that are over and that something was for: each is asked for when its name is first wanted. */
  const over = ref(new Map<string, Job | null>())
  /** Whether the names have come. */
  const there = ref(false)
  const { need, forget } = askedOnce(async () => {
    const [j, c] = await Promise.all([
      get<{ rows: Job[] }>('/api/jobs'),
      get<{ rows: CostCentre[] }>('/api/cost-centres'),
    ])
    jobs.value = j.rows
    centres.value = c.rows
    over.value = new Map()
    there.value = true
  })
  const byId = computed(() => new Map(jobs.value.map(j => [j.id, j])))
  function jobOf(id: string): Job | undefined {
    const known = byId.value.get(id) ?? over.value.get(id)
    if (known === undefined && there.value && !over.value.has(id)) void askFor(id)
    return known ?? undefined
  }
  async function askFor(id: string) {
    over.value.set(id, null)
    const { rows } = await get<{ rows: Job[] }>(`/api/jobs${query({ job: id })}`).catch(() => ({ rows: [] as Job[] }))
    if (rows[0]) over.value.set(id, rows[0])
  }
  const nameOf = (d: { job: string | null; costCentre: string | null }): string =>
    (d.job ? jobOf(d.job)?.name : undefined) ?? centres.value.find(c => c.id === d.costCentre)?.name ?? ''
  /** The area that somebody is served from: their cost centre's, also a job's. */
  function usualOf(d: { job: string | null; costCentre: string | null }): string | null {
    const centre = (d.job ? jobOf(d.job)?.costCentre?.id : undefined) ?? d.costCentre
    return centres.value.find(c => c.id === centre)?.usual?.id ?? null
  }
  return { jobs, centres, there, need, forget, nameOf, usualOf }
})
