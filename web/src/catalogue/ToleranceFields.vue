<script setup lang="ts">
/** How far off a count may be before a second one is asked: up to three limits, each of which holds; none: what is above says it. */
import { computed } from 'vue'
import type { Tolerance } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'
import NumberField from '../ui/NumberField.vue'
import { limitsInWords, type ToleranceForm } from './tolerance-form.ts'

const props = defineProps<{
  /** What the limits are counted in; nothing: in whatever each item is. */ unit: string
  /** What holds where nothing is said here, and by what. */ handed: Tolerance
  by: string
}>()
const form = defineModel<ToleranceForm>({ required: true })
const f = useFormat()
const said = computed(() => `Nothing here: ${limitsInWords(props.handed, props.unit, f)}, by ${props.by}.`)
</script>
<template>
  <fieldset class="tolerance">
    <legend class="label">A count may be off by at most</legend>
    <div class="limits">
      <label
        ><span class="label soft">{{ unit || 'in its unit' }}</span
        ><NumberField v-model="form.quantity" /></label
      ><label><span class="label soft">per cent</span><NumberField v-model="form.percent" /></label
      ><label><span class="label soft">worth</span><NumberField v-model="form.value" /></label>
    </div>
    <p class="soft text-[13px] mt-1">
      {{ said }} Each limit that stands here holds; beyond it a second count is asked.
    </p>
  </fieldset>
</template>
<style scoped>
.limits {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 12px;
  max-width: 36rem;
}
</style>
