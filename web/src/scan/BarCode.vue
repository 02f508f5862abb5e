<script setup lang="ts">
/** A code with its text below it. */
import CodePicture from './CodePicture.vue'

defineProps<{ code: string }>()
</script>
<template>
  <span class="inline-block"
    ><CodePicture :code="code" class="max-w-full" /><span class="block mono text-[12px] text-center">{{
      code
    }}</span></span
  >
</template>
