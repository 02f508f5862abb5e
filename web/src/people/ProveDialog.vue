<script setup lang="ts">
/** A manager who came by badge or PIN shows that it is they: then what a manager may do is open on this device. */
import { ref, watch } from 'vue'
import { said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import AskDialog from '../ui/AskDialog.vue'

const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const password = ref('')
const wrong = ref('')
watch(
  () => props.open,
  () => {
    password.value = wrong.value = ''
  },
)
async function prove() {
  try {
    await session.signIn(session.me!.person.signIn, password.value)
    emit('close')
    location.reload()
  } catch (e) {
    wrong.value = said(e)
    password.value = ''
  }
}
</script>
<template>
  <AskDialog :open="open" title="Work as manager" @close="$emit('close')">
    <p class="soft mb-3">
      By badge or PIN you work as keeper. With your password you may set up, close months and overrule, as always.
    </p>
    <form class="flex flex-wrap gap-3 items-end" @submit.prevent="prove">
      <label class="grow min-w-44"
        ><span class="label">Password of {{ session.me?.person.name }}</span
        ><input v-model="password" v-focus type="password" class="field" autocomplete="current-password"
      /></label>
      <button class="btn btn-act" v-wants="!password ? 'Type your password.' : ''">Work as manager</button>
    </form>
    <p v-if="wrong" class="error mt-3" role="alert">{{ wrong }}</p>
  </AskDialog>
</template>
