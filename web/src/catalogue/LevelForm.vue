<script setup lang="ts">
import { computed, ref } from 'vue'
import type { LevelsView } from '@shelve/contract'
import { ApiProblem, call, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import NumberField from '../ui/NumberField.vue'
import { decimalTyped } from '../ui/typed.ts'
import { unread } from '../ui/unread.ts'

const props = defineProps<{
  item: string
  place: string | null
  levels: LevelsView | null
  bin: string | null
  /** Where it stands already, so that it is not begun there once more. */ stands?: readonly string[]
}>()
const emit = defineEmits<{ done: [] }>()
const session = useSession()
const places = computed(() => session.areas.filter(a => !props.stands?.includes(a.id)))
const place = ref(props.place ?? (places.value.find(p => p.id === session.placeId) ?? places.value[0])?.id ?? '')
const minimum = ref(props.levels?.minimum ?? '')
const target = ref(props.levels?.target ?? '')
const bin = ref(props.bin ?? '')
const wrong = ref('')
type Levels = { minimum: string | null; target: string | null; bin: string | null }
/** What stood there when this was opened, or is known to stand there since. */
let seen: Levels = { minimum: props.levels?.minimum ?? null, target: props.levels?.target ?? null, bin: props.bin }
const bins = computed(() => (place.value ? session.within(place.value) : []))
async function save() {
  wrong.value = unread.value ?? ''
  if (wrong.value) return
  try {
    await call('PUT', '/api/levels', {
      body: {
        item: props.item,
        place: place.value,
        minimum: decimalTyped(minimum.value) || null,
        target: decimalTyped(target.value) || null,
        bin: bin.value || null,
        seen,
      },
    })
    emit('done')
  } catch (e) {
    wrong.value = said(e)
    if (e instanceof ApiProblem && e.code === 'changed_meanwhile') {
      seen = e.problem.stands as Levels
      const at = seen.bin && (bins.value.find(b => b.id === seen.bin)?.path ?? '')
      wrong.value += ` Now it is ${seen.minimum ?? 'no minimum'} to ${seen.target ?? 'no target'}${at ? `, ${at}` : ''}.`
    }
  }
}
</script>
<template>
  <form class="flex flex-wrap gap-3 items-end py-2" @submit.prevent="save">
    <label v-if="!props.place"
      ><span class="label">Place</span
      ><select v-model="place" class="field field-small">
        <option v-for="p in places" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    >
    <label class="w-24"><span class="label">Minimum</span><NumberField v-model="minimum" class="field-small" /></label>
    <label class="w-24"><span class="label">Target</span><NumberField v-model="target" class="field-small" /></label>
    <label
      ><span class="label">Usual bin</span
      ><select v-model="bin" class="field field-small">
        <option value="">none</option>
        <option v-for="p in bins" :key="p.id" :value="p.id">{{ p.path }}</option>
      </select></label
    >
    <button class="btn btn-small btn-act">Save levels</button
    ><button type="button" class="btn btn-small" @click="emit('done')">Leave them</button>
    <p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p>
  </form>
</template>
