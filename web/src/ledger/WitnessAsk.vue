<script setup lang="ts">
/** Two throw it away: somebody else who was there shows it, by badge or by name and PIN, and sees what the slip says. */
import { ref, useTemplateRef } from 'vue'
import type { Said, SlipContentInput } from '@shelve/contract'
import { call, said } from '../shell/api.ts'
import ByPin from '../people/ByPin.vue'
import { useScan } from '../scan/store.ts'

const props = defineProps<{ slip: string; content: () => SlipContentInput | Said; message: string }>()
const emit = defineEmits<{ /** Somebody was there. */ shown: [name: string] }>()
const scan = useScan()
const form = useTemplateRef<InstanceType<typeof ByPin>>('form')
const wrong = ref('')
const busy = ref(false)
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
    form.value?.again()
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
    <ByPin
      ref="form"
      small
      name-label="They sign in as"
      pin-label="Their PIN"
      nobody="Who was there?"
      action="I was there"
      :busy="busy"
      @shown="show"
    />
    <p v-if="wrong" class="error mt-2" role="alert">{{ wrong }}</p>
  </section>
</template>
