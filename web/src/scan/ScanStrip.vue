<script setup lang="ts">
/** Always ready: what is scanned or typed here is found by item, code, lot, place or slip number. */
import { singleKeys } from '../shell/single-keys.ts'
import { ScanBarcode } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Found } from '@shelve/contract'
import { exactLetters } from '@shelve/core'
import { get } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useIndex } from '../shell/index-store.ts'
import CameraScan from './CameraScan.vue'
import { findPlaces, hitOfFound, hitOfItem, hitOfPlace, type Hit } from './search.ts'
import { useScan } from './store.ts'

const index = useIndex()
const session = useSession()
const scan = useScan()
const router = useRouter()
const words = ref('')
const at = ref(0)
const open = ref(false)
const coarse = matchMedia('(pointer: coarse)').matches
/** What the server knows beside the device's own: asked a moment after the last keystroke; only the latest answer counts. */
const more = ref<Found[]>([])
let timer: ReturnType<typeof setTimeout> | undefined
watch(words, w => {
  clearTimeout(timer)
  more.value = []
  if (w.trim().length < 2) return
  timer = setTimeout(async () => {
    try {
      const { rows } = await get<{ rows: Found[] }>(`/api/search?q=${encodeURIComponent(w.trim())}`)
      if (w === words.value) more.value = rows
    } catch {
      /* the device's own answers stand */
    }
  }, 140)
})
const found = computed<Hit[]>(() =>
  open.value
    ? [
        ...index.find(words.value).map(hitOfItem),
        ...findPlaces(session.places, words.value).map(hitOfPlace),
        ...more.value.map(hitOfFound),
        ...newItem.value,
      ]
    : [],
)
/** Words that no item bears may be a new one's name, for whoever sets up: it comes last, and leads back to here. */
const newItem = computed<Hit[]>(() => {
  const name = words.value.trim()
  if (!session.may('set_up') || !/\p{Ll}{3}/u.test(name) || index.items.some(i => bare(i.name) === bare(name)))
    return []
  const back = router.currentRoute.value.fullPath
  return [
    { key: 'new', name: `New item “${name}”`, note: '', mono: false, to: { name: 'item-new', query: { name, back } } },
  ]
})
const bare = (t: string) => exactLetters(t.trim())
async function go() {
  const text = words.value.trim()
  if (!text) return
  const hit = found.value[at.value]
  words.value = ''
  open.value = false
  const meaning = {
    code: text,
    pack: null,
    lot: null,
    slip: null,
    sheet: null,
    command: null,
    party: null,
    quantity: null,
    why: null,
  }
  // A code typed out means what it means when it is scanned, before anything that only sounds like it.
  if (!hit || (/\d{6,}/.test(text) && !hit.item)) await scan.scanned(text)
  else if (hit.item) await scan.use({ ...meaning, kind: 'item', item: hit.item.id, place: null }, true)
  else if (hit.place) await scan.use({ ...meaning, kind: 'place', item: null, place: hit.place.id })
  else await router.push(hit.to!)
}
function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown') {
    e.preventDefault()
    at.value = Math.min(at.value + 1, found.value.length - 1)
  } else if (e.key === 'ArrowUp') {
    e.preventDefault()
    at.value = Math.max(at.value - 1, 0)
  } else if (e.key === 'Enter' && !e.ctrlKey) {
    e.preventDefault()
    void go()
  } else if (e.key === 'Escape') {
    words.value = ''
    ;(e.target as HTMLElement).blur()
  }
}
const choose = (i: number) => {
  at.value = i
  void go()
}
const away = () =>
  setTimeout(() => {
    open.value = false
  }, 150)
</script>
<template>
  <div class="strip">
    <ScanBarcode :size="18" class="soft shrink-0" aria-hidden="true" />
    <input
      id="scan-strip"
      v-model="words"
      type="text"
      role="combobox"
      aria-label="Scan or search"
      :placeholder="
        scan.looking
          ? `${scan.looking} (${coarse ? 'a tap' : 'Escape'} leaves it)`
          : 'Scan anything, or type a name, a code, a number'
      "
      autocomplete="off"
      inputmode="none"
      :aria-expanded="found.length > 0"
      aria-controls="scan-found"
      :aria-activedescendant="found.length ? `scan-found-${at}` : undefined"
      @input="
        () => {
          open = true
          at = 0
        }
      "
      @keydown="key"
      @blur="away"
      @pointerdown="scan.looking ? scan.leave() : (($event.target as HTMLInputElement).inputMode = 'search')"
    />
    <kbd v-if="singleKeys" class="soft">/</kbd>
    <CameraScan />
    <ul v-if="found.length" id="scan-found" class="card" role="listbox" aria-label="Found">
      <li
        v-for="(i, n) in found"
        :id="`scan-found-${n}`"
        :key="i.key"
        role="option"
        :aria-selected="n === at"
        :class="{ 'bg-frost': n === at }"
        @mousedown.prevent="choose(n)"
      >
        <span :class="{ mono: i.mono && !i.item }">{{ i.name }}</span>
        <span class="soft text-[12px]" :class="{ mono: i.item }">{{ ` ${i.note}` }}</span>
      </li>
    </ul>
  </div>
</template>
<style scoped>
.strip {
  position: relative;
  flex: 1;
  display: flex;
  align-items: center;
  gap: 10px;
  min-width: 220px;
  max-width: 760px;
  min-height: 38px;
  border: 2px solid var(--kelp);
  border-radius: 6px;
  background: var(--sheet);
  padding: 0 10px 0 12px;
}
input {
  flex: 1;
  min-width: 0;
  background: none;
  outline: none;
  min-height: 34px;
}
input::placeholder {
  color: var(--soft);
  opacity: 1;
}
kbd {
  border: 1px solid var(--hair);
  border-radius: 4px;
  padding: 0 7px;
  font-family: var(--font-mono);
  font-size: 12px;
  background: var(--paper);
}
ul {
  position: absolute;
  left: -2px;
  right: -2px;
  top: calc(100% + 4px);
  z-index: 40;
  padding: 4px 0;
  max-height: 60vh;
  overflow-y: auto;
}
li {
  padding: 8px 14px;
  cursor: pointer;
}
.strip:focus-within {
  outline: 2px solid var(--kelp);
  outline-offset: 1px;
}
@media (pointer: coarse) {
  .strip {
    min-height: 52px;
  }
  input {
    min-height: 48px;
  }
  kbd {
    display: none;
  }
}
@media (max-width: 1023px) {
  .strip {
    order: 5;
    flex-basis: 100%;
    max-width: none;
  }
}
</style>
