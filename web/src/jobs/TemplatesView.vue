<script setup lang="ts">
/** How things are done again and again: recipes, services, protocols. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { TemplateRow } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import JobsTabs from './JobsTabs.vue'

const session = useSession()
const router = useRouter()
const rows = ref<TemplateRow[]>([])
const loaded = ref(false)
live(
  async () => {
    rows.value = (await get<{ rows: TemplateRow[] }>('/api/templates')).rows
    loaded.value = true
  },
  e => e.kind === 'setup',
)
</script>
<template>
  <JobsTabs />
  <div class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-end">
      <div>
        <h1>Templates</h1>
        <p class="soft">How something is made, mended or done: what it takes, and what comes of it</p>
      </div>
      <RouterLink v-if="session.maySetUp" class="btn btn-small btn-act" :to="{ name: 'template-new' }"
        >New template</RouterLink
      >
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Template</th>
            <th>Code</th>
            <th>Makes</th>
            <th class="text-right!">Lines</th>
            <th class="text-right!">Version</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="t in rows"
            :key="t.id"
            class="link"
            :class="{ soft: !t.active }"
            @click="router.push({ name: 'template', params: { id: t.id } })"
          >
            <td class="wrap-anywhere min-w-28">
              <RouterLink class="font-medium" :to="{ name: 'template', params: { id: t.id } }">{{
                t.name
              }}</RouterLink><span v-if="!t.active"> · out of use</span>
            </td>
            <td class="mono wrap-anywhere min-w-20">{{ t.code }}</td>
            <td class="wrap-anywhere min-w-24">{{ t.makes?.name ?? 'nothing, it only uses' }}</td>
            <td class="text-right">{{ t.lines }}</td>
            <td class="text-right">{{ t.version }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="loaded" class="px-5 pb-6 soft">
      No template yet. Write down once what a recipe, a service or a protocol takes: for how much, of which items, and
      what is lost on the way.
    </p>
  </div>
</template>
