<script setup lang="ts">
/** What a job says of the whole, beside its name and how much it is for. */
import { computed } from 'vue'
import type { JobHead } from '@shelve/contract'
import { useParties } from '../places/parties.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import DateField from '../ui/DateField.vue'
import TimeField from '../ui/TimeField.vue'
import RepeatsFields from './RepeatsFields.vue'

const head = defineModel<JobHead>({ required: true })
const props = defineProps<{
  wrong: (field: string) => string | undefined
  /** It is made for another job: that one comes again, and it with it. */ follows?: boolean
}>()
const session = useSession()
const parties = useParties()
void parties.need()
const { choices: people } = useChoices<{ id: string; name: string }>('/api/jobs/people')
const places = computed(() => session.areas.filter(a => session.may('book', a.id) || a.id === head.value.place))
</script>
<template>
  <div class="flex flex-wrap gap-x-4 gap-y-3">
    <label
      ><span class="label">What it is called</span
      ><input
        v-model="head.name"
        class="field field-small w-64!"
        maxlength="120"
        autocomplete="off"
        :aria-invalid="!!props.wrong('name') || undefined" /></label
    ><label
      ><span class="label">Its number</span
      ><input
        v-model="head.code"
        class="field field-small mono w-28!"
        maxlength="60"
        autocomplete="off"
        :aria-invalid="!!props.wrong('code') || undefined" /></label
    ><label
      ><span class="label">By when</span
      ><DateField v-model="head.day" label="By when" near="day and month" class="w-32" /></label
    ><label><span class="label">at</span><TimeField v-model="head.time" label="at" /></label
    ><label
      ><span class="label">Where</span
      ><select v-model="head.place" class="field field-small">
        <option v-for="p in places" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    ><label
      ><span class="label">Who sees to it</span
      ><select v-model="head.person" class="field field-small">
        <option :value="null">nobody named</option>
        <option v-for="p in people" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    ><label
      ><span class="label">Cost centre</span
      ><select v-model="head.costCentre" class="field field-small">
        <option :value="null">none</option>
        <option
          v-for="c in parties.centres.filter(x => x.active || x.id === head.costCentre)"
          :key="c.id"
          :value="c.id"
        >
          {{ c.name }}
        </option>
      </select></label
    ><label
      ><span class="label">Their reference</span
      ><input
        v-model="head.reference"
        class="field field-small w-36!"
        maxlength="200"
        autocomplete="off"
        :aria-invalid="!!props.wrong('reference') || undefined" /></label
    ><label class="grow"
      ><span class="label">Note</span
      ><input v-model="head.note" class="field field-small" maxlength="2000" autocomplete="off"
    /></label>
  </div>
  <RepeatsFields v-if="!follows" v-model="head" class="mt-3" />
  <p
    v-for="x in ['name', 'code', 'reference', 'day', 'repeats', 'again']"
    v-show="props.wrong(x)"
    :key="x"
    class="error mt-1"
    role="alert"
  >
    {{ props.wrong(x) }}
  </p>
</template>
