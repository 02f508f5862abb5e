<script setup lang="ts">
/** Into which place a line goes, or straight to whoever it is for. */
import { computed } from 'vue'
import type { IndexItem, Place, SlipKind, SlipLine } from '@shelve/contract'
import { useParties } from '../places/parties.ts'
import { useSession } from '../shell/session.ts'

const props = defineProps<{
  line: SlipLine
  kind: SlipKind
  item: IndexItem | undefined
  bins: Place[]
  /** A place as it is called within the area where one works. */ brief: (
    path: string | undefined,
  ) => string | undefined
  /** Where it would go by itself. */ usual: string | undefined
  wrong: boolean
}>()
const session = useSession()
const parties = useParties()
if (props.kind === 'receipt') void parties.need()
const into = computed({
  get: () =>
    props.line.direct
      ? props.line.direct.job
        ? `j${props.line.direct.job}`
        : `c${props.line.direct.costCentre ?? ''}`
      : props.line.to,
  set: v => {
    const to = v && /^[jc]/.test(v) && v.length > 36 ? v : null
    props.line.direct = to
      ? {
          job: to[0] === 'j' ? to.slice(1) : null,
          costCentre: to[0] === 'c' ? to.slice(1) : null,
          person: props.line.direct?.person ?? '',
        }
      : null
    props.line.to = to ? null : v
  },
})
const places = computed(() => (props.kind === 'move' ? session.places.filter(p => p.active) : props.bins))
const jobs = computed(() => (props.kind === 'receipt' ? parties.jobs.filter(x => x.active) : []))
const centres = computed(() => (props.kind === 'receipt' ? parties.centres.filter(x => x.active) : []))
</script>
<template>
  <select
    v-model="into"
    class="field field-small place"
    :class="{ wide: line.direct }"
    :aria-label="`Into which place: ${item?.name}`"
    :aria-invalid="wrong"
  >
    <option :value="null">{{ kind === 'move' ? 'where to?' : brief(usual) || 'usual bin' }}</option>
    <optgroup v-if="kind === 'receipt'" label="On the shelf">
      <option v-for="b in places" :key="b.id" :value="b.id">{{ brief(b.path) }}</option>
    </optgroup>
    <template v-else
      ><option v-for="b in places" :key="b.id" :value="b.id">{{ brief(b.path) }}</option></template
    >
    <optgroup v-if="jobs.length" label="Straight to a job">
      <option v-for="j in jobs" :key="j.id" :value="`j${j.id}`">{{ j.name }}</option>
    </optgroup>
    <optgroup v-if="centres.length" label="Straight to a cost centre">
      <option v-for="c in centres" :key="c.id" :value="`c${c.id}`">{{ c.name }}</option>
    </optgroup></select
  ><input
    v-if="line.direct"
    v-model="line.direct.person"
    class="field field-small place wide mt-1"
    :aria-label="`Who gets it: ${item?.name}`"
    placeholder="for whom"
    maxlength="200"
  />
</template>
<style scoped>
.place {
  width: 84px;
  padding: 1px 2px 1px 6px;
}
.wide {
  width: 128px;
}
</style>
