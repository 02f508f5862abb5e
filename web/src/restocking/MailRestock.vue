<script setup lang="ts">
/** Mails a restock slip to whom it is asked of. */
import { reactive, ref, watch } from 'vue'
import type { RestockView } from '@shelve/contract'
import AskDialog from '../ui/AskDialog.vue'
import DateField from '../ui/DateField.vue'
import { unread } from '../ui/unread.ts'

const props = defineProps<{ open: boolean; slip: RestockView; wrong: string }>()
const emit = defineEmits<{ close: []; send: [letter: { to: string; number: string; expected: string | null }] }>()
const letter = reactive({ to: '', number: '', expected: null as string | null })
const unsaid = ref('')
watch(
  () => props.open,
  open => {
    if (open) letter.to = props.slip.mail.lastTo ?? letter.to
    unsaid.value = ''
  },
)
function send() {
  unsaid.value = unread.value ?? ''
  if (!unsaid.value) emit('send', { ...letter })
}
</script>
<template>
  <AskDialog :open="open" :title="`Mail it to ${slip.name}`" @close="$emit('close')">
    <form class="grid gap-3" @submit.prevent="send">
      <p class="soft">
        The lines go out as text, with a PDF and a CSV.<template v-if="slip.state === 'open'">
          From then on it is asked for.</template
        >
      </p>
      <label
        ><span class="label">Address</span
        ><input v-model="letter.to" class="field" type="email" autocomplete="off" placeholder="orders@example.org"
      /></label>
      <div v-if="slip.state === 'open'">
        <span class="label">Expected</span
        ><DateField v-model="letter.expected" label="Expected" near="not known" class="w-40" />
      </div>
      <p v-if="unsaid || wrong" class="error" role="alert">{{ unsaid || wrong }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act" v-wants="!letter.to.trim() ? 'Whom does the letter go to?' : ''">Send it</button
        ><button type="button" class="btn" @click="$emit('close')">Not yet</button>
      </div>
    </form>
  </AskDialog>
</template>
