<script setup lang="ts">
/** The frame of every screen: binder tabs for the works, the place where I work, the scan strip, and who I am. */
import { Ellipsis } from '@lucide/vue'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { type RouteLocationNormalizedLoaded, useRoute, useRouter } from 'vue-router'
import type { SlipRow } from '@shelve/contract'
import ScanStrip from '../scan/ScanStrip.vue'
import UnknownCode from '../scan/UnknownCode.vue'
import ScannerPanel from '../scan/ScannerPanel.vue'
import { takeEarly } from '../scan/early.ts'
import { listenToScanner } from '../scan/scanner.ts'
import { scannerHabit } from '../scan/device.ts'
import { useParties } from '../places/parties.ts'
import { useReasons } from '../waste/reasons.ts'
import { useScan } from '../scan/store.ts'
import { get, SIGNED_OUT } from './api.ts'
import ConnectionState from './ConnectionState.vue'
import { followDays } from './days.ts'
import { live, onEvent, startEvents } from './events.ts'
import { useIndex } from './index-store.ts'
import PlacePick from './PlacePick.vue'
import PersonMenu from './PersonMenu.vue'
import ReadingNow from './ReadingNow.vue'
import { isBehind } from './reading.ts'
import { records } from './put-back.ts'
import PutBackNote from './PutBackNote.vue'
import UnreadNote from './UnreadNote.vue'
import { useKeys } from './keys.ts'
import { followSingleKeys } from './single-keys.ts'
import { toHeading, useLanding } from './landing.ts'
import KeysHelp from './KeysHelp.vue'
import StripView from './StripView.vue'
import { useSession } from './session.ts'
import { sayWhatIsKept } from './kept.ts'
import { isScanning } from './under-way.ts'
import { linksWait } from './way.ts'
import { narrow } from './width.ts'
import { ALL_WORKS, LOOK, SETUP } from './works.ts'

const route = useRoute()
const router = useRouter()
const session = useSession()
const parties = useParties()
const reasons = useReasons()
const index = useIndex()
const scan = useScan()
/** Only what somebody may do has a tab. */
const WORKS = computed(() =>
  ALL_WORKS.filter(w =>
    w.tab === 'take' ? session.takes : w.tab === 'today' || w.tab === 'restock' || session.mayAnywhere('book'),
  ),
)
const sets = computed(() => session.mayAnywhere('set_up') || session.mayAnywhere('book'))
useLanding(router)
/** What Alt and a digit lead to: 1 to 9, then 0. */
const TABS = computed(() => [...WORKS.value, ...LOOK].slice(0, 10))
const tab = computed(() => route.meta.tab as string)
const more = ref(false)
const keys = ref(false)
const demonstration = ref(false)
/** How many slips are being written; of very many only that there are more. */
const drafts = ref('')
watch(
  () => route.fullPath,
  () => {
    more.value = keys.value = false
  },
)

/** A page about one thing begins anew with the next: nothing that was pressed or typed on the first is done to that. */
const viewOf = (r: RouteLocationNormalizedLoaded) => (r.matched[0]?.props.default === true ? r.path : r.name)

