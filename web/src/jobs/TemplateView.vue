<script setup lang="ts">
/** A template, scaled to what is typed: what it takes, whether it is there, what it costs, and how many could be made. */
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { forOne, formatDecimal, readPercent } from '@shelve/core'
import type { TemplateNeed, TemplateNeeds, TemplateView } from '@shelve/contract'
import { get, noAnswer, query, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import JobsTabs from './JobsTabs.vue'
import { WHENCE } from './whence.ts'
import { useFormat } from '../ui/format.ts'
import NotThere from '../ui/NotThere.vue'

const props = defineProps<{ id: string }>()
const route = useRoute()
const router = useRouter()
const session = useSession()
const index = useIndex()
const f = useFormat()
const template = ref<TemplateView | null>(null)
const needs = ref<TemplateNeeds | null>(null)
const wrong = ref('')
const gone = ref('')
const addressed = () => (typeof route.query.wanted === 'string' ? route.query.wanted : '')
/** How much, as it is typed; it stands in the address, so that going back finds it. */
const wanted = ref(addressed())
live(
  async () => {
    try {
      template.value = await get<TemplateView>(`/api/templates/${props.id}`)
      gone.value = ''
    } catch (e) {
      if (noAnswer(e)) throw e
      gone.value = said(e)
    }
  },
  e => e.kind === 'setup',
)
const loadNeeds = live(
  async () => {
    const path = () =>
      `/api/templates/${props.id}/needs${query({ wanted: wanted.value.trim() || undefined, place: session.placeId })}`
    const asked = path()
    try {
      const n = await get<TemplateNeeds>(asked)
      if (asked !== path()) return
      needs.value = n
      wrong.value = ''
    } catch (e) {
      if (noAnswer(e)) throw e
      if (asked === path()) wrong.value = said(e)
    }
  },
  e => e.kind === 'booked' || e.kind === 'setup',
)
watch(wanted, w => {
  void router.replace({ query: { ...route.query, wanted: w.trim() || undefined } })
})
// Back and forth, as it was asked.
watch(addressed, w => {
  if (wanted.value.trim() !== w) wanted.value = w
})
watch(
  () => [wanted.value, session.placeId],
  () => void loadNeeds(),
)
const makes = computed(() => template.value?.content.makes ?? null)
const made = computed(() => (makes.value ? index.byId.get(makes.value.item) : undefined))
const own = computed(() => new Map(template.value?.content.lines.map(l => [l.item, l])))
/** Its own lines first, as they are written; then what its parts take. */
const lines = computed(() => {
  const at = new Map(template.value?.content.lines.map((l, i) => [l.item, i]))
  const place = (l: TemplateNeed) => at.get(l.item.id) ?? at.size
  return [...(needs.value?.lines ?? [])].sort((a, b) => place(a) - place(b))
})
const places = computed(() => f.placesOf(lines.value.map(l => l.need)))
const zero = (d: string) => Number(d) === 0
/** Where a need comes from, in words. */
function from(l: TemplateNeed): { word: string; tone: '' | 'text-straw' | 'error'; more: string } {
  if (!zero(l.make))
    return {
      word: WHENCE.made.word,
      tone: '',
      more: `${zero(l.here) ? 'none' : f.number(l.here)} there, ${f.number(l.make)} to make`,
    }
  if (!zero(l.missing))
    return { word: `${WHENCE.missing.word} ${f.number(l.missing)}`, tone: 'error', more: `${f.number(l.here)} there` }
  if (Number(l.here) < Number(l.need))
    return {
      word: WHENCE.elsewhere.word,
      tone: 'text-straw',
      more: `${f.number(l.here)} there, ${f.number(l.elsewhere)} elsewhere`,
    }
  return { word: WHENCE.here.word, tone: '', more: `of ${f.number(l.here)}` }
}
const share = (text: string) => f.number(formatDecimal(readPercent(text, 0n) ?? 0n))
const lost = (l: TemplateNeed): string => {
  const loss = own.value.get(l.item.id)?.loss.trim()
  return loss ? `${share(loss)} % lost` : ''
}
/** What of a need was rounded up, where only whole ones are taken. */
const inWhole = (l: TemplateNeed): string =>
  index.byId.get(l.item.id)?.decimals === 0 && l.exact !== l.need
    ? `${f.number(l.exact.replace('…', ''))}${l.exact.endsWith('…') ? '…' : ''}, in whole ones`
    : ''
const worthy = computed(() => lines.value.filter(l => l.worth && !zero(l.worth)))
const unknown = computed(() => lines.value.filter(l => l.worth === null).map(l => l.item.name))
</script>
<template>
  <JobsTabs />
  <NotThere v-if="gone" :said="gone" :to="{ name: 'templates' }" back="Back to Templates" />
  <div v-else-if="template && index.there" class="two">
    <div>
      <section class="slip">
        <div class="px-5 pt-4 pb-3 flex flex-wrap gap-4 justify-between items-start">
          <div>
            <h1>{{ template.content.name }}</h1>
            <p class="soft">
              <span class="mono">{{ template.content.code }}</span> · version {{ template.version }}, by
              {{ template.savedBy }}<template v-if="!template.content.active"> · out of use</template>
            </p>
            <p v-if="makes" class="soft text-[13px]">
              makes {{ made?.name }}<template v-if="makes.yields.trim()"> · yields {{ share(makes.yields) }} %</template
              ><template v-if="makes.batch.trim()"> · in batches of {{ makes.batch }}</template
              ><template v-if="makes.shelfLife">
                · keeps {{ makes.shelfLife }} day{{ makes.shelfLife === 1 ? '' : 's' }}</template
              ><template v-for="b in makes.besides" :key="b.item">
                · beside it {{ b.typed }} {{ index.byId.get(b.item)?.unit }}
                {{ index.byId.get(b.item)?.name }}</template
              >
            </p>
          </div>
          <div class="flex flex-wrap gap-3 items-end">
            <label
              ><span class="label">For how much</span
              ><span class="flex gap-2 items-center"
                ><input
                  v-model="wanted"
                  v-focus
                  class="field field-num w-28!"
                  :placeholder="needs?.wanted"
                  :aria-invalid="!!wrong || undefined"
                  aria-describedby="wanted-wrong"
                  autocomplete="off"
                /><span>{{ needs?.unit ?? made?.unit }}</span></span
              ></label
            >
            <RouterLink v-if="session.maySetUp" class="btn" :to="{ name: 'template-change', params: { id } }"
              >Change it</RouterLink
            >
          </div>
          <p v-if="wrong" id="wanted-wrong" class="error basis-full" role="alert">{{ wrong }}</p>
        </div>
        <div class="overflow-x-auto">
          <table class="list">
            <thead>
              <tr>
                <th>Need</th>
                <th class="text-right!">Takes</th>
                <th><span class="sr-only">Unit</span></th>
                <th>Where it is</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="l in lines" :key="l.item.id" :class="{ part: !own.has(l.item.id) }">
                <td class="wrap-anywhere min-w-28">
                  <RouterLink
                    class="font-medium"
                    :to="
                      l.made
                        ? {
                            name: 'template',
                            params: { id: l.made },
                            query: { wanted: zero(l.make) ? undefined : l.make },
                          }
                        : { name: 'item', params: { id: l.item.id } }
                    "
                    >{{ l.item.name }}</RouterLink
                  >
                  <div class="soft text-[12px]">
                    <span class="mono">{{ l.item.code }}</span><template v-if="lost(l)"> · {{ lost(l) }}</template
                    ><template v-if="own.get(l.item.id)?.optional"> · may be left out</template
                    ><template v-if="own.get(l.item.id)?.from">
                      · from {{ session.placeName(own.get(l.item.id)!.from) }}</template
                    ><template v-for="o in own.get(l.item.id)?.instead ?? []" :key="o.item">
                      · or {{ o.typed }} {{ /\d$/.test(o.typed) ? index.byId.get(o.item)?.unit : '' }}
                      {{ index.byId.get(o.item)?.name }}</template
                    ><template v-if="own.get(l.item.id)?.note"> · {{ own.get(l.item.id)!.note }}</template>
                  </div>
                </td>
                <td class="num">
                  {{ f.aligned(l.need, places) }}
                  <div v-if="inWhole(l)" class="soft text-[12px]">{{ inWhole(l) }}</div>
                </td>
                <td class="soft unit">{{ l.item.unit }}</td>
                <td>
                  <span :class="from(l).tone">{{ from(l).word }}</span>
                  <div class="soft text-[12px]">{{ from(l).more }}</div>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section v-if="template.content.steps.trim()" class="slip mt-4 px-5 py-4">
        <h2 class="mb-2">How it is done</h2>
        <p class="whitespace-pre-line">{{ template.content.steps }}</p>
      </section>
    </div>
    <aside v-if="needs">
      <template v-if="session.seeValue && needs.cost !== undefined">
        <h2 class="side">What it costs, the working</h2>
        <ul class="card mb-4">
          <li v-for="l in worthy" :key="l.item.id" class="apart">
            <span>{{ l.item.name }}</span><span class="mono">{{ f.money(l.worth!) }}</span>
          </li>
          <li class="apart font-semibold">
            <span
              >{{ f.number(needs.wanted) }} {{ needs.unit
              }}<template v-if="needs.one">, {{ f.money(needs.one) }} {{ forOne(needs.unit) }}</template></span
            ><span class="mono">{{ needs.cost === null ? 'not known' : f.money(needs.cost) }}</span>
          </li>
          <li v-if="needs.cost === null" class="apart soft">
            <span>Nobody knows yet what {{ unknown.join(', ') }} cost{{ unknown.length === 1 ? 's' : '' }}.</span>
          </li>
          <li v-if="needs.atLast" class="apart soft">
            <span>at what was last paid</span><span class="mono">{{ f.money(needs.atLast) }}</span>
          </li>
        </ul>
      </template>
      <h2 class="side">How many could be made now</h2>
      <ul class="card">
        <li class="apart">
          <span
            >With what is {{ session.place ? `in ${session.place.name}` : 'in my places'
            }}<span v-for="s in needs.short" :key="s.item.id" class="block soft text-[12px]"
              >for more, {{ f.number(s.quantity) }}{{ s.item.unit === 'each' ? '' : ` ${s.item.unit}` }} of
              {{ s.item.name }} would be missing</span
            ></span
          ><span class="mono font-semibold">{{ f.number(needs.could) }}</span>
        </li>
      </ul>
    </aside>
  </div>
</template>
<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
td:first-child,
th:first-child {
  padding-left: 20px;
}
.part td:first-child {
  padding-left: 44px;
}
.side {
  font-size: 14px;
  margin: 6px 0 8px;
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
