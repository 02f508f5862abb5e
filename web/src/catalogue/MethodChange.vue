<script setup lang="ts">
/** Changes the cost method of an item of which something lies there: a slip of its own, looked at before it is booked. */
import { computed, reactive, ref, watch } from 'vue'
import type { Effect, Item, SlipContentInput } from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { useStrip } from '../shell/strip.ts'
import { bookSlip } from '../ledger/book-slip.ts'
import { v7 } from '../shell/uuid.ts'
import AskDialog from '../ui/AskDialog.vue'
import { METHOD_WORDS, useFormat } from '../ui/format.ts'
import NumberField from '../ui/NumberField.vue'

const props = defineProps<{ open: boolean; item: string; name: string; unit: string; method: Item['method'] }>()
const emit = defineEmits<{ close: []; changed: [method: Item['method'], revision: number] }>()
const strip = useStrip()
const f = useFormat()
const form = reactive({ method: '' as Item['method'] | '', standard: '', why: '' })
/** The standard cost alone is set anew. */
const same = computed(() => form.method === props.method)
const effect = ref<Effect | null>(null)
const trouble = ref('')
let id = v7()
let line = v7()
watch(
  () => props.open,
  o => {
    if (o) {
      Object.assign(form, { method: '', standard: '', why: '' })
      effect.value = null
      trouble.value = ''
      id = v7()
      line = v7()
    }
  },
)
const content = (): SlipContentInput => ({
  kind: 'method_change',
  head: { method: form.method || null, why: form.why },
  lines: [{ id: line, item: props.item, unitCost: form.method === 'standard' ? form.standard : '' }],
})
watch(form, async () => {
  if (!form.method) return
  try {
    effect.value = await call<Effect>('POST', `/api/slips/${id}/effect`, { body: content() })
    trouble.value = effect.value.refusals[0]?.message ?? ''
  } catch (e) {
    trouble.value = said(e)
  }
})
async function book() {
  try {
    const s = await bookSlip(id, { content: content(), seen: effect.value?.fingerprint ?? null })
    strip.say(
      same.value
        ? `${props.name} has another standard cost from now on: ${s.number}.`
        : `${props.name} is costed by ${METHOD_WORDS[form.method as Item['method']]} from now on: ${s.number}.`,
    )
    emit('changed', form.method as Item['method'], (await get<Item>(`/api/items/${props.item}`)).revision)
    emit('close')
  } catch (e) {
    trouble.value = e instanceof ApiProblem ? e.message : said(e)
  }
}
</script>
<template>
  <AskDialog :open="open" :title="`Cost method of ${name}`" @close="$emit('close')">
    <p v-if="same" class="soft mb-3">
      What lies there is worth the new standard cost at once; the rest is a price difference.
    </p>
    <p v-else class="soft mb-3">
      Now {{ METHOD_WORDS[method] }}. What lies there keeps its value; what was used before stays as it is. Quantities
      booked before this can then no longer be corrected, prices still can.
    </p>
    <label class="block mb-3"
      ><span class="label">From now on</span
      ><select v-model="form.method" class="field">
        <option value="">choose</option>
        <template v-for="(words, m) in METHOD_WORDS" :key="m"
          ><option v-if="m !== method || m === 'standard'" :value="m">
            {{ m === method ? 'another standard cost' : words }}
          </option></template
        >
      </select></label
    >
    <label v-if="form.method === 'standard'" class="block mb-3"
      ><span class="label">Standard cost of one {{ unit }}</span
      ><NumberField v-model="form.standard"
    /></label>
    <label class="block mb-3"><span class="label">Why</span><input v-model="form.why" class="field" /></label>
    <p v-if="effect?.ok && effect.lines[0]?.cost" class="mb-3">
      Cost of one:
      <span class="mono">{{ f.money(effect.lines[0].cost.before) }} → {{ f.money(effect.lines[0].cost.after) }}</span> ·
      value of stock <span class="mono">{{ effect.value === '0' ? 'stays' : f.amount(effect.value, true) }}</span>
    </p>
    <p v-if="trouble" class="error mb-3" role="alert">{{ trouble }}</p>
    <div class="flex gap-3">
      <button
        type="button"
        class="btn btn-act"
        v-wants="effect?.ok ? '' : (effect?.refusals[0]?.message ?? 'Choose another cost method first.')"
        @click="book"
      >
        {{ same ? 'Set the cost' : 'Change the method' }}</button><button
        type="button"
        class="btn"
        @click="$emit('close')"
      >
        Leave it
      </button>
    </div>
  </AskDialog>
</template>
