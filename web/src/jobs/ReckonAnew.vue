<script setup lang="ts">
/** More or less comes of a make than its lines were reckoned for: what goes in follows, if whoever writes it wants that. */
import { computed, ref } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useSlip } from '../ledger/slip-store.ts'
import { get, query, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useStrip } from '../shell/strip.ts'
import { useFormat } from '../ui/format.ts'
import { amountOf, type AmountOf, otherThanReckoned, reckonedAnew } from './reckoned.ts'

const slip = useSlip()
const index = useIndex()
const strip = useStrip()
const f = useFormat()
const other = computed(() => {
  const { job, corrects } = slip.content.head
  if (!job || corrects) return undefined
  return otherThanReckoned(slip.content.lines, id => {
    const item = index.byId.get(id)
    return item && index.measure(item)
  })
})
const unit = computed(() => index.byId.get(other.value?.item ?? '')?.unit ?? '')
const asking = ref(false)
function say(amounts: ReadonlyMap<string, AmountOf>) {
  for (const l of slip.content.lines) Object.assign(l, amounts.get(l.id))
}
async function reckon() {
  const of = other.value
  if (!of || asking.value) return
  const { id } = slip
  asking.value = true
  try {
    const { lines, goesOn } = await get<{ lines: SlipLine[]; goesOn: boolean }>(
      `/api/jobs/${slip.content.head.job}/amounts${query({ typed: of.stands })}`,
    )
    // Another slip is open by now, or another number was typed meanwhile: that is not what was asked.
    if (slip.id !== id || other.value?.stands !== of.stands) return
    const { amounts, more, left } = reckonedAnew(slip.content.lines, lines, of.item)
    const were = new Map(slip.content.lines.map(l => [l.id, amountOf(l)]))
    const wentOn = slip.content.head.goesOn
    say(amounts)
    slip.content.head.goesOn = goesOn
    slip.content.lines.push(...more)
    const names = left.map(i => index.byId.get(i)?.name ?? '').join(', ')
    strip.say(
      `Reckoned for ${f.number(of.stands)} ${unit.value}.${names ? ` ${names} stands otherwise than its job takes it: that is as you typed it.` : ''}`,
      'good',
      [
        {
          label: 'As it was',
          run: () => {
            if (slip.id !== id) return
            say(were)
            slip.content.head.goesOn = wentOn
            for (const l of more) slip.remove(l.id)
          },
        },
      ],
    )
  } catch (e) {
    strip.say(said(e), 'bad')
  } finally {
    asking.value = false
  }
}
</script>
<template>
  <p v-if="other" class="px-5 pt-3 flex flex-wrap gap-2 items-center" role="status">
    <span class="soft">What goes in is reckoned for {{ f.number(other.asked) }} {{ unit }}.</span>
    <button type="button" class="btn btn-small" @click="reckon">
      Reckon it for {{ f.number(other.stands) }} {{ unit }}
    </button>
  </p>
</template>
