<script setup lang="ts">
/** A code drawn as Code 128, which every scanner reads, with its text below; the drawing package comes only when it is shown. */
import { ref, watch } from 'vue'
const props = defineProps<{ code: string }>()
const drawn = ref('')
watch(
  () => props.code,
  async text => {
    if (!text) return
    const { toSVG } = await import('bwip-js/browser')
    drawn.value = `data:image/svg+xml;utf8,${encodeURIComponent(toSVG({ bcid: 'code128', text, height: 9, scale: 2, paddingwidth: 2 }))}`
  },
  { immediate: true },
)
</script>
<template>
  <span class="inline-block"
    ><img v-if="drawn" :src="drawn" :alt="`Barcode ${code}`" class="max-w-full" /><span
      v-else
      class="block h-13"
    /><span class="block mono text-[12px] text-center">{{ code }}</span></span
  >
</template>
