<script setup lang="ts">
/** What mostly stands on such a slip here: each is one click away. What is on the slip already is not offered again. */
import { computed, ref, watch } from 'vue'
import type { IndexItem, Often, SlipKind } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ kind: SlipKind }>()
const emit = defineEmits<{ pick: [item: IndexItem, unit: string | null]; /** It is known what that is. */ came: [] }>()
const slip = useSlip()
const index = useIndex()
const rows = ref<Often[]>([])
const asked = computed(() => {
  const { place, head } = slip.content
  return place
    ? query({
        kind: props.kind,
        place,
        job: head.job,
        costCentre: head.costCentre,
        supplier: props.kind === 'receipt' ? head.supplier.trim() : null,
      })
    : null
})
const answered = ref(false)
// They stand there with their names.
watch(
  () => answered.value && index.there,
  known => known && emit('came'),
)
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  asked,
  () => {
    clearTimeout(timer)
    if (asked.value === null) {
      rows.value = []
      return
    }
    // Whoever types a name means it when they have stopped.
    const mine = asked.value
    timer = setTimeout(async () => {
      const got = await get<{ rows: Often[] }>(`/api/often${mine}`).catch(() => ({ rows: [] }))
      if (mine === asked.value) rows.value = got.rows
      answered.value = true
    }, 150)
  },
  { immediate: true },
)
const shown = computed(() => {
  const there = new Set(slip.content.lines.map(l => l.item))
  return rows.value.flatMap(r => {
    const item = index.byId.get(r.item)
    const unit = item?.packs.some(p => p.name === r.unit) ? r.unit : null
    return item && !there.has(item.id) ? [{ item, unit }] : []
  })
})
</script>
<template>
  <div
    v-if="shown.length"
    class="flex flex-wrap gap-2 mt-2.5 items-center"
    role="group"
    aria-label="Often written here"
  >
    <span class="soft text-[13px]">Often:</span>
    <button
      v-for="s in shown"
      :key="s.item.id"
      type="button"
      class="btn btn-small btn-name"
      @click="emit('pick', s.item, s.unit)"
    >
      {{ s.item.name }}
    </button>
  </div>
</template>
