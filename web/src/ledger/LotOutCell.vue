<script setup lang="ts">
/** Of which lot a line goes out: chosen among those that lie here, by hand or by what stands on its label. */
import { computed, ref, watch } from 'vue'
import type { EffectLine, IndexItem, LotView, SlipKind, SlipLine } from '@shelve/contract'
import { get, query } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'
import { wayOf } from './kind.ts'
import { KINDS } from './kinds.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{
  line: SlipLine
  kind: SlipKind
  item: IndexItem | undefined
  /** Which lots it will be of, as it was judged. */ taken: EffectLine['lots']
}>()
const slip = useSlip()
const session = useSession()
const f = useFormat()
const way = computed(() => wayOf(KINDS[props.kind]!, props.line))
/** Whether they have come: until then their list keeps its room. */
const lotsCame = ref(false)
const lots = ref<LotView[]>([])
const asks = newest()
watch(
  () => [props.line.item, way.value.lot, slip.content.place, slip.effect?.seq],
  async () => {
    const still = asks()
    if (way.value.lot !== 'out' || !props.line.item || props.item?.identifiedBy === 'quantity') {
      lots.value = []
      return
    }
    const { rows } = await get<{ rows: LotView[] }>(
      `/api/items/${props.line.item}/lots${query({ place: slip.content.place })}`,
    )
    if (!still()) return
    // What is open already is not opened.
    lots.value = way.value.opens ? rows.filter(l => l.opened === null) : rows
    lotsCame.value = true
  },
  { immediate: true },
)
const lotOut = computed({
  get: () => props.line.lot?.id ?? '',
  set: v => {
    const l = lots.value.find(x => x.id === v)
    props.line.lot = l ? { id: l.id, code: l.code ?? '', expiry: l.expiry } : null
  },
})
/** Going out, a lot is chosen among those that lie here: by what stands on its label. */
function lotChosen(code: string): boolean {
  const l = lots.value.find(x => x.code?.toUpperCase() === code.toUpperCase())
  if (l) lotOut.value = l.id
  return l !== undefined
}
/** Which lots it is of; what an opened one becomes stands where it is named. */
const lotsTold = computed(() => props.taken.filter(x => x.code).slice(0, way.value.opens ? 1 : undefined))
</script>
<template>
  <select
    v-if="lots.length || (!lotsCame && item && item.identifiedBy !== 'quantity')"
    v-model="lotOut"
    v-code="lotChosen"
    class="field field-small lot"
    :aria-label="`Lot of ${item?.name}`"
  >
    <option value="">first to go</option>
    <option v-if="lotOut && !lots.some(l => l.id === lotOut)" :value="lotOut">{{ line.lot?.code }}</option>
    <option v-for="l in lots" :key="l.id" :value="l.id">
      {{ l.code }} · {{ f.number(l.quantity)
      }}{{ l.state === 'usable' ? (l.expiry ? ` · ${f.date(l.expiry)}` : '') : ` · ${l.state}` }}
    </option>
  </select>
  <span v-else class="soft">—</span>
  <div v-for="l in lotsTold" :key="`${l.code}${l.place}`" class="mono text-[12px] soft told wrap-anywhere">
    {{ l.code }}: {{ f.number(l.quantity) }}<template v-if="l.expiry">, {{ f.date(l.expiry) }}</template>
  </div>
  <label
    v-if="session.mayOverride && props.kind === 'issue' && lots.some(l => l.id === lotOut && l.state !== 'usable')"
    class="flex gap-1 items-center text-[12px]"
    ><input v-model="line.override" type="checkbox" /> take it all the same</label
  >
</template>
<style scoped>
.lot {
  width: 118px;
  padding-left: 6px;
  padding-right: 4px;
}
/* As wide as what stands above it: the figures, which come later, make no column wider. */
.told {
  max-width: 118px;
}
</style>
