import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { Job, Named } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { askedOnce } from '../shell/asked-once.ts'

/** Jobs and cost centres, for whom things are: asked for once by whichever screen first wants them, and anew after a change of set-up. */
export const useParties = defineStore('parties', () => {
  const jobs = ref<Job[]>([])
  const centres = ref<Named[]>([])
  /** Whether the names have come. */
  const there = ref(false)
  const { need, forget } = askedOnce(async () => {
    const [j, c] = await Promise.all([get<{ rows: Job[] }>('/api/jobs'), get<{ rows: Named[] }>('/api/cost-centres')])
    jobs.value = j.rows
    centres.value = c.rows
    there.value = true
  })
  const nameOf = (d: { job: string | null; costCentre: string | null }): string =>
    jobs.value.find(j => j.id === d.job)?.name ?? centres.value.find(c => c.id === d.costCentre)?.name ?? ''
  return { jobs, centres, there, need, forget, nameOf }
})
