import { watch } from 'vue'
import { deviceKeeps } from './drawer.ts'
import { useStrip } from './strip.ts'

/** Says once, on whatever screen, that the device does not keep what is typed. To be called in the set-up of the frame. */
export function sayWhatIsKept(): void {
  const strip = useStrip()
  watch(
    deviceKeeps,
    keeps => {
      if (!keeps)
        strip.say(
          'This device keeps nothing of what is typed: it is full, or told to keep nothing. All is well once a slip says “saved”.',
          'bad',
          [],
          20_000,
        )
    },
    { immediate: true },
  )
}
