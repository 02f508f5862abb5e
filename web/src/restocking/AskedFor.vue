<script setup lang="ts">
/** Marks a restock slip as asked for: how, when, under which number, and when it is expected. */
import { reactive, ref, watch } from 'vue'
import type { RestockView } from '@shelve/contract'
import AskDialog from '../ui/AskDialog.vue'
import DateField from '../ui/DateField.vue'
import MomentField from '../ui/MomentField.vue'
import { unread } from '../ui/unread.ts'

const props = defineProps<{ open: boolean; slip: RestockView; wrong: string }>()
const emit = defineEmits<{
  close: []
  ask: [how: { where: string; at: string | null; number: string; expected: string | null }]
}>()
const asked = reactive({ where: '', at: null as string | null, number: '', expected: null as string | null })
// As the same source was asked the last time.
watch(
  () => props.open,
  open => {
    if (open) asked.where ||= props.slip.lastWhere ?? ''
  },
)
const unsaid = ref('')
function ask() {
  unsaid.value = unread.value ?? ''
  if (!unsaid.value) emit('ask', { ...asked })
}
</script>
<template>
  <AskDialog :open="open" :title="`Asked for, of ${slip.name}`" @close="$emit('close')">
    <form class="grid gap-3" @submit.prevent="ask">
      <label
        ><span class="label">How, or where</span
        ><input
          v-model="asked.where"
          v-focus
          class="field"
          list="wheres"
          placeholder="by telephone, on their page, by mail" /><datalist id="wheres">
          <option
            v-for="x in ['by telephone', 'on their page', 'by mail', 'at the counter']"
            :key="x"
            :value="x"
          /></datalist
      ></label>
      <div><span class="label">When</span><MomentField v-model="asked.at" label="Asked for" /></div>
      <label
        ><span class="label">Their number, if there is one</span
        ><input v-model="asked.number" v-code class="field mono"
      /></label>
      <div>
        <span class="label">Expected</span
        ><DateField v-model="asked.expected" label="Expected" near="not known" class="w-40" />
      </div>
      <p v-if="unsaid || wrong" class="error" role="alert">{{ unsaid || wrong }}</p>
      <div class="flex gap-3">
        <button class="btn btn-act" v-wants="!asked.where.trim() ? 'Say where it was asked for.' : ''">
          It is asked for</button
        ><button type="button" class="btn" @click="$emit('close')">Not yet</button>
      </div>
    </form>
  </AskDialog>
</template>
