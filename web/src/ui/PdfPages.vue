<script setup lang="ts">
/** The pages of a PDF as they will come out of the printer. The reader is loaded only where a paper is shown. */
import { nextTick, ref, watch } from 'vue'
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url'

/** `drawing`: what is shown is of an earlier choice. */
const props = defineProps<{ pdf: Blob | null; drawing?: boolean; label: string }>()
const pages = ref(0)
const box = ref<HTMLElement>()
let turn = 0
watch(
  () => props.pdf,
  async blob => {
    const mine = ++turn
    if (!blob) {
      pages.value = 0
      return
    }
    const { getDocument, GlobalWorkerOptions } = await import('pdfjs-dist')
    GlobalWorkerOptions.workerSrc = workerUrl
    const task = getDocument({ data: new Uint8Array(await blob.arrayBuffer()), isEvalSupported: false, verbosity: 0 })
    const document = await task.promise
    if (mine !== turn) {
      void task.destroy()
      return
    }
    pages.value = document.numPages
    await nextTick()
    for (let n = 1; n <= document.numPages && mine === turn; n++) {
      const canvas = box.value?.querySelector<HTMLCanvasElement>(`[data-page="${n}"]`)
      if (!canvas) break
      const page = await document.getPage(n)
      const wide = canvas.clientWidth * window.devicePixelRatio
      const viewport = page.getViewport({ scale: wide / page.getViewport({ scale: 1 }).width })
      canvas.style.aspectRatio = String(viewport.width / viewport.height)
      canvas.width = viewport.width
      canvas.height = viewport.height
      await page.render({ canvas, viewport }).promise
    }
    void task.destroy()
  },
  { immediate: true },
)
</script>
<template>
  <div ref="box" class="pages" :class="{ earlier: drawing }" role="group" :aria-label="label" :aria-busy="drawing">
    <p v-if="drawing" class="drawn soft" role="status">is being drawn …</p>
    <canvas v-for="n in pages" :key="n" :data-page="n" class="page" role="img" :aria-label="`Page ${n} of ${pages}`" />
  </div>
</template>
<style scoped>
.pages {
  position: relative;
  display: grid;
  gap: 14px;
}
/* Paper is white in both themes. */
.page {
  width: 100%;
  aspect-ratio: 0.707;
  background: #fff;
  border: 1px solid var(--hair);
}
.drawn {
  position: absolute;
  right: 0;
  top: -22px;
  font-size: 12px;
}
.earlier .page {
  opacity: 0.55;
}
</style>
