<script setup lang="ts">
/** What a move leaves where it takes from: before → after there, so that one shelf is not filled by emptying another unseen. */
import type { EffectLine } from '@shelve/contract'
import FigureOf from '../ui/FigureOf.vue'
import { STATE_WORDS, useFormat } from '../ui/format.ts'
import LevelBar from '../ui/LevelBar.vue'
import StateDisc from '../ui/StateDisc.vue'
import { useSlip } from './slip-store.ts'

defineProps<{ line: EffectLine; from: NonNullable<EffectLine['from']>; name: string }>()
const f = useFormat()
const slip = useSlip()
const SIDES = ['before', 'after'] as const
</script>
<template>
  <div class="mt-2" :aria-label="`${name}, taken from ${from.placeName}`" role="group">
    <div class="flex justify-between gap-3 text-[13px] figures">
      <span>taken from {{ from.placeName }}</span
      ><span class="mono whitespace-nowrap"
        ><template v-for="side in SIDES" :key="side"
          ><template v-if="side === 'after'"> → </template
          ><component :is="side === 'after' ? 'b' : 'span'"
            ><FigureOf
              figure="on-hand"
              :ask="slip.working(line.line, 'on-hand', side, true)"
              :label="`On hand ${side}, ${name} in ${from.placeName}`"
              >{{ f.number(from[side].onHand) }}</FigureOf
            ></component
          ></template
        >
        {{ line.unit }}</span
      >
    </div>
    <LevelBar :levels="from.after" :before="from.before" class="my-1" />
    <p class="flex flex-wrap items-center gap-x-1 text-[13px] figures">
      <template v-for="side in SIDES" :key="side"
        ><template v-if="side === 'before' || from.after.state !== from.before.state"
          ><span v-if="side === 'after'" class="soft">→</span><StateDisc :state="from[side].state" bare /><FigureOf
            figure="state"
            :ask="slip.working(line.line, 'state', side, true)"
            :label="`State ${side}, ${name} in ${from.placeName}`"
            >{{ STATE_WORDS[from[side].state] }}</FigureOf
          ></template
        ></template
      ><span v-if="from.after.minimum !== null" class="soft text-[12px]"
        >· minimum {{ f.number(from.after.minimum)
        }}<template v-if="from.after.target">, target {{ f.number(from.after.target) }}</template></span
      >
    </p>
  </div>
</template>
<style scoped>
/* Fingers need room between figures that open. */
@media (pointer: coarse) {
  .figures {
    min-height: 48px;
    align-items: center;
  }
}
</style>
