<script setup lang="ts">
/** Two throw it away: somebody else who was there shows it, by badge or by name and PIN, and sees what the slip says. */
import { ref } from 'vue'
import type { Said, SlipContentInput } from '@shelve/contract'
import { call, said } from '../shell/api.ts'
import { useScan } from '../scan/store.ts'

const props = defineProps<{ slip: string; content: () => SlipContentInput | Said; message: string }>()
const emit = defineEmits<{ /** Somebody was there. */ shown: [name: string] }>()
const scan = useScan()
const name = ref('')
const pin = ref('')
const wrong = ref('')
const busy = ref(false)
const coarse = matchMedia('(pointer: coarse)').matches
async function show(who: { badge: string } | { signIn: string; pin: string }) {
  if (busy.value) return
  busy.value = true
  wrong.value = ''
  try {
    const there = await call<{ name: string }>('POST', `/api/slips/${props.slip}/witness`, {
      body: { content: props.content(), who },
    })
    emit('shown', there.name)
  } catch (e) {
    wrong.value = said(e)
    pin.value = ''
  } finally {
    busy.value = false
  }
}
scan.wantsBadge(async badge => {
  await show({ badge })
  return true
})
</script>
<template>
  <section class="border border-straw rounded p-4" aria-label="Who was there">
    <p class="mb-1" role="alert">
      <b>{{ message }}</b>
    </p>
    <p class="soft text-[13px] mb-3">Scan their badge, or let them type the name they sign in with and their PIN.</p>
    <form class="flex flex-wrap gap-3 items-end" @submit.prevent="show({ signIn: name, pin })">
      <label class="grow min-w-36"
        ><span class="label">They sign in as</span
        ><input v-model="name" class="field field-small" autocomplete="off" autocapitalize="none"
      /></label>
      <label class="w-28"
        ><span class="label">Their PIN</span
        ><input
          v-model="pin"
          type="password"
          class="field field-small mono"
          autocomplete="off"
          :inputmode="coarse ? 'numeric' : 'text'"
          maxlength="8"
      /></label>
      <button
        class="btn btn-small"
        :disabled="busy"
        v-wants="!name ? 'Who was there?' : pin.length < 4 ? 'A PIN has four digits or more.' : ''"
      >
        I was there
      </button>
    </form>
    <p v-if="wrong" class="error mt-2" role="alert">{{ wrong }}</p>
  </section>
</template>
