<script setup lang="ts">
/** Another person takes over this tablet: by badge, or by name and PIN. What was being written stays with whoever wrote it. */
import { ref, useTemplateRef, watch } from 'vue'
import { said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import AskDialog from '../ui/AskDialog.vue'
import ByPin from './ByPin.vue'

const props = defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()
const session = useSession()
const form = useTemplateRef<InstanceType<typeof ByPin>>('form')
const wrong = ref('')
watch(
  () => props.open,
  () => {
    wrong.value = ''
    form.value?.forget()
  },
)
async function take(who: { signIn: string; pin: string }) {
  try {
    await session.changeHands(who)
  } catch (e) {
    wrong.value = said(e)
    form.value?.again()
  }
}
</script>
<template>
  <AskDialog :open="open" title="Who takes over?" @close="$emit('close')">
    <p class="soft mb-3">
      Scan your badge, or type the name you sign in with and your PIN. What {{ session.me?.person.name }} was writing is
      kept for them.
    </p>
    <ByPin
      ref="form"
      name-label="You sign in as"
      pin-label="PIN"
      nobody="Who takes over?"
      action="Take over"
      @shown="take"
    />
    <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
  </AskDialog>
</template>
