<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import HandsDialog from '../people/HandsDialog.vue'
import ProveDialog from '../people/ProveDialog.vue'
import { said } from './api.ts'
import { useSession } from './session.ts'
import { useStrip } from './strip.ts'

defineEmits<{ keys: [] }>()
const session = useSession()
const router = useRouter()
const strip = useStrip()
const hands = ref(false)
const proving = ref(false)
const THEMES = { auto: 'Theme: as the device', light: 'Theme: light', dark: 'Theme: dark' } as const
const next = { auto: 'light', light: 'dark', dark: 'auto' } as const
async function leave() {
  try {
    await session.signOut()
  } catch (e) {
    // Whoever walks away thinks that nobody can go on in their name.
    strip.say(`You are still signed in here. ${said(e)}`, 'bad')
    return
  }
  await router.push({ name: 'sign-in' })
}
</script>
<template>
  <Menu as="div" class="relative shrink-0 ml-auto max-w-52">
    <MenuButton class="text-right leading-tight cursor-pointer min-h-12 max-w-full" :title="session.me?.person.name"
      ><span class="block font-medium truncate">{{ session.me?.person.name }}</span
      ><span class="block soft text-[12px]"
        >{{ session.me?.person.role }}{{ session.me?.lowered ? ', by badge or PIN' : '' }}</span
      ></MenuButton
    >
    <MenuItems class="card absolute right-0 mt-1 z-30 w-56 py-1 outline-none">
      <MenuItem v-slot="{ active }"
        ><button
          type="button"
          class="entry"
          :class="{ 'bg-frost': active }"
          @click.prevent="session.theme = next[session.theme]"
        >
          {{ THEMES[session.theme] }}
        </button></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><button type="button" class="entry" :class="{ 'bg-frost': active }" @click="$emit('keys')">
          Keys of this screen
        </button></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><button type="button" class="entry" :class="{ 'bg-frost': active }" @click="hands = true">
          Somebody else takes over
        </button></MenuItem
      >
      <MenuItem v-if="session.me?.lowered" v-slot="{ active }"
        ><button type="button" class="entry" :class="{ 'bg-frost': active }" @click="proving = true">
          Work as manager: type the password
        </button></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><RouterLink :to="{ name: 'me' }" class="entry" :class="{ 'bg-frost': active }"
          >My password and PIN, where I am signed in</RouterLink
        ></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><button type="button" class="entry" :class="{ 'bg-frost': active }" @click="leave">Sign out</button></MenuItem
      >
    </MenuItems>
  </Menu>
  <ProveDialog :open="proving" @close="proving = false" />
  <HandsDialog :open="hands" @close="hands = false" />
</template>
<style scoped>
.entry {
  display: block;
  width: 100%;
  text-align: left;
  padding: 8px 14px;
  cursor: pointer;
}
@media (pointer: coarse) {
  .entry {
    min-height: 48px;
    padding: 12px 14px;
  }
}
</style>
