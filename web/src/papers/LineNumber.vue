<script setup lang="ts">
/** The number of one line of a paper, typed down the list: chosen whole when the keyboard comes, Enter and the arrows go on. */
defineProps<{ /** The line's id. */ line: string; invalid?: boolean }>()
const typed = defineModel<string>({ required: true })
/** To the next line's number or the one before; after the last, to where another is added. */
function step(e: KeyboardEvent, by: 1 | -1) {
  const all = [...document.querySelectorAll<HTMLInputElement>('[data-line]')]
  const next = all[all.indexOf(e.target as HTMLInputElement) + by]
  const box = next ?? (by > 0 ? document.querySelector<HTMLInputElement>('[data-add] input') : null)
  box?.focus()
  box?.select()
}
</script>
<template>
  <input
    v-model="typed"
    :data-line="line"
    class="field field-small field-num"
    :aria-invalid="invalid || undefined"
    autocomplete="off"
    @focus="($event.target as HTMLInputElement).select()"
    @keydown.enter.prevent="step($event, 1)"
    @keydown.down.prevent="step($event, 1)"
    @keydown.up.prevent="step($event, -1)"
  />
</template>
