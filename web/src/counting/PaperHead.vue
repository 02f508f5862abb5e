<script setup lang="ts">
/** Over a sheet that is entered: which it is, how far it is, and its pages. */
import type { PrintedSheetView } from '@shelve/contract'
import { useFormat } from '../ui/format.ts'

defineProps<{
  sheet: PrintedSheetView
  pages: readonly { readonly n: number; readonly counted: number; readonly lines: readonly unknown[] }[]
  page: number
  review: boolean
}>()
defineEmits<{ turn: [page: number]; review: [] }>()
const f = useFormat()
</script>
<template>
  <header class="flex flex-wrap items-end gap-x-5 gap-y-2 mb-3">
    <div>
      <p class="soft text-[12px]">
        Sheet {{ sheet.number }}, printed {{ f.when(sheet.printedAt) }} by {{ sheet.printedBy }}
      </p>
      <h1>{{ sheet.group ? `${sheet.group.name}, ${sheet.placeName}` : sheet.placeName }}</h1>
    </div>
    <p class="grow text-right">
      <b class="mono">{{ pages.reduce((n, p) => n + p.counted, 0) }}</b> of
      {{ pages.reduce((n, p) => n + p.lines.length, 0) }}
      <span class="soft">· {{ sheet.blind ? 'blind' : 'with figures' }}</span>
    </p>
    <nav class="flex flex-wrap gap-1" aria-label="Pages">
      <button
        v-for="p in pages"
        :key="p.n"
        type="button"
        class="btn btn-small"
        :class="{ 'btn-act': !review && page === p.n }"
        :aria-pressed="!review && page === p.n"
        @click="$emit('turn', p.n)"
      >
        Page {{ p.n }}<span class="mono opacity-80">&nbsp;{{ p.counted }}/{{ p.lines.length }}</span></button
      ><button
        type="button"
        class="btn btn-small"
        :class="{ 'btn-act': review }"
        :aria-pressed="review"
        @click="$emit('review')"
      >
        Review
      </button>
    </nav>
  </header>
</template>
