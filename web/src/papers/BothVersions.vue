<script setup lang="ts">
/** Two versions of the same: what stands here, and what somebody else saved. One of them stands when somebody says so. */
defineProps<{
  by: string
  /** What they wrote, in words; null where they took it off. */ theirs: string | null
  /** What it is about, where that is not plain from where it stands. */ what?: string
}>()
defineEmits<{ take: []; keep: [] }>()
</script>
<template>
  <div class="both" role="alert">
    <span
      ><b>{{ by }}</b> <template v-if="theirs === null"> took {{ what ?? 'this line' }} off</template
      ><template v-else>
        saved {{ what ?? 'this line' }} otherwise: <b>{{ theirs || 'nothing' }}</b></template
      >.</span
    ><span class="flex gap-2 flex-wrap"
      ><button type="button" class="btn btn-small" @click="$emit('take')">
        {{ theirs === null ? 'Take it off' : `Take ${by}’s` }}</button
      ><button type="button" class="btn btn-small" @click="$emit('keep')">Keep what stands here</button></span
    >
  </div>
</template>
<style scoped>
.both {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  background: var(--notice);
  border: 1px solid var(--hair);
  border-left: 3px solid var(--straw);
  border-radius: 4px;
  padding: 6px 10px;
  font-size: 13px;
}
</style>
