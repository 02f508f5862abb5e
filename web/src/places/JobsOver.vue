<script setup lang="ts">
/** Jobs that are not in use any more: nearly all that ever were. The latest, or those that are called so; each can be taken into use again. */
import { computed, ref, watch } from 'vue'
import type { CostCentre, Job } from '@shelve/contract'
import { get, query, said } from '../shell/api.ts'
import { useFormat } from '../ui/format.ts'
import NameList from './NameList.vue'

const props = defineProps<{
  /** How many there are. */ many: number
  centres: readonly CostCentre[]
}>()
const emit = defineEmits<{ changed: [] }>()
const open = ref(false)
const words = ref('')
const rows = ref<Job[]>([])
const more = ref(0)
const wrong = ref('')
async function load() {
  const asked = words.value
  try {
    const found = await get<{ rows: Job[]; more: number }>(`/api/jobs${query({ over: 'yes', q: asked })}`)
    // An answer that took long is of what nobody asks any more.
    if (asked !== words.value) return
    rows.value = found.rows
    more.value = found.more
    wrong.value = ''
  } catch (e) {
    wrong.value = said(e)
  }
}
function changed() {
  void load()
  emit('changed')
}
watch([open, words, () => props.many], () => open.value && void load())
const f = useFormat()
const sentence = computed(
  () => `${f.number(String(props.many))} job${props.many === 1 ? ' is' : 's are'} not in use any more.`,
)
</script>
<template>
  <div v-if="many" class="mb-3">
    <p class="flex flex-wrap gap-2 items-baseline">
      <span class="soft">{{ sentence }}</span><button
        type="button"
        class="btn btn-quiet btn-small"
        :aria-expanded="open"
        @click="open = !open"
      >
        {{ open ? 'Hide them' : 'Show them' }}
      </button>
    </p>
    <template v-if="open">
      <input
        v-model="words"
        class="field field-small mt-1 mb-2"
        placeholder="name, or how its code begins"
        aria-label="Find a job that is not in use"
      />
      <NameList path="/api/jobs" what="job" :rows="rows" :centres="centres" @changed="changed" />
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <p v-if="more" class="soft">{{ more }} earlier ones. Type a part of the name to find one.</p>
    </template>
  </div>
</template>
