<script setup lang="ts">
/** The paper on the screen is not saved any more: it was booked, asked for or thrown away elsewhere. */
import { computed } from 'vue'
import AskDialog from '../ui/AskDialog.vue'
import type { Ended } from './wire.ts'

const props = defineProps<{ ended: Ended | null; what: string }>()
defineEmits<{ open: []; leave: []; goOn: [lines: readonly string[]] }>()
const n = computed(() => props.ended?.added.length ?? 0)
</script>
<template>
  <AskDialog
    :open="ended !== null"
    :title="ended?.gone ? `This ${what} was thrown away elsewhere` : `This ${what} is not written on any more`"
    @close="$emit('leave')"
  >
    <p>{{ ended?.gone ? 'Nothing of it was booked.' : ended?.message }}</p>
    <p v-if="ended?.unsaved" class="mt-2">What you typed last is not on it; it still stands here.</p>
    <div class="flex flex-wrap gap-3 mt-5">
      <button v-if="!ended?.gone" type="button" class="btn btn-act" @click="$emit('open')">See what was booked</button>
      <slot /><button v-if="n" type="button" class="btn" @click="$emit('goOn', ended!.added)">
        Begin another with the {{ n === 1 ? 'line' : `${n} lines` }} you added</button
      ><button type="button" class="btn" @click="$emit('leave')">Leave it</button>
    </div>
  </AskDialog>
</template>
