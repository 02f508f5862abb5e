<script setup lang="ts">
/** What there is under the tab *Jobs*. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import TabsAcross from '../ui/TabsAcross.vue'

const route = useRoute()
const tabs = computed(() =>
  (
    [
      ['jobs', 'Jobs'],
      ['picks', 'Picking'],
      ['templates', 'Templates'],
    ] as const
  ).map(([name, label]) => ({ to: { name }, label, on: route.path.startsWith(`/${name}`) })),
)
</script>
<template>
  <TabsAcross label="Jobs and templates" :tabs="tabs" />
</template>
