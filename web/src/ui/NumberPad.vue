<script setup lang="ts">
/** Keys for gloved fingers: digits, plus, the decimal mark, and the packs a thing comes in. */
import { useSession } from '../shell/session.ts'
import { useScan } from '../scan/store.ts'

defineProps<{ packs: readonly { name: string; note: string }[] }>()
const emit = defineEmits<{ press: [key: string] }>()
const session = useSession()
const scan = useScan()
/** Pressed after a scan that is still being looked up, it is meant for where that leads. */
const press = (key: string) => scan.after(`“${key}”`, () => emit('press', key))
const DIGITS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '0', '+', '.']
</script>
<template>
  <div class="pad">
    <div class="packs">
      <button v-for="p in packs" :key="p.name" type="button" class="key" @click="press(p.name)">
        <span class="line-clamp-2 wrap-anywhere">{{ p.name }}</span><small
          v-if="p.note"
          class="soft line-clamp-2 wrap-anywhere text-[12px]"
          >{{ p.note }}</small
        >
      </button>
    </div>
    <div class="digits">
      <button v-for="k in DIGITS" :key="k" type="button" class="key mono" @click="press(k)">
        {{ k === '.' ? session.settings.decimalMark : k }}
      </button>
    </div>
    <div class="side">
      <button type="button" class="key" aria-label="Take the last key back" @click="press('back')">⌫</button><slot />
    </div>
  </div>
</template>
<style>
.pad {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 2.4fr) minmax(0, 1fr);
  gap: 8px;
}
.pad .packs,
.pad .side {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.pad .digits {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}
.pad .key {
  min-height: 52px;
  flex: 1;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--sheet);
  font-size: 15px;
  cursor: pointer;
  padding: 4px;
}
.pad .digits .key {
  font-size: 22px;
}
.pad .key:active {
  background: var(--frost);
}
.pad .key:hover {
  border-color: var(--kelp);
}
</style>