sayWhatIsKept()
followDays()
followSingleKeys()
let stopEvents: (() => void) | undefined
let stopScanner: (() => void) | undefined
let stopLinks: (() => void) | undefined
onMounted(async () => {
  stopEvents = startEvents(session.me?.events)
  const hearing = {
    onScan: (code: string, at: Element | null) => void scan.scanned(code, at),
    onPart: scan.partly,
    today: session.day,
    habit: scannerHabit,
    synthetic: () => demonstration.value,
    busy: isScanning,
    onTyped: scan.typed,
    onLeave: scan.leave,
  }
  stopScanner = listenToScanner(hearing, takeEarly())
  stopLinks = linksWait(router)
  window.addEventListener(SIGNED_OUT, signedOut)
  void index.load().catch(() => undefined)
  demonstration.value = (await get<{ demonstration: boolean }>('/api/start')).demonstration
})
onUnmounted(() => {
  stopEvents?.()
  stopScanner?.()
  stopLinks?.()
  window.removeEventListener(SIGNED_OUT, signedOut)
})
onEvent(e => {
  if (e.kind === 'job') parties.forget()
  if (e.kind === 'places') void session.loadPlaces()
  if (e.kind === 'setup' || e.kind === 'reload') {
    void session.renew().catch(() => undefined)
    void index.load()
    void session.loadPlaces()
    parties.forget()
    reasons.forget()
  }
})
// Whoever is signed in is another one by then, perhaps, and is told of it.
watch(records, () => void session.load().catch(() => undefined))
live(
  async () => {
    const { rows, next } = await get<{ rows: SlipRow[]; next: string | null }>('/api/slips?state=draft&limit=200')
    drafts.value = next ? `more than ${rows.length}` : rows.length ? String(rows.length) : ''
  },
  e => e.kind === 'draft' || e.kind === 'booked',
)

function signedOut() {
  session.me = null
  void router.push({ name: 'sign-in', query: { to: route.fullPath } })
}
useKeys(TABS, () => {
  keys.value = true
})
</script>
<template>
  <div class="frame">
    <a class="skip no-print" href="#work" @click.prevent="toHeading">To the work</a>
    <nav class="binder no-print" aria-label="Works">
      <RouterLink to="/" class="brand">Shelve</RouterLink>
      <RouterLink
        v-for="w in WORKS"
        :key="w.tab"
        :to="w.to"
        class="tab"
        :class="{ open: tab === w.tab }"
        :aria-current="tab === w.tab ? 'page' : undefined"
        ><component :is="w.icon" :size="17" aria-hidden="true" />{{ w.label }}</RouterLink
      >
      <div class="gap" />
      <RouterLink
        v-for="w in LOOK"
        :key="w.tab"
        :to="w.to"
        class="tab"
        :class="{ open: tab === w.tab }"
        :aria-current="tab === w.tab ? 'page' : undefined"
        ><component :is="w.icon" :size="17" aria-hidden="true" />{{ w.label }}</RouterLink
      >
      <div class="grow" />
      <RouterLink
        v-if="sets"
        :to="SETUP.to"
        class="tab"
        :class="{ open: tab === 'setup' }"
        :aria-current="tab === 'setup' ? 'page' : undefined"
        ><component :is="SETUP.icon" :size="17" aria-hidden="true" />{{ SETUP.label }}</RouterLink
      >
    </nav>
    <div class="page">
      <header class="head stays no-print">
        <PlacePick />
        <ScanStrip />
        <!-- Its room is kept: what stands beside it stays where it is when the first draft is there. -->
        <RouterLink
          :to="{ name: 'ledger', query: { state: 'draft' } }"
          class="touch soft whitespace-nowrap text-[13px] min-[481px]:min-w-16"
          :class="{ invisible: !drafts }"
          >drafts · {{ drafts }}</RouterLink
        >
        <ConnectionState />
        <ScannerPanel v-if="demonstration && narrow" />
        <PersonMenu @keys="keys = true" />
        <ReadingNow />
      </header>
      <main id="work" class="main" :aria-busy="isBehind">
        <PutBackNote />
        <UnreadNote />
        <RouterView v-slot="{ Component, route: r }"><component :is="Component" :key="viewOf(r)" /></RouterView>
      </main>
      <StripView />
    </div>
    <nav class="bottom no-print" aria-label="Works, at the bottom">
      <RouterLink v-for="w in WORKS" :key="w.tab" :to="w.to" :class="{ open: tab === w.tab }"
        ><component :is="w.icon" :size="20" aria-hidden="true" />{{ w.label }}</RouterLink
      >
      <button type="button" :aria-expanded="more" @click="more = !more">
        <Ellipsis :size="20" aria-hidden="true" />More
      </button>
    </nav>
    <div v-if="more" class="more card no-print">
      <RouterLink
        v-for="w in sets ? [...LOOK, SETUP] : LOOK"
        :key="w.tab"
        :to="w.to"
        class="btn btn-quiet justify-start!"
        ><component :is="w.icon" :size="18" aria-hidden="true" />{{ w.label }}</RouterLink
      >
    </div>
    <UnknownCode />
    <KeysHelp :open="keys" :tabs="TABS.map(t => t.label)" @close="keys = false" />
    <ScannerPanel v-if="demonstration && !narrow" />
  </div>
