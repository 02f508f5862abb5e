<script setup lang="ts">
/** Somebody shows who they are on a device of somebody else, by name and PIN. */
import { ref } from 'vue'

defineProps<{ nameLabel: string; pinLabel: string; nobody: string; action: string; small?: boolean; busy?: boolean }>()
const emit = defineEmits<{ shown: [who: { signIn: string; pin: string }] }>()
const name = ref('')
const pin = ref('')
const coarse = matchMedia('(pointer: coarse)').matches
/** What was typed was wrong: the name stays. */
const again = () => {
  pin.value = ''
}
const forget = () => {
  name.value = pin.value = ''
}
defineExpose({ again, forget })
</script>
<template>
  <form class="flex flex-wrap gap-3 items-end" @submit.prevent="emit('shown', { signIn: name, pin })">
    <label class="grow min-w-36"
      ><span class="label">{{ nameLabel }}</span
      ><input v-model="name" class="field" :class="{ 'field-small': small }" autocomplete="off" autocapitalize="none"
    /></label>
    <label class="w-32"
      ><span class="label">{{ pinLabel }}</span
      ><input
        v-model="pin"
        type="password"
        class="field mono"
        :class="{ 'field-small': small }"
        autocomplete="off"
        :inputmode="coarse ? 'numeric' : 'text'"
        maxlength="8"
    /></label>
    <button
      class="btn"
      :class="small ? 'btn-small' : 'btn-act'"
      :disabled="busy"
      v-wants="!name ? nobody : pin.length < 4 ? 'A PIN has four digits or more.' : ''"
    >
      {{ action }}
    </button>
  </form>
</template>
