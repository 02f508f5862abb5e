<script setup lang="ts">
/** A question with its answers; focus comes back to where it was. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref, watch } from 'vue'

const props = defineProps<{ open: boolean; title: string }>()
defineEmits<{ close: [] }>()
// It is there once it was asked for: a shut one would take the focus to where that was before, whenever it comes up with a new line.
const asked = ref(props.open)
watch(
  () => props.open,
  open => (asked.value ||= open),
)
</script>
<template>
  <Dialog v-if="asked" :open="open" class="relative z-40" @close="$emit('close')">
    <div class="fixed inset-0" style="background: var(--shade)" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="slip w-full max-w-lg max-h-[90vh] overflow-y-auto p-5">
        <DialogTitle class="font-bold text-[16px] mb-3">{{ title }}</DialogTitle>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
