<script setup lang="ts">
/** The freight and fees of a booked delivery put right, or written down where it had none: what they change is shown before it is booked. */
import { nextTick, onMounted, ref, watch } from 'vue'
import type { SlipContentInput, SlipHead, SlipView } from '@shelve/contract'
import { useStrip } from '../shell/strip.ts'
import { useFormat } from '../ui/format.ts'
import ChargeFields from './ChargeFields.vue'
import { useTrial } from './trial.ts'
import { v7 } from '../shell/uuid.ts'

const props = defineProps<{ slip: SlipView; /** A line of it that stands. */ line: string }>()
const emit = defineEmits<{ done: []; leave: []; wrong: [message: string] }>()
const strip = useStrip()
const f = useFormat()
const own = v7()
const charges = ref<SlipHead['charges']>(
  props.slip.charges.map(c => ({ label: c.label, amount: c.amount ?? '', basis: c.basis })),
)
const was = JSON.stringify(charges.value)
if (!charges.value.length) charges.value.push({ label: 'Freight', amount: '', basis: 'value' })
const said = () => charges.value.filter(c => c.amount.trim())
const differs = ref(false)
const content = (): SlipContentInput => ({
  kind: 'correction',
  place: props.slip.place?.id ?? null,
  head: { corrects: props.slip.id, charges: said() },
  lines: [
    {
      id: own,
      ref: props.line,
      act: 'charges',
      item: props.slip.content!.lines.find(l => l.id === props.line)?.item ?? null,
    },
  ],
})
const { effect, look, forget, book } = useTrial(content, m => emit('wrong', m))
watch(
  charges,
  () => {
    forget()
    differs.value = JSON.stringify(said()) !== was
    if (differs.value) void look()
  },
  { deep: true },
)
const busy = ref(false)
async function bookIt() {
  if (!differs.value || busy.value) return
  busy.value = true
  const r = await book()
  busy.value = false
  if (!r) return
  strip.say(`Freight put right by ${r.number}.`)
  emit('done')
}
const root = ref<HTMLElement | null>(null)
onMounted(() => nextTick(() => root.value?.querySelector<HTMLInputElement>('[data-charge]')?.focus()))
</script>
<template>
  <form ref="root" class="bg-frost border-y border-hair px-6 py-4" @submit.prevent="bookIt">
    <h2 class="mb-2">Freight and fees of {{ slip.number }}</h2>
    <div class="flex flex-wrap gap-x-4 gap-y-3 items-end text-[13px]"><ChargeFields v-model="charges" /></div>
    <p v-if="effect?.ok && effect.value !== undefined" class="mt-3">
      What lies on the shelf changes by <b class="mono">{{ f.amount(effect.value, true) }}</b>; whoever used some of it
      since is charged the rest.
    </p>
    <p v-for="r in effect?.refusals ?? []" :key="r.code" class="error mt-2" role="alert">{{ r.message }}</p>
    <div class="flex flex-wrap gap-3 mt-3 items-center">
      <button
        class="btn btn-act"
        v-wants="!differs ? 'Nothing is changed yet.' : effect?.ok === false ? (effect.refusals[0]?.message ?? '') : ''"
        :disabled="busy"
      >
        Book it</button
      ><button type="button" class="btn" @click="$emit('leave')">Leave it</button>
    </div>
  </form>
</template>
