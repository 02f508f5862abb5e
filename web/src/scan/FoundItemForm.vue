<script setup lang="ts">
/** A thing that nobody knows yet, written down where it was found: enough to book it. Whoever sets up completes it. */
import { computed, reactive, ref } from 'vue'
import { type Item, refusedInWords } from '@shelve/contract'
import { ApiProblem, post, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import NumberField from '../ui/NumberField.vue'
import { decimalTyped } from '../ui/typed.ts'
import { unread } from '../ui/unread.ts'
import { UNITS } from '../catalogue/units.ts'

const props = defineProps<{ code: string }>()
const emit = defineEmits<{ made: [item: Item]; leave: [] }>()
const session = useSession()
const form = reactive({ name: '', unit: 'each', identifiedBy: 'quantity', packed: false, pack: 'case', size: '' })
const problem = ref<ApiProblem | null>(null)
const other = ref('')
const busy = ref(false)
const wrong = (f: string) => problem.value?.field(f)
const missing = computed(() =>
  !form.name.trim() ? 'What is it called?' : form.packed && !form.size.trim() ? 'How many are in one?' : '',
)
async function make() {
  if (missing.value || busy.value) return
  problem.value = null
  other.value = unread.value ?? ''
  if (other.value) return
  busy.value = true
  try {
    const made = await post<Item>('/api/found-items', {
      code: props.code,
      name: form.name,
      unit: form.unit,
      identifiedBy: form.identifiedBy,
      pack: form.packed ? { name: form.pack, size: decimalTyped(form.size) } : null,
    })
    emit('made', made)
  } catch (e) {
    if (e instanceof ApiProblem && e.problem.fields.length) problem.value = e
    else other.value = said(e)
  } finally {
    busy.value = false
  }
}
</script>
<template>
  <form class="grid gap-3" novalidate @submit.prevent="make">
    <label
      ><span class="label">What is it?</span
      ><input v-model="form.name" v-focus class="field" maxlength="200" :aria-invalid="!!wrong('name')" /><span
        v-if="wrong('name')"
        class="error"
        >{{ wrong('name') }}</span
      ></label
    >
    <div class="flex flex-wrap gap-3">
      <label class="w-32"
        ><span class="label">Counted in</span
        ><input v-model="form.unit" class="field" list="found-units" :aria-invalid="!!wrong('unit')" /><datalist
          id="found-units"
        >
          <option v-for="u in UNITS" :key="u" :value="u" /></datalist
      ></label>
      <label class="grow"
        ><span class="label">Told apart by</span
        ><select v-model="form.identifiedBy" class="field">
          <option value="quantity">nothing: quantity only</option>
          <option value="lot">its lot</option>
          <option value="lot_expiry">its lot and use by date</option>
          <option value="serial">a serial number each</option>
        </select></label
      >
    </div>
    <fieldset>
      <legend class="label">What does the code stand on?</legend>
      <label class="inline-flex items-center gap-2 mr-4 min-h-8"
        ><input v-model="form.packed" type="radio" :value="false" /> one {{ form.unit || 'unit' }}</label
      ><label class="inline-flex items-center gap-2 min-h-8"
        ><input v-model="form.packed" type="radio" :value="true" /> a pack of several</label
      >
      <div v-if="form.packed" class="flex gap-3 mt-1">
        <label class="w-32"><span class="label">Pack</span><input v-model="form.pack" class="field" /></label
        ><label class="w-32"
          ><span class="label">holds ({{ form.unit || 'units' }})</span
          ><NumberField v-model="form.size" :aria-invalid="!!wrong('pack.size') || !!wrong('pack')"
        /></label>
      </div>
    </fieldset>
    <p v-for="x in problem?.problem.fields ?? []" :key="x.field ?? ''" class="error" role="alert">
      {{ refusedInWords(x.field, x.message) }}
    </p>
    <p v-if="other" class="error" role="alert">{{ other }}</p>
    <p class="soft text-[13px]">
      {{
        session.maySetUp
          ? 'Its category, levels and cost method can be set afterwards; Today reminds of it.'
          : 'Whoever sets up is asked on Today to complete it: category, levels, cost method.'
      }}
    </p>
    <div class="flex flex-wrap gap-3">
      <button class="btn btn-act" v-wants="missing" :disabled="busy">Make this item</button
      ><button type="button" class="btn" @click="emit('leave')">Not this</button
      ><span v-if="missing" class="soft self-center text-[13px]">{{ missing }}</span>
    </div>
  </form>
</template>
