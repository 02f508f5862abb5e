<script setup lang="ts">
/** What lies ready is fetched: by whom. */
import { ref } from 'vue'
import { post, said } from '../shell/api.ts'
import { useStrip } from '../shell/strip.ts'

const props = defineProps<{ id: string; name: string }>()
const emit = defineEmits<{ said: [] }>()
const strip = useStrip()
const open = ref(false)
const by = ref('')
async function say() {
  if (!by.value.trim()) return
  try {
    await post(`/api/picks/${props.id}/fetched`, { by: by.value })
    strip.say(`${by.value.trim()} has fetched ${props.name}.`, 'good')
    emit('said')
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <form v-if="open" class="flex gap-2 items-center justify-end" @submit.prevent="say" @keydown.esc="open = false">
    <input
      v-model="by"
      v-focus
      class="field field-small w-36!"
      aria-label="Who fetched it"
      placeholder="Who fetched it"
      maxlength="200"
    />
    <button class="btn btn-small btn-act" v-wants="by.trim() ? '' : 'Who fetched it?'">Fetched</button>
  </form>
  <button v-else type="button" class="btn btn-small" @click="open = true">It is fetched</button>
</template>
