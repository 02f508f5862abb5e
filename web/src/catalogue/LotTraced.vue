<script setup lang="ts">
/** A lot through all makes: what it is made of, what it is in, who got any of that and where something of it lies; all of it held in one step. */
import { computed, ref, shallowRef, watch } from 'vue'
import { type LotTrace, type Recalled, type TracedLot, wholeTrace, type WholeTrace } from '@shelve/contract'
import { get, nothingIfRefused, post, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import AskDialog from '../ui/AskDialog.vue'
import SaveAs from '../ui/SaveAs.vue'
import { unitBehind, useFormat } from '../ui/format.ts'

const props = defineProps<{ id: string; code: string | null }>()
const emit = defineEmits<{
  /** The state of it and of all that is in it has changed. */ held: []
  /** It is known, or is known to be nothing. */ came: []
}>()
const session = useSession()
const strip = useStrip()
const f = useFormat()
const trace = shallowRef<WholeTrace | null>(null)
/** So many are shown before somebody asks for all: a lot may be in thousands. */
const MOST = 200
const whole = ref(false)
const reload = live(
  async () => {
    const { id } = props
    try {
      const t = await get<LotTrace>(`/api/lots/${id}/trace`).catch(nothingIfRefused)
      if (id === props.id) trace.value = t && wholeTrace(t)
    } finally {
      if (id === props.id) emit('came')
    }
  },
  e => e.kind === 'booked' || e.kind === 'stock',
)
watch(
  () => props.id,
  () => {
    whole.value = false
    trace.value = null
    void reload()
  },
)
const sides = computed(() =>
  trace.value
    ? ([
        ['up', 'What it is made of', trace.value.up, 'went in'],
        ['down', 'What it is in', trace.value.down, 'came of it'],
      ] as const)
    : [],
)
/** How figures of some rows stand under each other: on their decimal mark, and their units behind them on one edge. */
const standing = (rows: readonly { readonly quantity: string; readonly item: { readonly unit: string } }[]) => ({
  places: f.placesOf(rows.map(r => r.quantity)),
  unit: `${Math.max(0, ...rows.map(r => unitBehind(r.item.unit).length))}ch`,
})
const columns = computed(() => ({
  up: standing(shown(trace.value?.up ?? [])),
  down: standing(shown(trace.value?.down ?? [])),
  got: standing(shown(trace.value?.got ?? [])),
}))
const shown = <T,>(rows: readonly T[]): readonly T[] => (whole.value ? rows : rows.slice(0, MOST))
const rest = computed(() =>
  whole.value || !trace.value
    ? 0
    : [trace.value.up, trace.value.down, trace.value.got].reduce((n, rows) => n + Math.max(0, rows.length - MOST), 0),
)
const made = computed(() => (trace.value?.down.length ?? 0) + (trace.value?.up.length ?? 0) > 0)
const KINDS = { used: 'used by', waste: 'wasted:', supplier: 'back to' } as const
const STATES: Record<TracedLot['state'], string> = {
  usable: '',
  held: 'held',
  recalled: 'recalled',
  expired: 'out of date',
}
/** A few of many, by name. */
const some = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 5).join(', ')} and ${names.length - 5} more` : names.join(', ')
const several = (lots: WholeTrace['down']) => some(lots.map(l => `${l.item.name} ${l.code}`))
const asking = ref(false)
const why = ref('')
const how = ref<'held' | 'recalled'>('recalled')
function ask() {
  why.value = ''
  asking.value = true
}
async function hold() {
  asking.value = false
  try {
    const { lots } = await post<Recalled>(`/api/lots/${props.id}/recall`, { held: how.value, why: why.value })
    strip.say(
      lots.length
        ? `${lots.length} lot${lots.length === 1 ? ' is' : 's are'} ${how.value}: ${some(lots.map(l => `${l.item} ${l.code}`))}.`
        : `All of it was ${how.value} already.`,
    )
    emit('held')
    await reload()
  } catch (e) {
    strip.say(said(e), 'bad')
  }
}
</script>
<template>
  <section v-if="trace && (made || trace.got.length)" class="slip mt-4" aria-label="Through all makes">
    <div class="px-5 pt-4 pb-2 flex flex-wrap justify-between gap-3 items-center">
      <h2>From where it came to who got it</h2>
      <span class="flex flex-wrap gap-3 items-center no-print"
        ><button v-if="session.mayAnywhere('book') && code" type="button" class="btn btn-small" @click="ask">
          Hold it and all it is in</button
        ><SaveAs :path="`/api/lots/${id}/trace`" name="trace"
      /></span>
    </div>
    <template v-for="[way, title, lots, how_] in sides" :key="way">
      <div v-if="lots.length" class="px-5 pb-3">
        <h3 class="label">{{ title }}</h3>
        <ul>
          <li
            v-for="l in shown(lots)"
            :key="l.id"
            class="row"
            :style="{ paddingLeft: `${(l.depth - 1) * 22}px` }"
            :aria-label="`${l.item.name} ${l.code ?? ''}`"
          >
            <span class="min-w-0"
              ><RouterLink v-if="l.code" class="go" :to="{ name: 'lot', params: { id: l.id } }"
                >{{ l.item.name }} <span class="mono">{{ l.code }}</span></RouterLink
              ><template v-else
                ><RouterLink class="go" :to="{ name: 'item', params: { id: l.item.id } }">{{ l.item.name }}</RouterLink>
                <span class="soft text-[12px]">kept without lots: not followed</span></template
              >
              <b v-if="STATES[l.state]" class="text-straw ml-1">{{ STATES[l.state] }}</b>
              <span class="soft text-[12px] block"
                ><template v-for="(m, i) in l.makes" :key="m.id"
                  >{{ i ? ', ' : '' }}<span class="mono">{{ m.number }}</span> {{ f.when(m.at) }}</template
                ></span
              ></span
            ><span class="text-right whitespace-nowrap"
              ><span class="mono whitespace-pre"
                >{{ f.aligned(l.quantity, columns[way].places)
                }}<span class="inline-block text-left" :style="{ minWidth: columns[way].unit }">{{
                  unitBehind(l.item.unit)
                }}</span></span
              >
              <span class="soft text-[12px]">{{ ` ${how_}` }}</span><span v-if="l.code" class="soft text-[12px] block"
                >{{ l.left === '0' ? 'nothing' : `${f.number(l.left)}${unitBehind(l.item.unit)}` }} left</span
              ></span
            >
          </li>
        </ul>
      </div>
    </template>
    <div v-if="trace.got.length" class="px-5 pb-4">
      <h3 class="label">Who got it, or something that it is in</h3>
      <ul>
        <li v-for="g in shown(trace.got)" :key="g.lot + g.name" class="row">
          <span class="min-w-0"
            ><span class="soft">{{ KINDS[g.kind] }}</span> <b>{{ g.name }}</b><template v-if="g.takers.length"
              >, {{ g.takers.join(', ') }}</template
            >
            <span class="soft text-[12px] block"
              >{{ g.item.name }} <span class="mono">{{ g.code }}</span><template v-for="s in g.slips" :key="s.id">
                ·
                <RouterLink class="go mono" :to="{ name: 'slip', params: { id: s.id } }">{{
                  s.number
                }}</RouterLink></template
              >
              · {{ f.when(g.last) }}</span
            ></span
          ><span class="mono whitespace-pre"
            >{{ f.aligned(g.quantity, columns.got.places)
            }}<span class="inline-block text-left" :style="{ minWidth: columns.got.unit }">{{
              unitBehind(g.item.unit)
            }}</span></span
          >
        </li>
      </ul>
    </div>
    <p v-if="rest" class="px-5 pb-4">
      <button type="button" class="btn btn-small" @click="whole = true">
        {{ `${rest} more: show all` }}
      </button>
    </p>
    <AskDialog :open="asking" :title="`Lot ${code}, and all it is in`" @close="asking = false">
      <form class="flex flex-col gap-3" @submit.prevent="hold">
        <p>
          {{
            trace.down.length
              ? `It and ${several(trace.down.filter(l => l.code))} may not be used any more, until each is freed.`
              : 'It may not be used any more, until it is freed.'
          }}
        </p>
        <label
          ><span class="label">From now on it is</span
          ><select v-model="how" class="field">
            <option value="recalled">recalled by its maker</option>
            <option value="held">held: not to be used for now</option>
          </select></label
        ><label><span class="label">Why</span><input v-model="why" class="field" required /></label>
        <div class="flex gap-3">
          <button class="btn btn-act" v-wants="!why.trim() ? 'Say why: it is kept with each lot.' : ''">
            Hold all of it</button
          ><button type="button" class="btn" @click="asking = false">Leave it</button>
        </div>
      </form>
    </AskDialog>
  </section>
</template>
<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 7px 0;
  border-top: 1px solid var(--hair);
}
@media (pointer: coarse) {
  .row {
    padding: 14px 0;
  }
}
</style>
