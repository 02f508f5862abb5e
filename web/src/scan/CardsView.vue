<script setup lang="ts">
/** Printed cards, so that a whole round can be done by scanner alone; and a test of the scanner itself. */
import { computed, ref } from 'vue'
import { commandCode, type Command } from '@shelve/core'
import type { Job, Named, Place } from '@shelve/contract'
import { get } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import CodePicture from './CodePicture.vue'
import SetupTabs from '../places/SetupTabs.vue'
import ScannerTest from './ScannerTest.vue'

interface Card {
  readonly code: string
  readonly name: string
  readonly note?: string
}
const WORDS: [string, [Command, string][]][] = [
  [
    'Open',
    [
      ['today', 'Today'],
      ['receive', 'Receive'],
      ['issue', 'Issue'],
      ['bring_back', 'Bring back'],
      ['move', 'Move'],
      ['waste', 'Waste'],
      ['count', 'Count'],
      ['restock', 'Restock'],
      ['stock', 'Stock'],
    ],
  ],
  [
    'On a slip',
    [
      ['book', 'Book'],
      ['next', 'Next line'],
      ['back', 'Remove line'],
      ['take_back', 'Take it back'],
    ],
  ],
  [
    'Counting',
    [
      ['next', 'Next line'],
      ['none', 'None here'],
      ['confirm', 'As expected'],
      ['back', 'Line before'],
      ['book', 'Review, book'],
    ],
  ],
  ['How many', [...'1234567890'].map(d => [d as Command, d] as [Command, string]).concat([['point', 'decimal mark']])],
]
const session = useSession()
const jobs = ref<Job[]>([])
const lists = ref<Record<'centres' | 'suppliers' | 'reasons', Named[]>>({ centres: [], suppliers: [], reasons: [] })
live(
  async () => {
    const rows = async <T,>(path: string) => (await get<{ rows: T[] }>(path)).rows
    jobs.value = await rows<Job>('/api/jobs')
    lists.value = {
      centres: await rows('/api/cost-centres'),
      suppliers: await rows('/api/suppliers'),
      reasons: await rows('/api/waste-reasons'),
    }
  },
  e => e.kind === 'setup',
)
const SHEETS = [
  ['commands', 'Commands and digits'],
  ['jobs', 'Jobs and cost centres'],
  ['suppliers', 'Suppliers and waste reasons'],
  ['places', 'Places'],
] as const
const sheet = ref<(typeof SHEETS)[number][0]>('commands')
const named = (r: Named): Card => ({ code: r.own, name: r.name })
const groups = computed<[string, Card[]][]>(() => {
  switch (sheet.value) {
    case 'commands':
      return WORDS.map(([title, list]) => [title, list.map(([c, name]) => ({ code: commandCode(c), name }))])
    case 'jobs':
      return [
        ['Jobs', jobs.value.map(j => ({ code: j.own, name: j.name, note: j.code }))],
        ['Cost centres', lists.value.centres.map(named)],
      ]
    case 'suppliers':
      return [
        ['Suppliers', lists.value.suppliers.map(named)],
        ['Waste reasons', lists.value.reasons.map(named)],
      ]
    default: {
      const within = session.placeId ? session.within(session.placeId) : session.places
      return [['Places', within.map((p: Place) => ({ code: p.own, name: p.path }))]]
    }
  }
})
const print = () => window.print()
</script>
<template>
  <div class="no-print"><SetupTabs /></div>
  <div class="two">
    <section class="slip p-5 sheet">
      <div class="flex flex-wrap gap-3 items-center mb-4 no-print">
        <h1 class="mr-auto">Cards to scan</h1>
        <div class="flex flex-wrap gap-1" role="group" aria-label="Which cards">
          <button
            v-for="[key, label] in SHEETS"
            :key="key"
            type="button"
            class="btn btn-small"
            :class="{ 'btn-act': sheet === key }"
            :aria-pressed="sheet === key"
            @click="sheet = key"
          >
            {{ label }}
          </button>
        </div>
        <RouterLink class="btn" :to="{ name: 'labels' }">Labels for items</RouterLink
        ><button type="button" class="btn" @click="print">Print these</button>
      </div>
      <template v-for="[title, cards] in groups" :key="title">
        <h2 v-if="cards.length" class="mb-2">{{ title }}</h2>
        <ul class="cards">
          <li v-for="c in cards" :key="title + c.code">
            <b>{{ c.name }}</b><span v-if="c.note" class="soft"> {{ c.note }}</span
            ><CodePicture :code="c.code" :module="1" /><span class="mono soft">{{ c.code }}</span>
          </li>
        </ul>
      </template>
      <p v-if="groups.every(([, c]) => !c.length)" class="soft">There is nothing of that kind yet.</p>
    </section>
    <ScannerTest class="no-print" />
  </div>
</template>
<style scoped>
.two {
  display: grid;
  /* The test of a scanner is as wide as its code. */
  grid-template-columns: minmax(0, 1fr) 372px;
  gap: 18px;
  align-items: start;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(222px, 1fr));
  gap: 12px;
  margin-bottom: 20px;
}
.cards li {
  border: 1px solid var(--hair);
  border-radius: 6px;
  padding: 8px 10px;
  break-inside: avoid;
  overflow: hidden;
}
.cards img {
  display: block;
  max-width: none;
  margin: 6px -5px 2px;
}
.cards .mono {
  font-size: 12px;
}
@media (max-width: 1099px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .sheet {
    border: 0;
    padding: 0;
  }
  .sheet::before {
    display: none;
  }
}
</style>
