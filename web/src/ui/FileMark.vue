<script setup lang="ts">
/** What stands before decimals in a file: as its numbers show, where they do. */
const mark = defineModel<'.' | ',' | null>({ required: true })
</script>
<template>
  <label
    ><span class="label">Before decimals in it</span
    ><select v-model="mark" class="field field-small">
      <option :value="null">what its numbers show</option>
      <option value=".">a point: 1.5</option>
      <option value=",">a comma: 1,5</option>
    </select></label
  >
</template>
