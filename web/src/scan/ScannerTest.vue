<script setup lang="ts">
/** Shows what a scanner sends: whether it arrives whole, how fast, with which ending, and whether the keyboard's layout fits. */
import { computed, onUnmounted, ref, shallowRef } from 'vue'
import { readGs1, readOwnCode } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import { listenToBursts, type Burst } from './scanner.ts'

/** Letters that move between keyboard layouts, marks, and a separator between two elements. */
const TEST = '(01)09520123456788(10)AZ-QWYM/7'
const session = useSession()
const burst = shallowRef<Burst | null>(null)
const drawn = ref('')
void import('bwip-js/browser').then(({ toSVG }) => {
  drawn.value = `data:image/svg+xml;utf8,${encodeURIComponent(toSVG({ bcid: 'gs1-128', text: `${TEST}(21)S1`, height: 10, scale: 2, paddingwidth: 4 }))}`
})
onUnmounted(
  listenToBursts(b => {
    burst.value = b
  }),
)
const shown = computed(() => burst.value?.code.replaceAll('\x1d', '␝') ?? '')
const findings = computed(() => {
  const b = burst.value
  if (!b) return []
  const out: { ok: boolean; text: string }[] = []
  const plain = b.code.replace(/^\][A-Za-z]\d/, '')
  out.push({ ok: b.slowest <= 50, text: `${b.code.length} signs, ${b.slowest.toFixed(0)} ms between keys at most` })
  out.push({ ok: true, text: `ends with ${b.end}` })
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
  const gs1 = readGs1(
    b.code,
    new Intl.DateTimeFormat('en-CA', { timeZone: session.settings.zone }).format(session.now()),
  )
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
    <img
      v-if="drawn"
      :src="drawn"
      alt="Test barcode with letters, marks and a separator"
      class="bg-white w-full h-20 object-contain mb-3"
    />
    <p v-if="shown" class="mono break-all mb-2">{{ shown }}</p>
    <ul role="status">
      <li v-for="x in findings" :key="x.text" :class="x.ok ? '' : 'error'" class="py-0.5">
        {{ x.ok ? 'Good:' : 'Look:' }} {{ x.text }}
      </li>
    </ul>
    <p v-if="!shown" class="soft">Nothing yet.</p>
  </section>
</template>
