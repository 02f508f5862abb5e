<script setup lang="ts">
/** Under a count: book it, say that the rest is as expected, look at it once more, or throw it away. */
import { useSlip } from '../ledger/slip-store.ts'
import { type Mode, useEntries } from './entries.ts'

const mode = defineModel<Mode>({ required: true })
const emit = defineEmits<{ book: []; rest: []; leave: [] }>()
const slip = useSlip()
const { counted, rest, notCounted } = useEntries()
</script>
<template>
  <footer class="flex flex-wrap gap-3 mt-4 items-center">
    <button
      v-if="mode === 'review'"
      type="button"
      class="btn btn-act"
      v-wants="counted ? '' : 'Nothing is counted yet.'"
      :disabled="slip.booking"
      @click="emit('book')"
    >
      Book {{ counted }} counted line{{ counted === 1 ? '' : 's' }}</button
    ><button v-if="!slip.content.head.blind && rest.length" type="button" class="btn" @click="emit('rest')">
      The other {{ rest.length }} {{ rest.length === 1 ? 'is' : 'are' }} as expected</button
    ><button v-if="mode !== 'review'" type="button" class="btn" @click="mode = 'review'">
      Review {{ counted }} counted</button
    ><button type="button" class="btn" @click="emit('leave')">Throw the sheet away</button
    ><span class="soft text-[13px]">{{ notCounted() }} It saves itself.</span>
  </footer>
</template>
