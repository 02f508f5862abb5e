<script setup lang="ts">
/** Columns by choice, and filters kept by name. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { SlidersHorizontal, X } from '@lucide/vue'
import { computed, ref } from 'vue'
import { useStrip } from '../shell/strip.ts'
import type { useList } from './lists.ts'

const props = defineProps<{ list: ReturnType<typeof useList>; columns: readonly { id: string; label: string }[] }>()
const strip = useStrip()
const name = ref('')
const saved = computed(() => props.list.saved.value)
const filtered = computed(() => Object.keys(props.list.filtered.value).length > 0)
async function keep() {
  if (!name.value.trim()) return
  if (!(await props.list.keep(name.value.trim()))) return
  strip.say(`“${name.value.trim()}” is kept.`)
  name.value = ''
}
</script>
<template>
  <Popover class="relative">
    <PopoverButton class="btn btn-small flex items-center gap-1.5"
      ><SlidersHorizontal :size="14" aria-hidden="true" />Arrange</PopoverButton
    >
    <PopoverPanel v-slot="{ close }" class="card absolute right-0 z-30 mt-1 p-4 w-72 over" focus>
      <p class="label">Kept filters</p>
      <ul v-if="saved.length" class="mb-2">
        <li v-for="s in saved" :key="s.name" class="flex justify-between gap-2 items-center">
          <button
            type="button"
            class="go text-left py-1 cursor-pointer"
            @click="
              () => {
                list.apply(s)
                close()
              }
            "
          >
            {{ s.name }}</button><button
            type="button"
            class="btn btn-quiet btn-small"
            :aria-label="`Forget ${s.name}`"
            @click="list.drop(s.name)"
          >
            <X :size="13" aria-hidden="true" />
          </button>
        </li>
      </ul>
      <form v-if="filtered" class="flex gap-2 mb-3" @submit.prevent="keep">
        <input
          v-model="name"
          class="field field-small"
          placeholder="name for this filter"
          aria-label="Name for this filter"
          maxlength="60"
        /><button class="btn btn-small" v-wants="!name.trim() ? 'What is the filter called?' : ''">Keep</button>
      </form>
      <p v-else class="soft text-[13px] mb-3">
        {{ saved.length ? '' : 'None yet. ' }}Filter or sort the list, then keep it here by a name.
      </p>
      <p class="label">Columns</p>
      <label v-for="c in columns" :key="c.id" class="flex gap-2 items-center py-1"
        ><input type="checkbox" :checked="list.shows.value.has(c.id)" @change="list.toggle(c.id)" />{{ c.label }}</label
      >
    </PopoverPanel>
  </Popover>
</template>
