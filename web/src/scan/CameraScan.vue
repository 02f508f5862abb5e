<script setup lang="ts">
/** The camera as a scanner: what it sees goes where a scanner's burst would go. It stays open, so that shelf after shelf can be read. */
import { Camera } from '@lucide/vue'
import { onUnmounted, ref } from 'vue'
import AskDialog from '../ui/AskDialog.vue'
import { useScan } from './store.ts'

const scan = useScan()
const open = ref(false)
const wrong = ref('')
const last = ref('')
const video = ref<HTMLVideoElement>()
/** Only over TLS, or on the machine itself, does a browser hand out the camera. */
const possible = window.isSecureContext && 'mediaDevices' in navigator
let stream: MediaStream | undefined
let worker: Worker | undefined
let timer: ReturnType<typeof setTimeout> | undefined
/** One symbol held before the camera is one scan; seen again only after it was away, or something else was seen. */
let seen = { code: '', at: 0 }
const AWAY = 1500

async function begin() {
  wrong.value = last.value = ''
  open.value = true
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment', width: { ideal: 1280 } } })
    if (!open.value) {
      stop()
      return
    }
    worker = new Worker(new URL('./camera-worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = (m: MessageEvent<{ code: string | null; trouble?: string }>) => {
      took(m.data.code)
      if (m.data.trouble) wrong.value = 'The reader could not be started on this device.'
      timer = setTimeout(look, 90)
    }
    video.value!.srcObject = stream
    await video.value!.play()
    look()
  } catch (e) {
    wrong.value =
      (e as Error).name === 'NotAllowedError'
        ? 'The browser was not allowed to use the camera. Allow it in the address bar, then try again.'
        : (e as Error).name === 'NotFoundError'
          ? 'This device has no camera.'
          : 'The camera cannot be used just now; perhaps another program has it.'
  }
}
function look() {
  const v = video.value
  if (!open.value || !v || !worker) return
  if (!v.videoWidth) {
    timer = setTimeout(look, 90)
    return
  }
  const canvas = new OffscreenCanvas(v.videoWidth, v.videoHeight)
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.drawImage(v, 0, 0)
  const picture = context.getImageData(0, 0, canvas.width, canvas.height)
  worker.postMessage(picture, [picture.data.buffer])
}
function took(code: string | null) {
  const now = performance.now()
  if (!code) return
  const fresh = code !== seen.code || now - seen.at > AWAY
  seen = { code, at: now }
  if (!fresh) return
  last.value = code
  navigator.vibrate?.(60)
  void scan.scanned(code)
}
function stop() {
  open.value = false
  clearTimeout(timer)
  for (const t of stream?.getTracks() ?? []) t.stop()
  worker?.terminate()
  stream = worker = undefined
}
onUnmounted(stop)
</script>
<template>
  <button
    v-if="possible"
    type="button"
    class="cam"
    aria-label="Scan with the camera"
    title="Scan with the camera"
    @click="begin"
  >
    <Camera :size="18" aria-hidden="true" />
  </button>
  <AskDialog :open="open" title="Scan with the camera" @close="stop">
    <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
    <template v-else
      ><video ref="video" class="w-full rounded" muted playsinline />
      <p class="mt-2" aria-live="polite">
        <template v-if="last"
          >Read <b class="mono">{{ last }}</b></template
        ><span v-else class="soft">Hold a symbol before the camera.</span>
      </p></template
    >
    <div class="mt-4"><button type="button" class="btn" @click="stop">Done</button></div>
  </AskDialog>
</template>
<style scoped>
.cam {
  border: 1px solid var(--edge);
  border-radius: 6px;
  padding: 5px 8px;
  color: var(--kelp);
  cursor: pointer;
  background: var(--sheet);
  flex-shrink: 0;
}
@media (pointer: coarse) {
  .cam {
    min-width: 48px;
    min-height: 48px;
    display: inline-flex;
    align-items: center;
    justify-content: center;
  }
}
</style>
