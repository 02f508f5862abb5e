<script setup lang="ts">
/** What the slip changes in the value of stock, at its foot. */
import type { SlipKind } from '@shelve/contract'
import { useSession } from '../shell/session.ts'
import FigureOf from '../ui/FigureOf.vue'
import { useFormat } from '../ui/format.ts'
import { useSlip } from './slip-store.ts'

const props = defineProps<{ kind: SlipKind }>()
const slip = useSlip()
const session = useSession()
const f = useFormat()
</script>
<template>
  <div class="text-right soft text-[13px]">
    <template v-if="session.seeValue && slip.effect && props.kind === 'receipt'">
      <div class="mono">
        Goods {{ f.money(slip.effect.goods)
        }}<template v-if="slip.effect.charges !== '0'"> · freight {{ f.money(slip.effect.charges) }}</template>
      </div>
      <div>
        <b class="mono text-ink text-[14px]"
          ><FigureOf figure="slip-value" :ask="slip.working(null, 'value')" label="What comes into stock">{{
            f.amount(slip.effect.value)
          }}</FigureOf></b
        >
        into stock
      </div>
    </template>
    <div v-else-if="session.seeValue && slip.effect?.value && slip.effect.value !== '0'">
      <b class="mono text-ink text-[14px]"
        ><FigureOf
          figure="slip-value"
          :ask="slip.working(null, 'value')"
          label="What it changes in the value of stock"
          >{{ f.amount(slip.effect.value, true) }}</FigureOf
        ></b
      >
      of stock
    </div>
  </div>
</template>
