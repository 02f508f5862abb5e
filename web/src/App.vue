<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import FrameView from './shell/FrameView.vue'

const route = useRoute()
const bare = computed(() => route.meta.bare === true)
</script>
<template>
  <RouterView v-if="bare || !route.name" />
  <FrameView v-else />
</template>
