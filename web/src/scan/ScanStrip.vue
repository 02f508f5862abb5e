<script setup lang="ts">
/** Always ready: what is scanned or typed here is found by item, code, lot, place or slip number. */
import { ScanBarcode } from '@lucide/vue'
import { computed, ref } from 'vue'
import { useIndex } from '../shell/index-store.ts'
import { useScan } from './store.ts'

const index = useIndex()
const scan = useScan()
const words = ref('')
const at = ref(0)
const open = ref(false)
const found = computed(() => (open.value ? index.find(words.value) : []))
async function go() {
  const text = words.value.trim()
  if (!text) return
  const hit = found.value[at.value]
  words.value = ''
  open.value = false
  if (hit) await scan.use({ code: text, kind: 'item', item: hit.id, pack: null, lot: null, place: null, slip: null, command: null, party: null, quantity: null, why: null })
  else await scan.scanned(text)
}
function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown') { e.preventDefault(); at.value = Math.min(at.value + 1, found.value.length - 1) }
  else if (e.key === 'ArrowUp') { e.preventDefault(); at.value = Math.max(at.value - 1, 0) }
  else if (e.key === 'Enter' && !e.ctrlKey) { e.preventDefault(); void go() }
  else if (e.key === 'Escape') { words.value = ''; (e.target as HTMLElement).blur() }
}
const choose = (i: number) => { at.value = i; void go() }
const away = () => setTimeout(() => { open.value = false }, 150)
</script>
<template>
  <div class="strip">
    <ScanBarcode :size="18" class="soft shrink-0" aria-hidden="true" />
    <input id="scan-strip" v-model="words" type="text" role="combobox" aria-label="Scan or search" placeholder="Scan anything, or type a name, a code, a number" autocomplete="off" inputmode="none" :aria-expanded="found.length > 0" aria-controls="scan-found" :aria-activedescendant="found.length ? `scan-found-${at}` : undefined"
      @input="open = true; at = 0" @keydown="key" @blur="away" @pointerdown="($event.target as HTMLInputElement).inputMode = 'search'" />
    <kbd class="soft">/</kbd>
    <ul v-if="found.length" id="scan-found" class="card" role="listbox" aria-label="Found">
      <li v-for="(i, n) in found" :id="`scan-found-${n}`" :key="i.id" role="option" :aria-selected="n === at" :class="{ 'bg-frost': n === at }" @mousedown.prevent="choose(n)">{{ i.name }} <span class="mono soft text-[12px]">{{ i.code }}</span></li>
    </ul>
  </div>
</template>
<style scoped>
.strip { position: relative; flex: 1; display: flex; align-items: center; gap: 10px; min-width: 220px; max-width: 760px; min-height: 38px; border: 2px solid var(--kelp); border-radius: 6px; background: var(--sheet); padding: 0 10px 0 12px; }
input { flex: 1; min-width: 0; background: none; outline: none; min-height: 34px; }
input::placeholder { color: var(--soft); opacity: 1; }
kbd { border: 1px solid var(--hair); border-radius: 4px; padding: 0 7px; font-family: var(--font-mono); font-size: 12px; background: var(--paper); }
ul { position: absolute; left: -2px; right: -2px; top: calc(100% + 4px); z-index: 40; padding: 4px 0; max-height: 60vh; overflow-y: auto; }
li { padding: 8px 14px; cursor: pointer; }
.strip:focus-within { outline: 2px solid var(--kelp); outline-offset: 1px; }
@media (pointer: coarse) { .strip { min-height: 48px; } kbd { display: none; } }
@media (max-width: 1023px) { .strip { order: 5; flex-basis: 100%; max-width: none; } }
</style>
