import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { Named } from '@shelve/contract'
import { beginsWith, exactLetters } from '@shelve/core'
import { get } from '../shell/api.ts'
import { askedOnce } from '../shell/asked-once.ts'

/** Why things are wasted: asked for once by whichever screen first wants it, and anew after a change of set-up. */
export const useReasons = defineStore('reasons', () => {
  const all = ref<Named[]>([])
  /** Whether they have come. */
  const there = ref(false)
  const active = computed(() => all.value.filter(r => r.active))
  const { need, forget } = askedOnce(async () => {
    all.value = (await get<{ rows: Named[] }>('/api/waste-reasons')).rows
    there.value = true
  })
  /** What is meant by the first letters of a reason, as a list takes them. */
  const begins = (typed: string): string | null =>
    active.value.find(r => typed && beginsWith(r.name, exactLetters(typed)))?.id ?? null
  return { all, active, there, need, forget, begins }
})
