<script setup lang="ts">
/** What is said of something that is sent: where it goes, with whom, and when it is to be there; as it went the last time. */
import { computed, ref, watch } from 'vue'
import type { UsualWay } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { useChoices } from '../shell/reading.ts'
import { useSlip } from '../ledger/slip-store.ts'
import DateField from '../ui/DateField.vue'
import { useFormat } from '../ui/format.ts'

const emit = defineEmits<{ done: [] }>()
const slip = useSlip()
const f = useFormat()
const head = computed(() => slip.content.head)
const { choices: goals } = useChoices<{ id: string; name: string }>('/api/transfers/goals')
const offered = computed(() => goals.value.filter(g => g.id !== slip.content.place))
/** The way it went the last time: taken where nothing else was said. */
const usual = ref<UsualWay | null>(null)
const dayOf = (days: number) => {
  const d = new Date(`${f.today()}T12:00:00Z`)
  d.setUTCDate(d.getUTCDate() + days)
  return d.toISOString().slice(0, 10)
}
watch(
  () => [slip.content.place, head.value.towards] as const,
  async ([from, to], before) => {
    usual.value = null
    if (!from || !to) return
    const { way } = await get<{ way: UsualWay | null }>(`/api/transfers/usual${query({ from, to })}`)
    if (head.value.towards !== to || slip.content.place !== from) return
    usual.value = way
    // Where it goes was just chosen, and nothing else is said yet.
    if (!way || before === undefined || head.value.carrier || head.value.due) return
    head.value.carrier = way.carrier
    head.value.due = way.days === null ? null : dayOf(way.days)
  },
  { immediate: true },
)
const refused = (field: string) => slip.tried && slip.headRefusals.some(r => r.field === field)
</script>
<template>
  <label class="flex-1 min-w-44"
    ><span class="label">Where it goes</span
    ><select
      v-model="head.towards"
      class="field field-small"
      data-for
      :aria-invalid="refused('towards') || undefined"
      @keydown.enter.prevent="emit('done')"
    >
      <option :value="null">choose</option>
      <option v-for="g in offered" :key="g.id" :value="g.id">{{ g.name }}</option>
      <option v-if="head.towards && !offered.some(g => g.id === head.towards)" :value="head.towards">
        {{ goals.length ? 'a place that is not offered' : '…' }}
      </option>
    </select></label
  >
  <label class="flex-1 min-w-40"
    ><span class="label">With whom it travels</span
    ><input
      v-model="head.carrier"
      class="field field-small"
      placeholder="somebody, a boat, the post"
      maxlength="200"
      autocomplete="off"
      @keydown.enter.prevent="emit('done')"
  /></label>
  <div>
    <span class="label">To be there on</span
    ><DateField v-model="head.due" class="block w-32" label="To be there on" :invalid="refused('due')" />
  </div>
</template>
