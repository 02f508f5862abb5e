<script setup lang="ts">
/** Finds an item by its name, code or barcode, from the device's own index. */
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'
import type { IndexItem } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useTakers } from '../scan/takers.ts'
import { write } from '../scan/code-field.ts'
import { typedUnderWay } from '../shell/under-way.ts'
import { typeOn } from './type-on.ts'

const props = defineProps<{
  label: string
  placeholder?: string
  /** What is scanned here is for the whole screen: it says more than which item. */ elsewhere?: boolean
}>()
const emit = defineEmits<{
  pick: [item: IndexItem]
  none: [words: string]
  /** Enter where nothing is typed: nothing more is added. */ enough: []
}>()
const index = useIndex()
const words = ref('')
/** A new box after each pick: it begins empty. */
const turn = ref(0)
const found = computed(() => index.find(words.value))
/** Somebody went down the list: Enter takes what is marked. Else it takes the first that is found, whatever was first before. */
let steered = false
/** What was typed, field by field, while the items were still on their way: the first is what is looked for. */
let ahead: string[] | null = null
async function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown' || e.key === 'ArrowUp') steered = true
  if (e.key !== 'Enter' || e.ctrlKey || e.metaKey || steered) return
  e.preventDefault()
  e.stopPropagation()
  const box = e.target as HTMLInputElement
  if (ahead) {
    ahead.push(box.value)
    return write(box, '')
  }
  if (!words.value.trim()) return emit('enough')
  if (!found.value.length && !index.seeks) return typedUnderWay(typedAhead(box))
  const [first] = found.value
  if (first) pick(first)
  else none(words.value)
}
/** Typed faster than the items came: Enter means what it would have meant, and so does what is typed after it. */
async function typedAhead(box: HTMLInputElement) {
  ahead = [words.value]
  write(box, '')
  await index.searchable
  const [asked, ...rest] = [...ahead, box.value]
  ahead = null
  // Who has left the page means nothing on the next one; who has gone on to another field types there by themselves.
  if (!box.isConnected) return
  const stays = document.activeElement === box
  const [first] = index.find(asked!)
  if (!first) return none(asked!)
  pick(first)
  if (stays) await typeOn(rest, box)
}
function none(asked: string) {
  emit('none', asked)
  words.value = ''
  turn.value++
}
function pick(item: IndexItem | null) {
  if (item) {
    emit('pick', item)
    words.value = ''
    turn.value++
  }
}
const scanned = props.elsewhere ? () => false : useTakers().item(pick)
</script>
<template>
  <Combobox
    :key="turn"
    v-code="scanned"
    :model-value="null"
    nullable
    as="div"
    class="relative"
    @update:model-value="pick"
  >
    <ComboboxInput
      class="field"
      :aria-label="label"
      :placeholder="placeholder ?? label"
      :display-value="() => words"
      autocomplete="off"
      @change="((words = ($event.target as HTMLInputElement).value), (steered = false))"
      @keydown.capture="key"
    />
    <ComboboxOptions
      v-if="words.trim()"
      class="card absolute left-0 right-0 z-30 mt-1 max-h-80 overflow-y-auto py-1 over"
    >
      <!-- Anew with each word: the first that is found is the one that Enter takes, not the one that was first before. -->
      <ComboboxOption v-for="i in found" :key="`${words} ${i.id}`" v-slot="{ active }" :value="i">
        <div class="px-3 py-2 cursor-pointer" :class="{ 'bg-frost': active }">
          <span>{{ i.name }}</span> <span class="mono soft text-[12px]">{{ i.code }} · {{ i.unit }}</span>
        </div>
      </ComboboxOption>
      <div v-if="!found.length" class="px-3 py-2 soft">
        {{ index.seeks ? `Nothing is called “${words}”.` : 'The items are on their way.' }}
      </div>
    </ComboboxOptions>
  </Combobox>
</template>
