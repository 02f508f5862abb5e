<script setup lang="ts">
/** Photographs of a slip or a line: looked at, taken with the camera or chosen, left out again. */
import { Camera, X } from '@lucide/vue'
import { ref } from 'vue'
import { said } from '../shell/api.ts'
import AskDialog from './AskDialog.vue'
import { addressOf, sendPicture } from './pictures.ts'

const props = defineProps<{
  slip: string
  modelValue: readonly string[]
  what: string
  most?: number
  fixed?: boolean
  bare?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [ids: string[]] }>()
const busy = ref(false)
const wrong = ref('')
const shown = ref<string | null>(null)
async function take(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  busy.value = true
  wrong.value = ''
  try {
    emit('update:modelValue', [...props.modelValue, await sendPicture(file)])
  } catch (x) {
    wrong.value = said(x)
  } finally {
    busy.value = false
  }
}
</script>
<template>
  <span class="inline-flex flex-wrap gap-2 items-center">
    <span v-for="(id, i) in modelValue" :key="id" class="thumb"
      ><button
        type="button"
        :aria-label="`Look at ${what}${modelValue.length > 1 ? ` ${i + 1}` : ''}`"
        @click="shown = id"
      >
        <img :src="addressOf(slip, id)" alt="" loading="lazy" /></button
      ><button
        v-if="!fixed"
        type="button"
        class="off"
        :aria-label="`Leave out ${what}${modelValue.length > 1 ? ` ${i + 1}` : ''}`"
        @click="
          emit(
            'update:modelValue',
            modelValue.filter(x => x !== id),
          )
        "
      >
        <X :size="12" aria-hidden="true" /></button
    ></span>
    <label
      v-if="!fixed && modelValue.length < (most ?? 8)"
      class="btn btn-small flex items-center gap-1.5 cursor-pointer"
      :class="{ 'btn-quiet': bare }"
      ><Camera :size="15" aria-hidden="true" /><span :class="{ 'sr-only': bare }">{{
        busy ? 'Sending …' : `Photograph ${what}`
      }}</span
      ><input type="file" accept="image/*" capture="environment" class="sr-only" :disabled="busy" @change="take"
    /></label>
    <span v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</span>
    <AskDialog :open="shown !== null" :title="`${what[0]!.toUpperCase()}${what.slice(1)}`" @close="shown = null"
      ><img v-if="shown" :src="addressOf(slip, shown)" :alt="what" class="big" />
      <div class="mt-4"><button type="button" class="btn" @click="shown = null">Close</button></div></AskDialog
    >
  </span>
</template>
<style scoped>
.thumb {
  position: relative;
  display: inline-block;
}
.thumb img {
  width: 44px;
  height: 44px;
  object-fit: cover;
  border: 1px solid var(--edge);
  border-radius: 4px;
  display: block;
}
.off {
  position: absolute;
  top: -7px;
  right: -7px;
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: 50%;
  padding: 2px;
  line-height: 0;
}
.big {
  max-width: 100%;
  max-height: 62vh;
  margin: 0 auto;
  display: block;
}
label:focus-within {
  outline: 2px solid var(--kelp);
  outline-offset: 1px;
}
@media (pointer: coarse) {
  .off {
    padding: 8px;
    top: -14px;
    right: -14px;
  }
  .thumb img {
    width: 52px;
    height: 52px;
  }
}
</style>
