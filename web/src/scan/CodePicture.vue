<script setup lang="ts">
/** The picture of a code; its room is kept until it is drawn. */
import { shallowRef, watch } from 'vue'
import { CODE_HEIGHT, type DrawnCode, drawnCode } from './drawn.ts'

const { code, module = 2, alt } = defineProps<{ code: string; module?: 1 | 2; alt?: string }>()
const drawn = shallowRef<DrawnCode>()
watch(
  () => code,
  async text => {
    if (!text) return
    const it = await drawnCode(text, module)
    if (text === code) drawn.value = it
  },
  { immediate: true },
)
</script>
<template>
  <img v-if="drawn" :src="drawn.src" :width="drawn.width" :height="CODE_HEIGHT" :alt="alt ?? `Barcode ${code}`" />
  <span v-else class="block" :style="{ height: `${CODE_HEIGHT}px` }" />
</template>
