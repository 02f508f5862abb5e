<script setup lang="ts">
/** What was picked for a job where it was to be done before, and lies there still. */
import { computed } from 'vue'
import type { JobView } from '@shelve/contract'
import { groupBy } from '@shelve/core'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{ behind: JobView['behind'] }>()
const f = useFormat()
const areas = computed(() => [...groupBy([...props.behind], b => b.place)])
</script>

<template>
  <p v-for="[area, things] in areas" :key="area" class="notice mx-5 my-2" role="status">
    In {{ area }} still lies with it:
    <template v-for="(b, i) in things" :key="i"
      >{{ i ? ', ' : ''
      }}<b class="text-ink">{{ f.number(b.quantity) }} {{ b.item.unit }} {{ b.item.name }}</b></template
    >. It was picked there before the job was moved, and is put back there.
  </p>
</template>
