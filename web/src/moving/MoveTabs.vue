<script setup lang="ts">
/** What there is under *Move*: at once, sent with somebody, what is on its way, what is opened. */
import { useRoute } from 'vue-router'
import TabsAcross from '../ui/TabsAcross.vue'

const props = defineProps<{ /** Within a slip that is written. */ small?: boolean }>()
const route = useRoute()
const tabs = (
  [
    ['move', '/move', 'Move at once'],
    ['dispatch', '/send', 'Send'],
    ['transfers', '/transfers', 'On the way'],
    ['relabel', '/open', 'Open a container'],
  ] as const
).map(([name, to, label]) => ({ name, to, label }))
const on = (path: string) => route.path.startsWith(path)
</script>
<template>
  <nav v-if="props.small" class="flex flex-wrap gap-x-3 text-[13px] mt-1" aria-label="Move, send, on the way, open">
    <RouterLink
      v-for="t in tabs"
      :key="t.name"
      :to="t.to"
      class="touch swap"
      :class="{ on: on(t.to) }"
      :aria-current="on(t.to) ? 'page' : undefined"
      >{{ t.label }}</RouterLink
    >
  </nav>
  <TabsAcross
    v-else
    label="Move, send, on the way, open"
    :tabs="tabs.map(t => ({ to: t.to, label: t.label, on: on(t.to) }))"
  />
</template>
<style scoped>
.swap {
  color: var(--soft);
  border-bottom: 2px solid transparent;
}
.swap.on {
  color: var(--kelp);
  font-weight: 650;
  border-color: var(--kelp);
}
</style>
