import { defineStore } from 'pinia'
import { computed, ref, shallowRef, type ShallowRef, watch } from 'vue'
import type { Action, Me, Place, Settings } from '@shelve/contract'
import { dayIn } from '@shelve/core'
import { ApiProblem, call, get, noAnswer } from './api.ts'
import { oneAtATime } from './asked-once.ts'
import { drawer } from './drawer.ts'
import { tellOf } from './put-back.ts'

/** Who is signed in, how the organisation writes things, and the place where I work: remembered, and changing everything below it. */
export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)
  /** As they were told last: a screen that is still there when its session has ended reads them once more. */
  const settings = shallowRef() as ShallowRef<Settings>
  watch(
    me,
    m => {
      if (m) settings.value = m.settings
    },
    { flush: 'sync' },
  )
  const asked = ref(false)
  const places = ref<Place[]>([])
  const placeId = ref<string | null>(drawer.read('shelve.place'))
  const theme = ref<'auto' | 'light' | 'dark'>((drawer.read('shelve.theme') as 'auto') ?? 'auto')
  const offset = ref(0)

  async function load(): Promise<boolean> {
    try {
      took(await get<Me>('/api/session'))
    } catch (e) {
      // Where nothing answers it is not known who is signed in.
      if (!(e instanceof ApiProblem) || noAnswer(e)) throw e
      me.value = null
    }
    asked.value = true
    if (me.value) await loadPlaces()
    return me.value !== null
  }
  function took(m: Me) {
    me.value = m
    tellOf(m.putBack, drawer.read('shelve.person') !== null)
    drawer.keep('shelve.person', m.person.id)
    asked.value = true
    offset.value = Date.parse(m.now) - Date.now()
  }
  const loadPlaces = oneAtATime(async () => {
    places.value = (await get<{ rows: Place[] }>('/api/places')).rows
    if (placeId.value && !places.value.some(p => p.id === placeId.value && p.mine)) placeId.value = null
    if (!placeId.value && areas.value.length === 1) placeId.value = areas.value[0]!.id
  })
  const standing = ({ person, may, lowered, hasPin, settings }: Me) =>
    JSON.stringify([person, may, lowered, hasPin, settings])
  /** What I may do and how the organisation works is read anew: somebody may have changed it. The clock stays as it was read. */
  const renew = oneAtATime(async () => {
    const was = me.value
    const m = await get<Me>('/api/session')
    // Meanwhile somebody else may have taken the tablet: what is answered is of the one before.
    if (was && me.value === was && standing(m) !== standing(was)) me.value = m
  })
  async function signIn(name: string, password: string): Promise<void> {
    took(await call<Me>('POST', '/api/session', { body: { signIn: name, password } }))
  }
  async function signOut() {
    await call('DELETE', '/api/session')
    me.value = null
  }

  const areas = computed(() =>
    places.value.filter(p => p.active && p.mine && (p.kind === 'area' || p.kind === 'premises')),
  )
  const place = computed(() => places.value.find(p => p.id === placeId.value) ?? null)
  /** Whether I may do something: in a place (the one where I work), or where no place is named anywhere at all. */
  function may(action: Action, at: string | null = placeId.value): boolean {
    const where = me.value?.may[action]
    if (!where || where === 'everywhere' || at === null) return where !== undefined
    for (let p = places.value.find(x => x.id === at); p; p = places.value.find(x => x.id === p!.parent))
      if (where.includes(p.id)) return true
    return false
  }
  const mayAnywhere = (action: Action): boolean => me.value?.may[action] !== undefined
  /** Values are shown for a place where I may see them, and for all my places only where I may see them in each. */
  const seeValue = computed(
    () => may('see_value') && (placeId.value !== null || areas.value.every(a => may('see_value', a.id))),
  )
  const maySetUp = computed(() => me.value?.may.set_up === 'everywhere')
  const mayOverride = computed(() => may('override'))
  /** Somebody who books nothing takes from an open shelf themselves. */
  const takes = computed(
    () => !mayAnywhere('book') && places.value.some(p => p.openShelf && p.active && p.mine && may('take', p.id)),
  )
  /** Now by the server's clock: a tablet's own may be wrong. */
  const now = () => new Date(Date.now() + offset.value)
  /** Grows with each day that begins while the page is open, so that whatever shows a day follows it. */
  const days = ref(0)
  /** Today, where the organisation is: `2026-11-27`. */
  function day(): string {
    void days.value
    return dayIn(now().getTime(), settings.value.zone)
  }
  /** Places within a place, in walking order, itself first. */
  function within(id: string): Place[] {
    const inside = new Set([id])
    for (const p of places.value) if (p.parent && inside.has(p.parent)) inside.add(p.id)
    // What lies with a job is no place that somebody chooses.
    return places.value.filter(p => inside.has(p.id) && p.kind !== 'with_job')
  }
  /** The area that a bin, or where goods are held, belongs to; any other place is one itself. */
  function areaOf(id: string): string | null {
    const p = places.value.find(x => x.id === id)
    const up = p && (p.kind === 'bin' || p.kind === 'held') && p.parent ? areaOf(p.parent) : null
    return up ?? p?.id ?? null
  }
  const placeName = (id: string | null | undefined) => places.value.find(p => p.id === id)?.path ?? ''

  watch(placeId, id => {
    if (id) drawer.keep('shelve.place', id)
    else drawer.forget('shelve.place')
  })
  const dark = matchMedia('(prefers-color-scheme: dark)')
  const paint = () => {
    document.documentElement.dataset.theme = theme.value === 'auto' ? (dark.matches ? 'dark' : 'light') : theme.value
  }
  // Whoever takes over this device takes over all its windows.
  window.addEventListener('storage', e => {
    if (e.key === 'shelve.person' && me.value && e.newValue !== me.value.person.id) location.reload()
  })
  /** Somebody else takes over, by badge or by name and PIN. */
  async function changeHands(who: { badge: string } | { signIn: string; pin: string }) {
    // At an open shelf whoever may only ask has come to take.
    const open = place.value?.openShelf === true
    took(await call<Me>('POST', '/api/session/hands', { body: who }))
    location.assign(open && mayAnywhere('take') && !mayAnywhere('book') ? '/take' : '/')
  }
  watch(
    theme,
    t => {
      drawer.keep('shelve.theme', t)
      paint()
    },
    { immediate: true },
  )
  dark.addEventListener('change', paint)

  return {
    me,
    asked,
    settings,
    places,
    areas,
    placeId,
    place,
    may,
    mayAnywhere,
    seeValue,
    maySetUp,
    mayOverride,
    takes,
    theme,
    load,
    renew,
    took,
    loadPlaces,
    changeHands,
    signIn,
    signOut,
    now,
    day,
    days,
    within,
    areaOf,
    placeName,
  }
})
