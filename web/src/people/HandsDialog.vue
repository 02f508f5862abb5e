<script setup lang="ts">
/** Another person takes over this tablet: by badge, or by name and PIN. What was being written stays with whoever wrote it. */
import { ref, watch } from 'vue'
import { said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import AskDialog from '../ui/AskDialog.vue'

const props = defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()
const session = useSession()
const name = ref('')
const pin = ref('')
const wrong = ref('')
watch(
  () => props.open,
  () => {
    name.value = pin.value = wrong.value = ''
  },
)
const coarse = matchMedia('(pointer: coarse)').matches
async function take() {
  try {
    await session.changeHands({ signIn: name.value, pin: pin.value })
  } catch (e) {
    wrong.value = said(e)
    pin.value = ''
  }
}
</script>
<template>
  <AskDialog :open="open" title="Who takes over?" @close="$emit('close')">
    <p class="soft mb-3">
      Scan your badge, or type the name you sign in with and your PIN. What {{ session.me?.person.name }} was writing is
      kept for them.
    </p>
    <form class="flex flex-wrap gap-3 items-end" @submit.prevent="take">
      <label class="grow min-w-36"
        ><span class="label">You sign in as</span
        ><input v-model="name" class="field" autocomplete="off" autocapitalize="none"
      /></label>
      <label class="w-32"
        ><span class="label">PIN</span
        ><input
          v-model="pin"
          type="password"
          class="field mono"
          autocomplete="off"
          :inputmode="coarse ? 'numeric' : 'text'"
          maxlength="8"
      /></label>
      <button
        class="btn btn-act"
        v-wants="!name ? 'Who takes over?' : pin.length < 4 ? 'A PIN has four digits or more.' : ''"
      >
        Take over
      </button>
    </form>
    <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
  </AskDialog>
</template>
