<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { get, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useWay } from '../shell/way.ts'

const session = useSession()
const way = useWay()
const route = useRoute()
const name = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)
const start = ref<{ name: string | null; demonstration: boolean }>({ name: null, demonstration: false })
void get<typeof start.value>('/api/start').then(s => {
  start.value = s
})
async function enter() {
  busy.value = true
  wrong.value = ''
  try {
    await session.signIn(name.value, password.value)
    await session.loadPlaces()
    await way.push(
      typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//')
        ? route.query.to
        : '/',
    )
  } catch (e) {
    wrong.value = said(e)
  } finally {
    busy.value = false
  }
}
</script>
<template>
  <main class="mx-auto max-w-sm px-4 py-16">
    <p class="font-bold text-[18px] text-kelp mb-4">Shelve</p>
    <form class="slip p-7 flex flex-col gap-4" @submit.prevent="enter">
      <h1>{{ start.name ?? 'Sign in' }}</h1>
      <label
        ><span class="label">You sign in as</span><input v-model="name" class="field" v-focus autocomplete="username"
      /></label>
      <label
        ><span class="label">Password</span
        ><input v-model="password" type="password" class="field" autocomplete="current-password"
      /></label>
      <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
      <button class="btn btn-act" :disabled="busy">Sign in</button>
      <p v-if="start.demonstration" class="soft text-[13px]">
        The demonstration: <b>ines</b> keeps the wet lab, <b>tova</b> manages; the password of both is
        <b>gannet holm</b>.
      </p>
    </form>
  </main>
</template>