</template>
<style scoped>
.skip {
  position: fixed;
  left: 12px;
  top: -60px;
  z-index: 60;
  padding: 8px 14px;
  background: var(--sheet);
  border: 2px solid var(--kelp);
  border-radius: 6px;
}
.skip:focus {
  top: 10px;
}
.main :deep(h1[tabindex]:focus) {
  outline: none;
}
.frame {
  min-height: 100vh;
  display: grid;
  grid-template-columns: 122px minmax(0, 1fr);
}
.binder {
  position: sticky;
  top: 0;
  height: 100vh;
  background: var(--binder);
  border-right: 1px solid var(--hair);
  display: flex;
  flex-direction: column;
  padding: 12px 0 10px;
}
.brand {
  font-weight: 750;
  font-size: 17px;
  color: var(--kelp);
  padding: 0 20px 14px;
}
.tab {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 38px;
  margin: 0 0 1px 8px;
  padding: 0 4px 0 12px;
  white-space: nowrap;
  border: 1px solid transparent;
  border-right: 0;
  border-radius: 7px 0 0 7px;
  font-weight: 500;
  color: var(--ink);
}
.tab:hover {
  color: var(--kelp);
}
.tab.open {
  background: var(--paper);
  border-color: var(--hair);
  margin-right: -1px;
  color: var(--kelp);
  font-weight: 700;
}
.gap {
  height: 22px;
}
.grow {
  flex: 1;
}
.page {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 100vh;
}
.head {
  position: sticky;
  top: 0;
  z-index: 20;
  display: flex;
  align-items: center;
  gap: 16px;
  min-height: 56px;
  padding: 7px 18px;
  background: var(--paper);
  border-bottom: 1px solid var(--hair);
}
.main {
  flex: 1;
  padding: 8px 18px 24px;
  min-width: 0;
}
.bottom {
  display: none;
}
.more {
  position: fixed;
  right: 8px;
  bottom: 74px;
  z-index: 30;
  padding: 6px;
  display: flex;
  flex-direction: column;
  min-width: 160px;
}
@media (pointer: coarse) {
  .tab {
    min-height: 48px;
  }
  .brand {
    padding-bottom: 0;
    min-height: 48px;
  }
  .gap {
    height: 8px;
  }
}
@media (max-width: 1023px) {
  .frame {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 70px;
  }
  .binder {
    display: none;
  }
  .head {
    gap: 10px;
    padding: 7px 12px;
    flex-wrap: wrap;
  }
  .main {
    padding: 8px 12px 20px;
  }
  .bottom {
    position: fixed;
    inset: auto 0 0;
    z-index: 25;
    height: 68px;
    display: flex;
    background: var(--binder);
    border-top: 1px solid var(--hair);
  }
  .bottom > * {
    flex: 1;
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    gap: 3px;
    font-size: 12px;
    font-weight: 500;
    min-width: 0;
    cursor: pointer;
    color: var(--ink);
  }
  .bottom .open {
    background: var(--paper);
    color: var(--kelp);
    font-weight: 700;
  }
}
@media (max-width: 480px) {
  .head {
    gap: 5px;
  }
}
@media print {
  .frame,
  .page {
    display: block;
    min-height: 0;
    padding: 0;
  }
  .main {
    padding: 0;
  }
}
</style>
