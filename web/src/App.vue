<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { unreached } from './shell/first-view.ts'
import FrameView from './shell/FrameView.vue'

const route = useRoute()
const bare = computed(() => route.meta.bare === true)
</script>
<template>
  <p v-if="!route.name && unreached" class="unreached" role="status">{{ unreached }}</p>
  <RouterView v-else-if="bare || !route.name" />
  <FrameView v-else />
</template>
<style scoped>
.unreached {
  padding: 20px;
}
</style>
