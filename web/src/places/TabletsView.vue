<script setup lang="ts">
/** How a tablet reaches this server, and how it comes to trust it. */
import { computed, ref } from 'vue'
import type { Tablets } from '@shelve/contract'
import { get, said } from '../shell/api.ts'
import { useFormat } from '../ui/format.ts'
import SetupTabs from './SetupTabs.vue'

const f = useFormat()
const t = ref<Tablets | null>(null)
const wrong = ref('')
const symbol = ref('')
const here = window.location
/** Names that mean only this machine help nobody else. */
const names = computed(() => (t.value?.names ?? []).filter(n => !/^(localhost|127\.)/.test(n)))
const port = here.port ? `:${here.port}` : ''
const door = computed(() =>
  t.value?.plainPort
    ? `http://${(/^(localhost|127\.)/.test(here.hostname) ? (names.value.find(n => /^\d/.test(n)) ?? names.value[0]) : here.hostname) ?? here.hostname}:${t.value.plainPort}`
    : null,
)
void get<Tablets>('/api/tablets').then(
  async r => {
    t.value = r
    if (!door.value) return
    const { toSVG } = await import('bwip-js/browser')
    symbol.value = `data:image/svg+xml;utf8,${encodeURIComponent(toSVG({ bcid: 'qrcode', text: door.value, scale: 4 }))}`
  },
  e => {
    wrong.value = said(e)
  },
)
const installed = matchMedia('(display-mode: standalone)').matches
</script>
<template>
  <SetupTabs />
  <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
  <div v-if="t" class="grid lg:grid-cols-2 gap-5 items-start">
    <section class="slip p-5">
      <h1 class="mb-1">Tablets</h1>
      <template v-if="t.kind === 'own'">
        <p class="soft mb-3">
          This server has an authority of its own. A tablet that trusts it once may use its camera, and keeps Shelve on
          its home screen.
        </p>
        <ol class="list-decimal pl-5 flex flex-col gap-2">
          <li>
            On the tablet, in the same network, open <a class="go mono" :href="door ?? ''">{{ door }}</a>, or scan the
            symbol.
          </li>
          <li>Fetch and install the certificate, as it is told there.</li>
          <li>Open Shelve from that page, and put it on the home screen.</li>
        </ol>
        <img
          v-if="symbol"
          :src="symbol"
          alt="Symbol of that address"
          class="mt-4 w-44 bg-white p-2 border border-hair"
        />
        <h2 class="mt-5 mb-1">Is it the right one?</h2>
        <p class="soft">The same must stand on the tablet’s page.</p>
        <p class="mono text-[12px] break-all mt-1">{{ t.authority?.fingerprint }}</p>
        <p class="soft text-[13px] mt-1">
          valid until {{ f.date(t.authority?.until, true) }} ·
          <a class="go" href="/authority.crt" download>fetch the certificate here</a>
        </p>
      </template>
      <p v-else-if="t.kind === 'given'">
        This server uses a certificate that it was given. It is good for the names beside; a tablet that trusts whoever
        made it needs nothing more.
      </p>
      <template v-else
        ><p class="mb-2">
          This server speaks plain HTTP. From another device a browser then gives no camera and cannot install Shelve.
        </p>
        <p class="soft">
          Whoever runs the server turns it on: <span class="mono">SHELVE_TLS=own</span> makes an authority and
          certificates by itself; <span class="mono">SHELVE_TLS=given</span> takes yours. The pages on running Shelve
          say how.
        </p></template
      >
    </section>
    <section class="slip p-5">
      <h2 class="mb-2">By these names it is reached</h2>
      <ul v-if="names.length">
        <li v-for="n in names" :key="n" class="py-1.5 border-b border-hair last:border-0">
          <span class="mono">https://{{ n }}{{ port }}</span>
        </li>
      </ul>
      <p v-else class="soft">
        Only on this machine: <span class="mono">{{ here.origin }}</span>
      </p>
      <p class="mt-4">
        {{
          installed
            ? 'Here it runs from the home screen.'
            : here.protocol === 'https:'
              ? 'Here it runs in the browser, over TLS.'
              : 'Here it runs in the browser.'
        }}
      </p>
    </section>
  </div>
</template>
