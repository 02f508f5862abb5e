<script setup lang="ts">
/** A move at once: all that lies in one bin, and where all of it goes. */
import { computed } from 'vue'
import { useSlip } from '../ledger/slip-store.ts'
import { useSession } from '../shell/session.ts'
import { useTakeAll } from './take-all.ts'

const slip = useSlip()
const session = useSession()
const takeAll = useTakeAll()
const count = computed(() => slip.content.lines.length)
/** Where all lines go at once. */
const allTo = computed({
  get: () => {
    const to = new Set(slip.content.lines.map(l => l.to))
    return to.size === 1 ? ([...to][0] ?? null) : null
  },
  set: v => {
    for (const l of slip.content.lines) l.to = v
  },
})
const bins = computed(() =>
  (session.placeId ? session.within(session.placeId) : session.places).filter(p => p.active && p.kind === 'bin'),
)
</script>
<template>
  <div class="mt-3 flex flex-wrap gap-4 items-end">
    <label v-if="!count && bins.length"
      ><span class="label">All that lies in one bin</span
      ><select
        class="field field-small w-44!"
        aria-label="All that lies in one bin"
        @change="void takeAll(($event.target as HTMLSelectElement).value)"
      >
        <option value="">choose, or scan it</option>
        <option v-for="b in bins" :key="b.id" :value="b.id">{{ b.path }}</option>
      </select></label
    >
    <label v-if="count"
      ><span class="label">All of it goes to</span
      ><select v-model="allTo" data-all-to class="field field-small w-44!">
        <option :value="null">say it on each line</option>
        <option v-for="p in session.places.filter(x => x.active)" :key="p.id" :value="p.id">{{ p.path }}</option>
      </select></label
    >
  </div>
</template>
