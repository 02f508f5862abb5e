<script setup lang="ts">
/** Saves a list as it is shown: the same address, asked for in another form. Each export carries a number of its own. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { ChevronDown } from '@lucide/vue'
import { said } from '../shell/api.ts'
import { useStrip } from '../shell/strip.ts'
import { saveList } from './csv.ts'

const props = defineProps<{
  path: string
  name: string
  disabled?: boolean
  /** At the foot of a page, among its other buttons: it opens upwards. */ foot?: boolean
}>()
const strip = useStrip()
async function save(form: 'csv' | 'pdf') {
  try {
    await saveList(props.path, props.name, form)
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <Menu as="div" class="relative">
    <MenuButton class="btn flex items-center gap-1.5" :class="{ 'btn-small': !foot }" :disabled="disabled"
      >Save list <ChevronDown :size="14" aria-hidden="true"
    /></MenuButton>
    <MenuItems class="card absolute z-30 py-1 min-w-40 over" :class="foot ? 'left-0 bottom-full mb-1' : 'right-0 mt-1'">
      <MenuItem v-slot="{ active }"
        ><button
          type="button"
          class="block w-full text-left px-3.5 py-2 cursor-pointer"
          :class="{ 'bg-frost': active }"
          @click="save('csv')"
        >
          as CSV, to work on
        </button></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><button
          type="button"
          class="block w-full text-left px-3.5 py-2 cursor-pointer"
          :class="{ 'bg-frost': active }"
          @click="save('pdf')"
        >
          as PDF, to print
        </button></MenuItem
      >
    </MenuItems>
  </Menu>
</template>
