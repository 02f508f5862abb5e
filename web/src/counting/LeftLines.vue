<script setup lang="ts">
/** Lines that nobody counted: left for later, or left out on purpose, with a word why. */
import { ref } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useEntries } from './entries.ts'

const index = useIndex()
const session = useSession()
const { rest, out, leaveOut, takeIn } = useEntries()
const why = ref('')
/** Of many only the first are shown: what is wanted is mostly all of them at once. */
const MOST = 12
const all = ref(false)
const shown = (of: readonly SlipLine[]) => (all.value ? of : of.slice(0, MOST))
const nameOf = (l: SlipLine) => `${index.byId.get(l.item ?? '')?.name ?? ''}${l.lot?.code ? `, lot ${l.lot.code}` : ''}`
</script>
<template>
  <section v-if="rest.length || out.length" class="slip mt-4 px-5 py-4" aria-label="Not counted">
    <template v-if="rest.length">
      <div class="flex flex-wrap gap-3 items-end justify-between">
        <div>
          <h2>{{ rest.length }} not counted</h2>
          <p class="soft text-[13px]">They stay as they are, and it stays due until they are counted or left out.</p>
        </div>
        <form class="flex flex-wrap gap-2 items-end" @submit.prevent="leaveOut(rest, why)">
          <label
            ><span class="label">Why they are left out</span
            ><input v-model="why" class="field field-small w-56!" maxlength="120" placeholder="if you like" /></label
          ><button class="btn btn-small">Leave {{ rest.length === 1 ? 'it' : `all ${rest.length}` }} out</button>
        </form>
      </div>
      <ul class="mt-2">
        <li v-for="l in shown(rest)" :key="l.id" class="flex gap-3 items-center py-1 border-t border-hair">
          <span class="grow min-w-0">{{ nameOf(l) }}</span><span class="soft text-[12px]">{{
            session.placeName(l.from)
          }}</span
          ><button
            type="button"
            class="btn btn-small"
            :aria-label="`Leave out ${nameOf(l)}`"
            @click="leaveOut([l], why)"
          >
            Leave out
          </button>
        </li>
      </ul>
    </template>
    <template v-if="out.length">
      <h2 :class="{ 'mt-4': rest.length }">{{ out.length }} left out on purpose</h2>
      <ul class="mt-2">
        <li v-for="l in shown(out)" :key="l.id" class="flex gap-3 items-center py-1 border-t border-hair">
          <span class="grow min-w-0"
            >{{ nameOf(l) }}<span v-if="l.note" class="soft"> · {{ l.note }}</span></span
          ><span class="soft text-[12px]">{{ session.placeName(l.from) }}</span
          ><button type="button" class="btn btn-small" :aria-label="`Count ${nameOf(l)} after all`" @click="takeIn(l)">
            Count it after all
          </button>
        </li>
      </ul>
    </template>
    <button
      v-if="!all && (rest.length > MOST || out.length > MOST)"
      type="button"
      class="go touch mt-2 cursor-pointer"
      @click="all = true"
    >
      Show all of them
    </button>
  </section>
</template>
