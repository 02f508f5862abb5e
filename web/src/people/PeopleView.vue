<script setup lang="ts">
import { reactive, ref } from 'vue'
import type { Person } from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import SetupTabs from '../places/SetupTabs.vue'

const session = useSession()
const rows = ref<Person[]>([])
const wrong = ref('')
const form = reactive({ name: '', signIn: '', password: '', role: 'keeper' })
async function load() { rows.value = (await get<{ rows: Person[] }>('/api/people')).rows }
live(load, e => e.kind === 'setup')
async function add() { wrong.value = ''; try { await call('POST', '/api/people', { body: form }); Object.assign(form, { name: '', signIn: '', password: '', role: 'keeper' }); await load() } catch (e) { wrong.value = e instanceof ApiProblem ? e.problem.fields.map(f => f.message).join(' ') || e.message : said(e) } }
</script>
<template>
  <SetupTabs />
  <div class="slip max-w-3xl"><div class="px-5 pt-4 pb-3"><h1>People</h1><p class="soft">A keeper books and takes back; a manager also sets up, and may use an expired lot with a reason.</p></div>
    <table class="list"><thead><tr><th>Name</th><th>Signs in as</th><th>Role</th></tr></thead><tbody><tr v-for="p in rows" :key="p.id"><td class="font-medium">{{ p.name }}</td><td class="mono">{{ p.signIn }}</td><td>{{ p.role }}</td></tr></tbody></table>
    <form v-if="session.maySetUp" class="px-5 py-4 border-t border-hair flex flex-wrap gap-3 items-end" @submit.prevent="add"><label class="w-40"><span class="label">Name</span><input v-model="form.name" class="field field-small" /></label><label class="w-32"><span class="label">Signs in as</span><input v-model="form.signIn" class="field field-small" autocomplete="off" /></label><label class="w-36"><span class="label">First password</span><input v-model="form.password" type="password" class="field field-small" autocomplete="new-password" /></label><label><span class="label">Role</span><select v-model="form.role" class="field field-small"><option value="keeper">keeper</option><option value="manager">manager</option></select></label><button class="btn btn-small btn-act">Add this person</button><p v-if="wrong" class="error basis-full" role="alert">{{ wrong }}</p></form></div>
</template>
<style scoped>td:first-child, th:first-child { padding-left: 20px; }</style>
