<script setup lang="ts">
/** A job or a cost centre, found by typing; a job that is not there yet is made from here. */
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, nextTick, ref, watch } from 'vue'
import { beginsWith, exactLetters, foundBy } from '@shelve/core'
import { post, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { typedUnderWay } from '../shell/under-way.ts'
import { useParties } from './parties.ts'

export interface Receiver {
  readonly job: string | null
  readonly costCentre: string | null
}
interface Choice {
  readonly key: string
  readonly name: string
  readonly note: string
  readonly who: Receiver | null
}
const props = defineProps<{
  modelValue: Receiver
  label: string
  invalid?: boolean
  /** Only jobs are meant, no cost centres. */ jobs?: boolean
}>()
const emit = defineEmits<{
  'update:modelValue': [who: Receiver]
  /** Somebody is chosen: on to what comes next. */ done: []
}>()
const parties = useParties()
const session = useSession()
void parties.need()
const words = ref('')
const wrong = ref('')
const all = computed<Choice[]>(() => [
  ...parties.jobs
    .filter(j => j.active)
    .map(j => ({
      key: `j${j.id}`,
      name: j.name,
      note: ['job', j.code, j.costCentre?.name].filter(Boolean).join(' · '),
      who: { job: j.id, costCentre: null },
    })),
  ...(props.jobs ? [] : parties.centres)
    .filter(c => c.active)
    .map(c => ({
      key: `c${c.id}`,
      name: c.name,
      note: ['cost centre', c.code].filter(Boolean).join(' · '),
      who: { job: null, costCentre: c.id },
    })),
])
function foundIn(said: string): Choice[] {
  const of = exactLetters(said).split(/\s+/).filter(Boolean)
  const among = (fits: (text: string, word: string) => boolean) =>
    all.value.filter(c => of.every(w => fits(` ${foundBy(`${c.name} ${c.note}`)}`, w)))
  // A word means what begins with it; only where nothing does, what it stands in.
  const begins = among((text, w) => text.includes(` ${w}`))
  const rows = begins.length ? begins : among((text, w) => text.includes(w))
  // Whose name begins with all that was typed is meant before whose name only begins with its first word.
  const name = said.trim()
  const typed = exactLetters(name)
  const first = (c: Choice) => (beginsWith(c.name, typed) ? 0 : beginsWith(c.name, of[0] ?? '') ? 1 : 2)
  // What is new is known once the names are there.
  return [
    ...rows.sort((a, b) => first(a) - first(b)),
    ...(parties.there &&
    session.mayAnywhere('book') &&
    name &&
    !all.value.some(c => exactLetters(c.name) === exactLetters(name))
      ? [{ key: 'new', name: `New job “${name}”`, note: '', who: null }]
      : []),
  ]
}
const found = computed(() => foundIn(words.value))
/** As many as anybody looks through; a new one is always offered. */
const MOST = 60
const offered = computed(() =>
  found.value.length > MOST + 1
    ? [...found.value.slice(0, MOST), ...found.value.filter(c => c.key === 'new')]
    : found.value,
)
const chosen = computed(
  () =>
    all.value.find(c => c.who!.job === props.modelValue.job && c.who!.costCentre === props.modelValue.costCentre) ??
    null,
)
/** Whoever is chosen; while somebody types the field says what they type, whoever is meant by it so far. */
const shown = computed(() => chosen.value?.name ?? parties.nameOf(props.modelValue))
/** What is typed far enough to mean one alone is meant, whether it is chosen from the list or left standing; also where the names come after it. */
watch([words, found], () => {
  const fits = words.value.trim().length > 2 ? found.value.filter(c => c.who) : []
  // A name that is typed whole means the one that is called just that, also where others begin with it.
  const whole = fits.filter(c => exactLetters(c.name) === exactLetters(words.value.trim()))
  const [alone] = fits.length === 1 ? fits : whole.length === 1 ? whole : []
  if (alone) emit('update:modelValue', alone.who!)
})
async function left() {
  // Whoever goes on before the names have come meant what they typed; the watch above has its turn first.
  if (words.value.trim() && !parties.there) await typedUnderWay(parties.need().then(() => nextTick()))
  words.value = ''
}
async function pick(choice: Choice | null) {
  wrong.value = ''
  let who = choice?.who ?? { job: null, costCentre: null }
  if (choice?.key === 'new') {
    const name = words.value.trim()
    try {
      // Out of its name it gets a code that no other has, of which nobody knows all.
      const { id } = await post<{ id: string }>('/api/jobs', { name, costCentre: null })
      parties.forget()
      await parties.need()
      who = { job: id, costCentre: null }
    } catch (e) {
      wrong.value = said(e)
      return
    }
  }
  words.value = ''
  emit('update:modelValue', who)
  // The list closes first: as long as it is open, leaving the field chooses once more.
  if (choice) void nextTick(() => emit('done'))
}
/** Somebody went down the list: Enter takes what is marked; else the first that is found, or goes on where somebody is chosen. */
let steered = false
/** Chosen by a press on it, or by Enter on what is marked. Merely leaving the box, by Tab or by what a scan moves, chooses nobody. */
let meant = false
function choose(choice: Choice | null) {
  if (meant) void pick(choice)
  meant = false
}
/** A hand empties the box and means nobody. A burst that is taken out of it again is no hand: a card may have said who it is meanwhile. */
function typed(e: Event) {
  const text = e.isTrusted ? (e.target as HTMLInputElement).value : ''
  words.value = text
  steered = false
  if (e.isTrusted && !text) emit('update:modelValue', { job: null, costCentre: null })
}
/**
 * Typed faster than the names came: Enter means what it would have meant then. What the box says by now is something else: it
 * was left, or something was scanned there; whoever was chosen or typed since is meant.
 */
async function pickLate(said: string, box: EventTarget | null) {
  const before = props.modelValue
  await parties.need()
  await nextTick()
  const [first] = foundIn(said)
  const is = (who: Receiver) => props.modelValue.job === who.job && props.modelValue.costCentre === who.costCentre
  if (!first?.who || (words.value.trim() && words.value !== said) || !(is(before) || is(first.who))) return
  // Who has gone on to another field stays there.
  if (document.activeElement === box) void pick(first)
  else emit('update:modelValue', first.who)
}
async function key(e: KeyboardEvent, open: boolean) {
  if (e.key === 'ArrowDown' || e.key === 'ArrowUp') steered = true
  if (e.key === 'Enter' && steered) meant = true
  if (e.key !== 'Enter' || e.ctrlKey || e.metaKey || !open || steered) return
  if (!parties.there && words.value.trim()) {
    e.preventDefault()
    e.stopPropagation()
    await typedUnderWay(pickLate(words.value, e.target))
    return
  }
  const [first] = words.value.trim() ? found.value : []
  if (!first && (words.value || !shown.value)) return
  e.preventDefault()
  e.stopPropagation()
  if (first) void pick(first)
  else void nextTick(() => emit('done'))
}
</script>
<template>
  <Combobox
    v-slot="{ open }"
    :model-value="chosen"
    by="key"
    nullable
    immediate
    as="div"
    class="relative"
    @update:model-value="choose"
  >
    <ComboboxInput
      class="field field-small"
      :aria-label="label"
      :aria-invalid="invalid || undefined"
      :placeholder="jobs ? 'Type a job' : 'Type a job or a cost centre'"
      :display-value="() => words || shown"
      autocomplete="off"
      data-for
      @change="typed"
      @focus="($event.target as HTMLInputElement).select()"
      @keydown.capture="key($event, open)"
      @blur="left"
    />
    <ComboboxOptions
      v-if="open"
      static
      class="card absolute left-0 right-0 z-30 mt-1 max-h-80 overflow-y-auto py-1 over min-w-64"
    >
      <ComboboxOption v-for="c in offered" :key="`${words} ${c.key}`" v-slot="{ active }" :value="c">
        <div class="px-3 py-2 cursor-pointer" :class="{ 'bg-frost': active }" @pointerdown="meant = true">
          <span>{{ c.name }}</span> <span class="soft text-[12px]">{{ c.note }}</span>
        </div>
      </ComboboxOption>
      <div v-if="found.length > offered.length" class="px-3 py-2 soft">
        {{ found.length - offered.length }} more. Type a part of the name.
      </div>
      <div v-if="!found.length" class="px-3 py-2 soft">
        {{
          !parties.there
            ? 'The names are on their way.'
            : words
              ? `Nothing is called “${words}”.`
              : jobs
                ? 'There is no job yet.'
                : 'There is no job and no cost centre yet.'
        }}
      </div>
    </ComboboxOptions>
    <p v-if="wrong" class="error" role="alert">{{ wrong }}</p>
  </Combobox>
</template>
