<script setup lang="ts">
/** Says of a line that was asked for that nothing more of it will come, and why: it is no longer waited for. */
import { ref } from 'vue'
import AskDialog from '../ui/AskDialog.vue'

defineProps<{ open: boolean; name: string; wrong: string }>()
defineEmits<{ close: []; say: [why: string] }>()
const why = ref('')
</script>
<template>
  <AskDialog :open="open" :title="`${name} will not come`" @close="$emit('close')">
    <form class="grid gap-3" @submit.prevent="$emit('say', why)">
      <label
        ><span class="label">Why</span
        ><input v-model="why" class="field" list="whys" placeholder="they have none, bought elsewhere" /><datalist
          id="whys"
        >
          <option
            v-for="x in ['they have none', 'bought elsewhere', 'not needed any more', 'asked for by mistake']"
            :key="x"
            :value="x"
          /></datalist
      ></label>
      <p class="soft">What has come of it has come. It is proposed again where it is short.</p>
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act" v-wants="!why.trim() ? 'Say why it will not come.' : ''">
          Wait for it no longer</button
        ><button type="button" class="btn" @click="$emit('close')">Wait on</button>
      </div>
    </form>
  </AskDialog>
</template>
