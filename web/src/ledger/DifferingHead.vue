<script setup lang="ts">
/** Fields of a slip's head that somebody else saved otherwise meanwhile. */
import { useParties } from '../places/parties.ts'
import BothVersions from '../papers/BothVersions.vue'
import { useSays } from './says.ts'
import { useSlip } from './slip-store.ts'

const slip = useSlip()
const says = useSays()
void useParties().need()
</script>
<template>
  <div v-if="slip.differingHead" class="grid gap-2">
    <BothVersions
      v-for="d in slip.differingHead.fields"
      :key="d.field"
      :by="slip.differingHead.by"
      :what="says.fieldName(d.field)"
      :theirs="says.head(d.field, d.theirs)"
      @take="slip.settleHead(d.field, false)"
      @keep="slip.settleHead(d.field, true)"
    />
  </div>
</template>
