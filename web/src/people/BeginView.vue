<script setup lang="ts">
/** From an empty organisation to the first delivery. */
import { computed } from 'vue'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'

const session = useSession()
const index = useIndex()
const first = computed(() => index.items.length === 0)
</script>
<template>
  <div class="slip p-7 max-w-2xl">
    <h1>{{ session.settings.name }} is set up</h1>
    <p class="soft mb-5">Two steps to the first figure you can trust.</p>
    <ol class="flex flex-col gap-4">
      <li class="flex gap-4 items-start">
        <span class="mono font-bold text-[18px] w-6">1</span>
        <div>
          <p class="font-semibold">Your first item</p>
          <p class="soft mb-2">
            Only a code, a name and what it is counted in. Packs, barcodes and levels can come later.
          </p>
          <!-- Below each other: what the first says depends on the items, which come later. -->
          <div class="flex flex-col items-start gap-2">
            <RouterLink
              class="btn"
              :class="{ 'btn-act': first }"
              :to="{ name: 'item-new', query: { back: '/begin' } }"
              >{{ first ? 'Make the first item' : 'Another item' }}</RouterLink
            >
            <RouterLink class="btn" :to="{ name: 'items-brought' }">Many at once, from a spreadsheet</RouterLink>
          </div>
        </div>
      </li>
      <li class="flex gap-4 items-start">
        <span class="mono font-bold text-[18px] w-6">2</span>
        <div>
          <p class="font-semibold">Your first delivery</p>
          <p class="soft mb-2">What came, how much, at what price. It is on the shelf the moment you book it.</p>
          <RouterLink class="btn" :class="{ 'btn-act': !first }" :to="{ name: 'receive' }"
            >Receive a delivery</RouterLink
          >
        </div>
      </li>
      <li class="flex gap-4 items-start">
        <span class="mono font-bold text-[18px] w-6">3</span>
        <div>
          <p class="font-semibold">When you like</p>
          <p class="soft mb-2">Bins in your area, who or what things are used for, your colleagues.</p>
          <div class="flex flex-wrap gap-2">
            <RouterLink class="btn btn-small" :to="{ name: 'setup-places' }">Places</RouterLink
            ><RouterLink class="btn btn-small" :to="{ name: 'setup-lists' }">Jobs and cost centres</RouterLink
            ><RouterLink class="btn btn-small" :to="{ name: 'setup-people' }">People</RouterLink>
          </div>
        </div>
      </li>
    </ol>
  </div>
</template>
