<script setup lang="ts">
/** A derived figure with a dotted underline: a press opens the slip of paper with the lines that add up to it. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { computed, nextTick, ref } from 'vue'
import type { WorkingView } from '@shelve/contract'
import { get, query, said } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { LABEL_WORDS, useFormat } from './format.ts'

const props = defineProps<{
  figure:
    | 'on-hand'
    | 'available'
    | 'unit-cost'
    | 'value'
    | 'difference'
    | 'state'
    | 'value-here'
    | 'bring'
    | 'days'
    | 'first-expiry'
    | 'stock-value'
    | 'slip-value'
    | 'on-the-way'
    | 'expected'
  slip?: string | undefined
  item?: string | undefined
  place?: string | null | undefined
  difference?: string | undefined
  label: string
  /** Large enough to hit where other things stand close. */ roomy?: boolean
  /** There is no such figure here; in a long list it is hidden then, not made and unmade. */ none?: boolean
  /** Where the figure is of something not booked yet: who knows its working. */ ask?:
    (() => Promise<WorkingView>) | undefined
}>()
const f = useFormat()
const open = ref(false)
/** A dialog costs something even while it is shut, and a list has hundreds of figures: it is there from its first opening on. */
const asked = ref(false)
const button = ref<HTMLButtonElement | null>(null)
/** The focus goes back to the figure it came from. */
function close() {
  open.value = false
  setTimeout(() => void nextTick(() => button.value?.focus()), 0)
}
const working = ref<WorkingView | null>(null)
const wrong = ref('')
const asks = newest()
async function show() {
  asked.value = open.value = true
  wrong.value = ''
  working.value = null
  const still = asks()
  try {
    const came = props.ask
      ? await props.ask()
      : await get<WorkingView>(
          `/api/workings/${props.figure}${query({ item: props.item, place: props.place, difference: props.difference, slip: props.slip })}`,
        )
    if (still()) working.value = came
  } catch (e) {
    if (still()) wrong.value = said(e)
  }
}
const places = computed(() => f.placesOf([...(working.value?.lines.map(l => l.amount) ?? []), working.value?.figure]))
const shown = (t: string) =>
  working.value?.of === 'quantity' ? f.aligned(t, places.value) : f.aligned(t, Math.max(places.value, 2))
</script>
<template>
  <button
    v-show="!none"
    ref="button"
    type="button"
    class="figure"
    :class="{ 'min-h-6': roomy }"
    :aria-label="`${label}: how it is worked out`"
    @click.stop="show"
  >
    <slot />
  </button>
  <Dialog v-if="asked" :open="open" class="relative z-40" @close="close">
    <div class="fixed inset-0" style="background: var(--shade)" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="slip w-full max-w-md max-h-[85vh] overflow-y-auto p-5">
        <DialogTitle class="font-bold text-[16px] mb-3">{{ working?.title ?? label }}</DialogTitle>
        <p v-if="wrong" class="error">{{ wrong }}</p>
        <table v-if="working" class="list">
          <tbody>
            <tr v-for="(l, i) in working.lines" :key="i">
              <td>
                {{ LABEL_WORDS[l.label] ?? l.label }}
                <RouterLink
                  v-if="l.slip"
                  class="go mono"
                  :to="{ name: 'slip', params: { id: l.slip.id } }"
                  @click="open = false"
                  >{{ l.slip.number }}</RouterLink
                >
                <div v-if="l.note || l.at" class="soft text-[12px]">
                  {{ l.note }}<template v-if="l.note && l.at"> · </template>{{ l.at ? f.when(l.at) : '' }}
                </div>
              </td>
              <td class="num">{{ shown(l.amount) }}</td>
            </tr>
            <tr class="font-bold">
              <td>Together, in {{ working.unit }}</td>
              <td class="num">{{ shown(working.figure) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="working?.note" class="soft text-[13px] mt-3">{{ working.note }}</p>
        <button type="button" class="btn mt-4" @click="close">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
