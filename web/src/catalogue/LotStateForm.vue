<script setup lang="ts">
import { ref } from 'vue'
import type { LotView } from '@shelve/contract'
import AskDialog from '../ui/AskDialog.vue'
const props = defineProps<{ lot: LotView }>()
const emit = defineEmits<{ save: [held: string, why: string] }>()
const open = ref(false)
const why = ref('')
const held = ref('held')
function ask() {
  held.value = props.lot.state === 'usable' || props.lot.state === 'expired' ? 'held' : 'usable'
  why.value = ''
  open.value = true
}
</script>
<template>
  <button type="button" class="btn btn-small" @click="ask">
    {{ lot.state === 'held' || lot.state === 'recalled' ? 'Free it' : 'Hold it' }}
  </button>
  <AskDialog :open="open" :title="`Lot ${lot.code}`" @close="open = false">
    <form
      class="flex flex-col gap-3"
      @submit.prevent="
        () => {
          emit('save', held, why)
          open = false
        }
      "
    >
      <label
        ><span class="label">From now on it is</span
        ><select v-model="held" class="field">
          <option value="usable">usable</option>
          <option value="held">held: not to be used for now</option>
          <option value="recalled">recalled by its maker</option>
        </select></label
      >
      <label><span class="label">Why</span><input v-model="why" class="field" required /></label>
      <div class="flex gap-3">
        <button class="btn btn-act" v-wants="!why.trim() ? 'Say why: it is kept with the lot.' : ''">Save</button
        ><button type="button" class="btn" @click="open = false">Leave it</button>
      </div>
    </form>
  </AskDialog>
</template>
