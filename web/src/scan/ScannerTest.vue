<script setup lang="ts">
/** Shows what a scanner sends: whether it arrives whole, how fast, with which ending, and whether the keyboard's layout fits. */
import { computed, onUnmounted, ref, shallowRef } from 'vue'
import { QUICK, SLOW, readGs1, readOwnCode, type ScannerHabit } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import { scannerHabit, setScannerHabit } from './device.ts'
import CodePicture from './CodePicture.vue'
import { listenToBursts, type Burst } from './scanner.ts'

/** Letters that move between keyboard layouts, marks, and a separator between two elements. */
const TEST = '(01)09520123456788(10)AZ-QWYM/7'
const session = useSession()
const burst = shallowRef<Burst | null>(null)
onUnmounted(
  listenToBursts(b => {
    burst.value = b
  }),
)
const shown = computed(() => burst.value?.code.replaceAll('\x1d', ' | ') ?? '')
const habit = ref(scannerHabit())
/** What the scanner sends before the code of the test, other than the sign for its kind. */
const before = computed(() => {
  const code = burst.value?.code ?? ''
  const at = code.search(/(\][A-Za-z]\d)?0109520123456788/)
  return at > 0 && at <= 4
    ? code.slice(0, at)
    : habit.value.prefix && code.startsWith(habit.value.prefix)
      ? habit.value.prefix
      : ''
})
/** What this scanner would have set that is not set yet. */
const fits = computed(() => {
  const b = burst.value
  if (!b?.end || b.pace > SLOW) return undefined
  const pace = b.pace > QUICK ? Math.round(b.pace) : null
  if (pace === null && !before.value) return undefined
  return { pace, prefix: before.value }
})
const known = computed(
  () =>
    fits.value?.prefix === habit.value.prefix &&
    (fits.value.pace === null || Math.abs(fits.value.pace - (habit.value.pace ?? 0)) <= fits.value.pace * 0.2),
)
function keep(h: ScannerHabit | null) {
  setScannerHabit(h)
  habit.value = scannerHabit()
}
const said = (h: ScannerHabit) =>
  [h.pace ? `${h.pace} ms a key` : '', h.prefix ? `“${h.prefix}” before each code` : ''].filter(Boolean).join(', ')
const findings = computed(() => {
  const b = burst.value
  if (!b) return []
  const out: { ok: boolean; text: string }[] = []
  const plain = b.code.slice(before.value.length).replace(/^\][A-Za-z]\d/, '')
  out.push({
    ok: b.pace <= QUICK,
    text: `${b.code.length} signs, ${b.pace.toFixed(0)} ms a key, ${b.slowest.toFixed(0)} ms at most${
      b.pace <= QUICK
        ? ''
        : b.pace <= SLOW
          ? ': slow. In a field, only codes with a check digit are known for a scan, unless its pace is set below'
          : ': too slow to be told from typing. Set the scanner to send its keys quicker'
    }`,
  })
  out.push(
    b.end
      ? { ok: true, text: `ends with ${b.end}` }
      : {
          ok: false,
          text: 'nothing ends it: set the scanner to send Enter after each code, or it is taken for typing',
        },
  )
  if (/^\][A-Za-z]\d/.test(b.code))
    out.push({ ok: true, text: `says what kind of barcode it was (${b.code.slice(0, 3)})` })
  if (plain.includes('AZ-QWYM/7'))
    out.push({ ok: true, text: 'letters and marks arrive as they stand: the layout fits' })
  else if (/0952012345678/.test(plain))
    out.push({ ok: false, text: 'letters or marks were exchanged: set the scanner to this keyboard’s layout' })
  if (/0952012345678/.test(plain))
    out.push(
      plain.includes('\x1d')
        ? { ok: true, text: 'separators between elements arrive' }
        : {
            ok: false,
            text: 'separators are lost: switch on “FNC1 as GS”, or codes with a lot of changing length cannot always be read',
          },
    )
  if (before.value) out.push({ ok: true, text: `“${before.value}” comes before each code` })
  const gs1 = readGs1(plain, session.day())
  if (gs1.ok && gs1.reading.gtin)
    out.push({ ok: true, text: `read as item ${gs1.reading.gtin}${gs1.reading.lot ? `, lot ${gs1.reading.lot}` : ''}` })
  else if (readOwnCode(plain)) out.push({ ok: true, text: 'a code of our own' })
  return out
})
</script>
<template>
  <section class="slip p-5">
    <h1 class="mb-1">Does the scanner speak plainly?</h1>
    <p class="soft mb-3">Scan this code, or any other. What arrives is shown here and not used.</p>
    <CodePicture
      :code="`${TEST}(21)S1`"
      :module="1"
      alt="Test barcode with letters, marks and a separator"
      class="max-w-full mb-3"
    />
    <p v-if="shown" class="mono break-all mb-2">{{ shown }}</p>
    <ul role="status">
      <li v-for="x in findings" :key="x.text" :class="x.ok ? '' : 'error'" class="py-0.5">
        {{ x.ok ? 'Good:' : 'Look:' }} {{ x.text }}
      </li>
    </ul>
    <p v-if="!shown" class="soft">Nothing yet.</p>
    <p v-if="fits && !known" class="mt-3">
      <button type="button" class="btn btn-small btn-act" @click="keep(fits)">Know it by {{ said(fits) }}</button>
      <span class="soft text-[13px] ml-2">On this device, for any code it sends, in any field.</span>
    </p>
    <p v-if="said(habit)" class="mt-3">
      This device knows its scanner by {{ said(habit) }}.
      <button type="button" class="btn btn-quiet btn-small" @click="keep(null)">Forget that</button>
    </p>
  </section>
</template>
