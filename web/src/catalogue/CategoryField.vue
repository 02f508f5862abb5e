<script setup lang="ts">
/** The category of an item: one there is, or a new one made from here without leaving the form. */
import { nextTick, ref } from 'vue'
import type { Category } from '@shelve/contract'
import { post, said } from '../shell/api.ts'

defineProps<{ categories: readonly Category[] }>()
const emit = defineEmits<{ /** The list is to be read anew. */ made: [id: string] }>()
const chosen = defineModel<string>({ required: true })
const NEW = 'new'
const making = ref(false)
const name = ref('')
const wrong = ref('')
const field = ref<HTMLInputElement | null>(null)
const select = ref<HTMLSelectElement | null>(null)
async function choose(value: string) {
  making.value = value === NEW
  if (value !== NEW) chosen.value = value
  else await nextTick(() => field.value?.focus())
}
async function make() {
  wrong.value = name.value.trim() ? '' : 'What is it called?'
  if (wrong.value) return
  try {
    const { id } = await post<{ id: string }>('/api/categories', { name: name.value.trim() })
    making.value = false
    name.value = ''
    emit('made', id)
    await nextTick(() => select.value?.focus())
  } catch (e) {
    wrong.value = said(e)
  }
}
function leave() {
  making.value = false
  wrong.value = ''
  void nextTick(() => select.value?.focus())
}
</script>
<template>
  <div>
    <label
      ><span class="label">Category</span
      ><select
        ref="select"
        class="field"
        :value="making ? NEW : chosen"
        @change="choose(($event.target as HTMLSelectElement).value)"
      >
        <option value="">none</option>
        <option v-for="c in categories" :key="c.id" :value="c.id">{{ c.name }}</option>
        <option :value="NEW">a new one …</option>
      </select></label
    >
    <div v-if="making" class="flex gap-2 mt-1.5">
      <input
        ref="field"
        v-model="name"
        class="field field-small"
        maxlength="120"
        aria-label="Name of the new category"
        placeholder="its name"
        @keydown.enter.prevent="make"
        @keydown.esc.prevent="leave"
      /><button type="button" class="btn btn-small" @click="make">Make it</button
      ><button type="button" class="btn btn-quiet btn-small" @click="leave">Leave it</button>
    </div>
    <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
  </div>
</template>
