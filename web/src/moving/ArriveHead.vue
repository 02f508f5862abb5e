<script setup lang="ts">
/** Of what arrives: by which slip it was sent, from where, and all of it at once. */
import { computed, ref, watch } from 'vue'
import type { TransferView } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { useSlip } from '../ledger/slip-store.ts'
import { useFormat } from '../ui/format.ts'

const slip = useSlip()
const f = useFormat()
const sent = ref<TransferView | null>(null)
const asks = newest()
watch(
  () => slip.content.head.sent,
  async id => {
    const still = asks()
    const came = id ? await get<TransferView>(`/api/transfers/${id}`) : null
    if (still()) sent.value = came
  },
  { immediate: true },
)
const open = computed(() => slip.content.lines.filter(l => l.asked && !l.typed.trim()))
function all() {
  for (const l of open.value) l.typed = l.asked
}
</script>
<template>
  <div v-if="sent" class="basis-full flex flex-wrap gap-3 items-center justify-between">
    <p>
      Sent from <b>{{ sent.from.name }}</b> by
      <RouterLink class="go mono touch" :to="{ name: 'transfer', params: { id: sent.id } }">{{
        sent.number
      }}</RouterLink>, {{ f.when(sent.sentAt) }}<template v-if="sent.carrier">, with {{ sent.carrier }}</template
      >. What is left empty stays on its way.
    </p>
    <button v-if="open.length" type="button" class="btn btn-small" @click="all">All of it has come</button>
  </div>
  <p v-else-if="!slip.content.head.sent" class="notice basis-full">
    Of which slip has it arrived? Choose it from
    <RouterLink class="go touch" :to="{ name: 'transfers' }">what is on the way</RouterLink>, or scan its paper.
  </p>
</template>
