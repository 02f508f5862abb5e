<script setup lang="ts">
/** Where else a thing lies that is short here; a move of it is one click away, as a draft to be looked at. */
import { useRoute } from 'vue-router'
import { decimal, plainly } from '@shelve/core'
import { useSession } from '../shell/session.ts'
import { useBeginning } from '../ledger/begin-slip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{
  item: string
  name: string
  /** Where it is short. */ place: string
  bring: string
  elsewhere: readonly { id: string; place: string; available: string; spare: string }[]
  most?: number
}>()
const session = useSession()
const route = useRoute()
const begin = useBeginning()
const f = useFormat()
type Lies = (typeof props.elsewhere)[number]
/** What is wanted, but no more than lies over there, or lies there at all where nothing does. */
function amount(e: Lies): string {
  const [want, there] = [decimal(props.bring), decimal(e.spare === '0' ? e.available : e.spare)]
  return plainly(want > 0n && want < there ? want : there)
}
const move = (e: Lies) =>
  begin(
    { ...freshContent('move', e.id), lines: [freshLine({ item: props.item, typed: amount(e), to: props.place })] },
    { back: route.fullPath },
  )
</script>
<template>
  <span v-for="e in elsewhere.slice(0, most ?? 2)" :key="e.id" class="flex flex-wrap items-baseline gap-x-1"
    ><span
      >{{ f.number(e.available) }} in {{ e.place
      }}<span v-if="e.spare !== '0'" class="soft">, {{ f.number(e.spare) }} to spare</span></span
    >
    <button
      v-if="session.may('book', e.id) && session.may('book', place)"
      type="button"
      class="btn btn-quiet btn-small"
      :aria-label="`Bring ${name} from ${e.place}`"
      @click.stop="move(e)"
    >
      Bring it
    </button></span
  >
  <span v-if="!elsewhere.length" class="soft">nowhere</span>
</template>
