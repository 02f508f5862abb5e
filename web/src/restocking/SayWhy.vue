<script setup lang="ts">
/** Asks why: of a line that will not come, of a slip that is given back to whoever asks. */
import { ref } from 'vue'
import AskDialog from '../ui/AskDialog.vue'

defineProps<{
  open: boolean
  title: string
  /** What is often said. */ often: readonly string[]
  note: string
  /** The button that does it, and the one that does not. */ does: string
  leaves: string
  wrong: string
}>()
defineEmits<{ close: []; say: [why: string] }>()
const why = ref('')
</script>
<template>
  <AskDialog :open="open" :title="title" @close="$emit('close')">
    <form class="grid gap-3" @submit.prevent="$emit('say', why)">
      <label
        ><span class="label">Why</span
        ><input v-model="why" class="field" list="whys" :placeholder="often.slice(0, 2).join(', ')" /><datalist
          id="whys"
        >
          <option v-for="x in often" :key="x" :value="x" /></datalist
      ></label>
      <p class="soft">{{ note }}</p>
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act" v-wants="why.trim() ? '' : 'Say why.'">{{ does }}</button><button
          type="button"
          class="btn"
          @click="$emit('close')"
        >
          {{ leaves }}
        </button>
      </div>
    </form>
  </AskDialog>
</template>
