<script setup lang="ts">
/** A code nobody knows: make it a new item, link it to one, or leave it. */
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { CodeMeaning, IndexItem } from '@shelve/contract'
import { post, said } from '../shell/api.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import AskDialog from '../ui/AskDialog.vue'
import ItemPicker from '../ui/ItemPicker.vue'
import FoundItemForm from './FoundItemForm.vue'
import { useScan } from './store.ts'

const scan = useScan()
const session = useSession()
const index = useIndex()
const router = useRouter()
const item = ref<IndexItem | null>(null)
const pack = ref<string | null>(null)
const wrong = ref('')
watch(
  () => scan.unknown,
  () => {
    item.value = null
    pack.value = null
    wrong.value = ''
    making.value = false
  },
)
const WHY: Record<string, string> = {
  wrong_check_digit: 'Its check digit is wrong: perhaps it was read badly. Scan it once more.',
  unknown_ai: 'It looks like a GS1 code with a part that Shelve does not know.',
  not_a_date: 'It looks like a GS1 code, but a date in it is none.',
}

const making = ref(false)
/** The whole form, for whoever sets up: from there it goes back to here, with what was scanned. */
function inFull() {
  const { code } = scan.unknown!
  const { heard } = scan
  void scan.settle(null)
  void router.push({ name: 'item-new', query: { code, heard, back: router.currentRoute.value.fullPath } })
}
async function made() {
  await index.load()
  await scan.settle(await index.meaning(scan.heard))
}
async function link() {
  if (!item.value) return
  const from = scan.unknown!
  try {
    await post<CodeMeaning>('/api/codes', { code: from.code, item: item.value.id, pack: pack.value })
    await index.load()
    // All that was scanned is read anew: now it is known what a weight on it is of.
    await scan.settle(await index.meaning(scan.heard))
  } catch (e) {
    wrong.value = said(e)
  }
}
</script>
<template>
  <AskDialog :open="scan.unknown !== null" title="Nobody knows this code yet" @close="scan.settle(null)">
    <p class="mono text-[15px] break-all mb-1">{{ scan.unknown?.code }}</p>
    <p v-if="scan.unknown?.why" class="error mb-2">{{ WHY[scan.unknown.why] ?? 'It cannot be read in full.' }}</p>
    <FoundItemForm v-if="making && scan.unknown" :code="scan.unknown.code" @made="made" @leave="making = false" />
    <div v-if="!making" class="mt-3">
      <ItemPicker
        label="Link it to the item"
        placeholder="Link it to the item …"
        @pick="
          i => {
            item = i
            pack = null
          }
        "
      />
      <div v-if="item" class="mt-3">
        <p class="font-semibold">
          {{ item.name }} <span class="mono soft">{{ item.code }}</span>
        </p>
        <fieldset class="mt-2">
          <legend class="label">What does the code stand on?</legend>
          <label class="inline-flex items-center gap-2 mr-4 min-h-8"
            ><input v-model="pack" type="radio" :value="null" /> {{ item.unit }}</label
          >
          <label v-for="p in item.packs" :key="p.name" class="inline-flex items-center gap-2 mr-4 min-h-8"
            ><input v-model="pack" type="radio" :value="p.name" /> {{ p.name }} of {{ p.size }}</label
          >
        </fieldset>
      </div>
      <p v-if="wrong" class="error mt-2" role="alert">{{ wrong }}</p>
    </div>
    <div v-if="!making" class="flex flex-wrap gap-3 mt-5">
      <button
        type="button"
        class="btn btn-act"
        v-wants="!item ? 'Which item does the code belong to?' : ''"
        @click="link"
      >
        Link it
      </button>
      <button v-for="o in scan.offered" :key="o.label" type="button" class="btn" @click="(scan.settle(null), o.run())">
        {{ o.label }}
      </button>
      <button v-if="session.mayAnywhere('book')" type="button" class="btn" @click="making = true">
        New item with this code
      </button>
      <button v-if="session.maySetUp" type="button" class="btn" @click="inFull">… with all its fields</button>
      <button type="button" class="btn" @click="scan.settle(null)">Ignore it</button>
    </div>
  </AskDialog>
</template>
