<script setup lang="ts">
/** The scanner stand-in of the demonstration: types a barcode as a wedge scanner would, key by key. */
import { ScanBarcode } from '@lucide/vue'
import { computed, ref } from 'vue'
import { useIndex } from '../shell/index-store.ts'

const index = useIndex()
const open = ref(false)
const words = ref('')
const choices = computed(() =>
  (words.value ? index.find(words.value, 30) : index.items)
    .flatMap(i => i.codes.map(c => ({ ...c, name: i.name })))
    .slice(0, 12),
)
/** A key every 8 ms and Enter at the end, to whatever has the focus. */
async function play(code: string) {
  for (const key of [...code, 'Enter']) {
    const target = document.activeElement ?? document.body
    for (const type of ['keydown', 'keyup'])
      target.dispatchEvent(new KeyboardEvent(type, { key, bubbles: true, cancelable: true }))
    await new Promise(done => setTimeout(done, 8))
  }
}
</script>
<template>
  <!-- Whatever had the focus keeps it: that is where a scanner would write. -->
  <aside class="no-print panel" aria-label="Scanner of the demonstration">
    <button type="button" class="btn btn-small" aria-label="Scanner" :aria-expanded="open" @click="open = !open">
      <ScanBarcode :size="15" aria-hidden="true" /><span class="max-[480px]:hidden">Scanner</span>
    </button>
    <div v-if="open" class="card box">
      <p class="soft text-[13px] mb-2">
        The demonstration has no scanner at hand: this panel sends what one would read.
      </p>
      <input
        v-model="words"
        class="field field-small mb-2"
        aria-label="Which barcode"
        placeholder="Which thing is scanned?"
      />
      <ul>
        <li v-for="c in choices" :key="c.code">
          <button type="button" class="code" @mousedown.prevent @click="play(c.code)">
            <span class="mono">{{ c.code }}</span><span class="soft text-[12px]"
              >{{ c.name }}<template v-if="c.pack">, {{ c.pack }}</template></span
            >
          </button>
        </li>
      </ul>
      <button type="button" class="code" @mousedown.prevent @click="play('9529990000018')">
        <span class="mono">9529990000018</span><span class="soft text-[12px]">a code nobody knows</span>
      </button>
    </div>
  </aside>
</template>
<style scoped>
.panel {
  position: fixed;
  left: 12px;
  bottom: 60px;
  z-index: 28;
}
.box {
  position: absolute;
  left: 0;
  bottom: 42px;
  width: 300px;
  max-height: 60vh;
  overflow-y: auto;
  padding: 12px;
}
.code {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  width: 100%;
  text-align: left;
  padding: 5px 6px;
  border-radius: 4px;
  cursor: pointer;
}
.code:hover {
  background: var(--frost);
}
/* Where the works stand at the foot, it would lie on what books a slip. */
@media (max-width: 1023px) {
  .panel {
    position: relative;
    inset: auto;
  }
  .box {
    position: fixed;
    inset: 60px 12px auto auto;
    z-index: 60;
  }
}
</style>
