<script setup lang="ts">
/** What a make says of the whole: the job that it is for, what it cost beside, whether more is made later. */
import { computed } from 'vue'
import ForWhom from '../places/ForWhom.vue'
import { useSession } from '../shell/session.ts'
import NumberField from '../ui/NumberField.vue'
import { useSlip } from '../ledger/slip-store.ts'

const emit = defineEmits<{ done: [] }>()
const slip = useSlip()
const session = useSession()
const head = computed(() => slip.content.head)
const forWhom = computed({
  get: () => ({ job: head.value.job, costCentre: null }),
  set: who => {
    head.value.job = who.job
  },
})
const refused = (field: string) => slip.tried && slip.headRefusals.some(r => r.field === field)
</script>
<template>
  <label class="grow min-w-48"
    ><span class="label">For the job (if any)</span>
    <ForWhom v-model="forWhom" label="For the job" jobs :invalid="refused('job')" @done="emit('done')"
  /></label>
  <label v-if="session.seeValue" class="w-40"
    ><span class="label">Cost beside what goes in</span
    ><NumberField
      v-model="head.extra"
      class="field-small"
      placeholder="none"
      :aria-invalid="refused('extra') || undefined"
  /></label>
  <label v-if="head.job" class="flex gap-2 items-center pb-1.5"
    ><input v-model="head.goesOn" type="checkbox" /> More is made for it later</label
  >
</template>
