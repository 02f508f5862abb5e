<script setup lang="ts">
/**
 * Says that what stands on the page is of the question before, once that lasts long enough to be seen; it takes no room and
 * covers nothing that is pressed.
 */
import { isBehind } from './reading.ts'
</script>
<template>
  <span class="now no-print" role="status"><b v-if="isBehind" class="late">Reading …</b></span>
</template>
<style scoped>
.now {
  position: absolute;
  top: calc(100% - 2px);
  left: 50%;
  pointer-events: none;
}
b {
  display: block;
  padding: 0 12px 1px;
  border: 1px solid var(--hair);
  border-top: 0;
  border-radius: 0 0 6px 6px;
  background: var(--paper);
  font-size: 12px;
  font-weight: 550;
}
</style>
<style>
/* What answers the question before (also a part of a page that says so: `answer`) stands back until the other one is
   answered, where that takes longer than a moment. */
main[aria-busy='true']
  :is(tbody, tfoot, [role='table'] > [role='presentation'], ul, .line, .chart, p.soft, .answer):not(
    ul *,
    .line *,
    .answer *
  ) {
  opacity: 0.4;
  transition: opacity 0.1s 0.3s;
}

/* What is said of a wait, where it is one. */
.late {
  animation: late 0.01s 0.3s both;
}
@keyframes late {
  from {
    visibility: hidden;
  }
}
</style>
