<script setup lang="ts">
/** What else a line of a template may say: where it is usually taken from, and what may stand in for it. */
import { nextTick, ref } from 'vue'
import type { IndexItem, TemplateLine } from '@shelve/contract'
import { X } from '@lucide/vue'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import ItemPicker from '../ui/ItemPicker.vue'

const line = defineModel<TemplateLine>({ required: true })
defineProps<{ name: string; wrong: (field: string) => string | undefined }>()
const session = useSession()
const index = useIndex()
const root = ref<HTMLElement>()
async function add(i: IndexItem) {
  line.value.instead.push({ item: i.id, typed: '', unit: null })
  await nextTick()
  root.value?.querySelector<HTMLInputElement>('li:last-child input')?.focus()
}
</script>
<template>
  <div ref="root" class="flex flex-wrap gap-x-6 gap-y-3 items-start pb-2">
    <label class="w-56"
      ><span class="label">Usually taken from</span
      ><select v-model="line.from" class="field field-small" :aria-label="`Where ${name} is usually taken from`">
        <option :value="null">where the work is done</option>
        <option v-for="p in session.places.filter(x => x.active)" :key="p.id" :value="p.id">{{ p.path }}</option>
      </select></label
    >
    <div class="grow min-w-64 max-w-md">
      <span class="label">Or instead</span>
      <ul v-if="line.instead.length" class="mb-2">
        <li v-for="(o, n) in line.instead" :key="n" class="flex flex-wrap gap-2 items-center mb-1">
          <input
            v-model="o.typed"
            class="field field-small field-num w-24!"
            :aria-label="`How much ${index.byId.get(o.item)?.name} instead of ${name}`"
            :aria-invalid="!!wrong(`instead.${n}.typed`)"
          /><span v-if="/^\s*$|\d\s*$/.test(o.typed)" class="soft">{{ index.byId.get(o.item)?.unit }}</span>
          <span class="font-medium">{{ index.byId.get(o.item)?.name }}</span><button
            type="button"
            class="btn btn-quiet btn-small px-1!"
            :aria-label="`Not ${index.byId.get(o.item)?.name} instead`"
            @click="line.instead.splice(n, 1)"
          >
            <X :size="15" aria-hidden="true" />
          </button>
        </li>
      </ul>
      <ItemPicker
        v-if="line.instead.length < 5"
        :label="`What may be taken instead of ${name}`"
        placeholder="Type what may be taken instead"
        @pick="add"
      />
    </div>
  </div>
</template>
