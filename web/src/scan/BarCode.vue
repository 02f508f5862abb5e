<script setup lang="ts">
/** A code with its text below it; its room is kept until it is drawn. */
import { shallowRef, watch } from 'vue'
import { CODE_HEIGHT, type DrawnCode, drawnCode } from './drawn.ts'

const props = defineProps<{ code: string }>()
const drawn = shallowRef<DrawnCode>()
watch(
  () => props.code,
  async text => {
    if (!text) return
    const it = await drawnCode(text)
    if (text === props.code) drawn.value = it
  },
  { immediate: true },
)
</script>
<template>
  <span class="inline-block"
    ><img
      v-if="drawn"
      :src="drawn.src"
      :width="drawn.width"
      :height="CODE_HEIGHT"
      :alt="`Barcode ${code}`"
      class="max-w-full"
    /><span v-else class="block" :style="{ height: `${CODE_HEIGHT}px` }" /><span
      class="block mono text-[12px] text-center"
      >{{ code }}</span
    ></span
  >
</template>
