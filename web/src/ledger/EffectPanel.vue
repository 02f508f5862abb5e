<script setup lang="ts">
/** The shelf as it will be: for each line before → after, its level, lots and money. The focused line comes first. */
import { computed } from 'vue'
import type { EffectLine, SlipKind } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useParties } from '../places/parties.ts'
import LevelBar from '../ui/LevelBar.vue'
import EffectFrom from './EffectFrom.vue'
import StateDisc from '../ui/StateDisc.vue'
import FigureOf from '../ui/FigureOf.vue'
import { STATE_WORDS, useFormat } from '../ui/format.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ kind: SlipKind }>()
const slip = useSlip()
const parties = useParties()
const index = useIndex()
const session = useSession()
const f = useFormat()
const key = (l: EffectLine) => `${l.item}${l.place}${l.from?.place ?? ''}`
/** Lines about one item and place share one picture. */
const shown = computed<EffectLine[]>(() => {
  const seen = new Map<string, EffectLine>()
  for (const l of slip.effect?.lines ?? []) if (!seen.has(key(l)) || l.line === slip.focused) seen.set(key(l), l)
  const all = [...seen.values()]
  const first = all.find(l => l.line === slip.focused)
  return first ? [first, ...all.filter(l => l !== first)] : all
})
/** Whom the line goes straight to: it never lies on the shelf. */
const straight = (l: EffectLine) => {
  const d = props.kind === 'receipt' ? slip.content.lines.find(x => x.id === l.line)?.direct : null
  return d ? [parties.nameOf(d), d.person].filter(Boolean).join(', ') : ''
}
const name = (id: string) => index.byId.get(id)?.name ?? ''
const after = (l: EffectLine) => {
  if (l.after.state === 'over') return `Over target by ${f.number(l.after.over)} ${l.unit}`
  return STATE_WORDS[l.after.state]
}
</script>
<template>
  <div>
    <div class="flex flex-wrap justify-between gap-2 mb-1">
      <h2>On the shelf, once this is booked</h2>
      <p class="soft text-[12px] flex gap-3 flex-wrap">
        <span><i class="key solid" />available</span><span><i class="key this" />this slip</span
        ><span><i class="key locked" />not usable</span>
      </p>
    </div>
    <p v-if="slip.effect?.refusals.some(r => r.code !== 'witness_wanted')" class="text-[13px] text-straw mb-1">
      Some lines cannot be booked yet; the others show how it would be now.
    </p>
    <p v-for="n in slip.effect?.notes ?? []" :key="n" class="notice mb-2" role="status">{{ n }}</p>
    <ul aria-live="polite">
      <li
        v-for="l in shown"
        :key="key(l)"
        class="py-3 border-t border-hair"
        :class="{ focused: l.line === slip.focused }"
      >
        <div class="flex justify-between gap-3 figures">
          <span class="font-semibold">{{ name(l.item) }}</span><span class="mono whitespace-nowrap"
            ><FigureOf
              figure="on-hand"
              :ask="slip.working(l.line, 'on-hand', 'before')"
              :label="`On hand before, ${name(l.item)}`"
              >{{ f.number(l.before.onHand) }}</FigureOf
            >
            →
            <b
              ><FigureOf
                figure="on-hand"
                :ask="slip.working(l.line, 'on-hand')"
                :label="`On hand after, ${name(l.item)}`"
                >{{ f.number(l.after.onHand) }}</FigureOf
              ></b
            >
            {{ l.unit }}</span
          >
        </div>
        <p v-if="straight(l)" class="text-[13px]">
          goes straight to <b>{{ straight(l) }}</b>, never on the shelf<template v-if="l.value && session.seeValue"
            >: <span class="mono">{{ f.amount(l.value) }}</span> charged</template
          >
        </p>
        <template v-else>
          <LevelBar :levels="l.after" :before="l.before" class="my-1" />
          <div class="flex justify-between gap-3 text-[13px] flex-wrap figures">
            <span class="flex flex-wrap items-center gap-x-1"
              ><StateDisc :state="l.before.state" bare /><FigureOf
                figure="state"
                :ask="slip.working(l.line, 'state', 'before')"
                :label="`State before, ${name(l.item)}`"
                >{{ STATE_WORDS[l.before.state] }}</FigureOf
              ><template v-if="l.after.state !== l.before.state"
                ><span class="soft">→</span> <StateDisc :state="l.after.state" bare /><FigureOf
                  figure="state"
                  :ask="slip.working(l.line, 'state')"
                  :label="`State after, ${name(l.item)}`"
                  >{{ after(l) }}</FigureOf
                ></template
              ></span
            >
            <span v-if="l.cost && l.cost.after" class="soft"
              >cost
              <FigureOf figure="unit-cost" :ask="slip.working(l.line, 'unit-cost')" label="Cost of one after"
                ><span class="mono"
                  >{{
                    l.cost.before && f.money(l.cost.before) !== f.money(l.cost.after)
                      ? `${f.money(l.cost.before)} → `
                      : ''
                  }}{{ f.money(l.cost.after) }}</span
                ></FigureOf
              ></span
            >
          </div>
          <p v-if="l.provisional && session.seeValue" class="text-[12px] text-straw">
            no price yet: valued at what is known, put right when it is priced
          </p>
          <p v-if="l.after.minimum !== null" class="text-[12px] soft">
            minimum {{ f.number(l.after.minimum)
            }}<template v-if="l.after.target">, target {{ f.number(l.after.target) }}</template> · {{ l.placeName
            }}<template v-if="l.after.days !== null && l.after.state !== 'out'">
              ·
              <FigureOf
                figure="days"
                :ask="slip.working(l.line, 'days')"
                :label="`How long ${name(l.item)} lasts after`"
                >lasts {{ l.after.days }} day{{ l.after.days === 1 ? '' : 's' }}</FigureOf
              ></template
            >
          </p>
          <p v-else class="text-[12px] soft">{{ l.placeName }}, no levels set</p>
        </template>
        <EffectFrom v-if="l.from" :line="l" :from="l.from" :name="name(l.item)" />
      </li>
    </ul>
  </div>
</template>
<style scoped>
.key {
  display: inline-block;
  width: 14px;
  height: 9px;
  border-radius: 2px;
  margin-right: 5px;
}
.solid {
  background: var(--kelp);
}
.this {
  background: var(--this);
}
.locked {
  background: repeating-linear-gradient(135deg, var(--kelp) 0 2px, var(--track) 2px 5px);
}
.focused {
  background: var(--frost);
  margin: 0 -8px;
  padding-left: 8px;
  padding-right: 8px;
  border-radius: 6px;
}
/* Fingers need room between figures that open. */
@media (pointer: coarse) {
  .figures {
    min-height: 48px;
    align-items: center;
  }
  li > p:has(.figure),
  li :deep(p:has(.figure)) {
    min-height: 48px;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 6px;
  }
}
</style>
