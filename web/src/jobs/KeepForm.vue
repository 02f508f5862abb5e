<script setup lang="ts">
/** So much of a need is kept for its job: from where, and of which lot, where that is wished. */
import { computed, ref, watch } from 'vue'
import type { JobLineView, JobView, LotView } from '@shelve/contract'
import { ApiProblem, get, post, query, said } from '../shell/api.ts'
import { newest } from '../shell/asked-once.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{ job: string; line: JobLineView; place: string }>()
const emit = defineEmits<{ kept: [job: JobView]; close: [] }>()
const session = useSession()
const f = useFormat()
const typed = ref('')
const place = ref(props.place)
const lot = ref('')
const lots = ref<LotView[]>([])
const wrong = ref('')
const places = computed(() => session.areas.filter(a => a.id === props.place || session.may('book', a.id)))
const asks = newest()
watch(
  place,
  async at => {
    lots.value = []
    const still = asks()
    const { rows } = await get<{ rows: LotView[] }>(`/api/items/${props.line.item}/lots${query({ place: at })}`)
    if (!still()) return
    lots.value = rows.filter(l => l.code !== null && l.state === 'usable')
    if (!lots.value.some(l => l.id === lot.value)) lot.value = ''
  },
  { immediate: true },
)
async function keep() {
  try {
    emit(
      'kept',
      await post<JobView>(`/api/jobs/${props.job}/reservations`, {
        need: props.line.id,
        place: place.value,
        lot: lot.value || null,
        typed: typed.value,
      }),
    )
  } catch (e) {
    wrong.value = e instanceof ApiProblem ? (e.field('typed') ?? e.message) : said(e)
  }
}
</script>
<template>
  <form class="flex flex-wrap gap-3 items-end py-1" @submit.prevent="keep" @keydown.esc.stop="emit('close')">
    <label
      ><span class="label">Keep</span
      ><input
        v-model="typed"
        v-focus
        class="field field-small field-num w-24!"
        :placeholder="f.number(line.left)"
        :aria-label="`Keep of ${line.named.name}`"
        :aria-invalid="!!wrong || undefined"
        autocomplete="off" /></label
    ><label
      ><span class="label">from</span
      ><select v-model="place" class="field field-small">
        <option v-for="p in places" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    ><label v-if="lots.length"
      ><span class="label">of lot</span
      ><select v-model="lot" class="field field-small mono">
        <option value="">any, first to go first</option>
        <option v-for="l in lots" :key="l.id" :value="l.id">{{ l.code }}, {{ f.number(l.quantity) }}</option>
      </select></label
    ><button class="btn btn-small btn-act">Keep it</button
    ><button type="button" class="btn btn-small" @click="emit('close')">Leave it</button>
    <p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p>
  </form>
</template>
