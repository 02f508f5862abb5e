<script setup lang="ts">
/** The areas and groups to count: when each was counted, when it is due, and what one does with it. */
import { onMounted, ref } from 'vue'
import type { CountArea } from '@shelve/contract'
import { landOn } from '../shell/landing.ts'
import { useFormat } from '../ui/format.ts'

defineProps<{ areas: readonly CountArea[]; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{
  choose: [key: string]
  begin: [area: CountArea]
  /** A sheet that is there already, by its id. */ goOn: [sheet: string]
  rest: [area: CountArea]
  open: [area: CountArea]
}>()
const f = useFormat()
const nameOf = (a: CountArea) => a.group?.name ?? a.name
const keyOf = (a: CountArea) => a.group?.id ?? a.id
const root = ref<HTMLElement>()
/** By keyboard: ↑ ↓ from area to area, Space ticks one for paper, Enter counts it here. */
function key(e: KeyboardEvent, a: CountArea) {
  const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
  if (by) {
    e.preventDefault()
    const boxes = [...(root.value?.querySelectorAll<HTMLElement>('[data-area]') ?? [])]
    boxes[boxes.indexOf(e.target as HTMLElement) + by]?.focus()
  } else if (e.key === 'Enter' && !e.ctrlKey && !e.metaKey) {
    e.preventDefault()
    if (a.draft && !a.draft.paper) emit('goOn', a.draft.id)
    else emit('begin', a)
  }
}
onMounted(() => landOn('[data-area]'))
const due = (day: string) =>
  day < f.today()
    ? f.daysTo(day) === -1
      ? 'due since yesterday'
      : `due for ${-f.daysTo(day)} days`
    : day === f.today()
      ? 'due today'
      : f.far(day)
</script>
<template>
  <table ref="root" class="list">
    <thead>
      <tr>
        <th>Area</th>
        <th>Last counted</th>
        <th>Next</th>
        <th class="text-right!">Lines</th>
        <th><span class="sr-only">Begin</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="a in areas" :key="keyOf(a)">
        <td class="wrap-anywhere min-w-24">
          <label class="flex gap-2.5 items-center font-medium"
            ><input
              type="checkbox"
              data-area
              :checked="chosen.has(keyOf(a))"
              :aria-label="`Print a sheet of ${nameOf(a)}`"
              @change="$emit('choose', keyOf(a))"
              @keydown="key($event, a)"
            /><span
              >{{ nameOf(a)
              }}<span v-if="a.group" class="block soft text-[12px] font-normal">in {{ a.name }}</span></span
            ></label
          >
          <p v-if="a.closed && !a.group" class="text-straw text-[12px] mt-1 pl-6">
            closed for counting since {{ f.when(a.closed.since) }}, by {{ a.closed.by }}
            <button
              type="button"
              class="btn btn-small ml-1"
              :aria-label="`Open ${a.name} again`"
              @click="$emit('open', a)"
            >
              Open it again
            </button>
          </p>
        </td>
        <td>
          <RouterLink
            v-if="a.lastSlip"
            class="go whitespace-nowrap"
            :to="{ name: 'slip', params: { id: a.lastSlip.id } }"
            >{{ f.when(a.last) }}</RouterLink><span v-else class="soft">never</span
          ><button
            v-if="a.left && a.lastSlip && !a.draft"
            type="button"
            class="go touch block text-[12px] whitespace-nowrap cursor-pointer"
            :aria-label="`Count the ${a.left} lines of ${nameOf(a)} that were left`"
            @click="$emit('rest', a)"
          >
            Count the {{ a.left }} left
          </button>
        </td>
        <td class="whitespace-nowrap">
          <template v-if="a.due"
            >{{ f.date(a.due)
            }}<span class="block text-[12px]" :class="a.due <= f.today() ? 'text-buoy' : 'soft'">{{
              due(a.due)
            }}</span></template
          ><span v-else class="soft">no cycle</span>
        </td>
        <td class="num">{{ a.lines }}</td>
        <td class="text-right">
          <RouterLink
            v-if="a.draft && !a.draft.paper"
            class="btn btn-act btn-small"
            :to="{ name: 'sheet', params: { id: a.draft.id } }"
            >Go on with {{ a.draft.mine ? 'my sheet' : `the sheet of ${a.draft.by}` }}</RouterLink
          ><button
            v-else
            type="button"
            class="btn btn-small"
            :class="{ 'btn-act': a.due !== null && a.due <= f.today() }"
            @click="$emit('begin', a)"
          >
            Count it here
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>
<style scoped>
td:first-child,
th:first-child {
  padding-left: 0;
}
td:last-child {
  padding-right: 0;
}
</style>
