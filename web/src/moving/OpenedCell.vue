<script setup lang="ts">
/** Of a container that is opened: how it is called from then on, until when it may be used, what it weighs. */
import { computed, ref } from 'vue'
import { isWeighable } from '@shelve/core'
import type { IndexItem, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import DateField from '../ui/DateField.vue'
import { useFormat } from '../ui/format.ts'

const props = defineProps<{
  line: SlipLine
  item: IndexItem | undefined
  /** What it is called and until when it may be used where nothing is said, once that is known. */ worked?:
    { readonly code: string | null; readonly expiry: string | null } | undefined
  invalid: boolean
}>()
const index = useIndex()
const f = useFormat()
const name = computed(() => props.item?.name ?? 'it')
const SILENT = { code: '', useBy: null, weight: '', weighed: 'empty' } as const
const said = <K extends keyof NonNullable<SlipLine['opened']>>(field: K) =>
  computed<NonNullable<SlipLine['opened']>[K]>({
    get: () => (props.line.opened ?? SILENT)[field],
    set: v => {
      const opened = { ...(props.line.opened ?? SILENT), [field]: v }
      const isSaid = opened.code || opened.useBy || opened.weight || opened.weighed !== 'empty'
      props.line.opened = isSaid ? opened : null
    },
  })
const code = said('code')
const useBy = said('useBy')
const weight = said('weight')
const weighed = said('weighed')
const weighable = computed(() => props.item !== undefined && isWeighable(index.measure(props.item)))
const weighing = ref(Boolean(props.line.opened?.weight))
</script>
<template>
  <div class="flex flex-col gap-1">
    <input
      v-model="code"
      class="field field-small mono name"
      :placeholder="worked?.code ?? 'its name'"
      :aria-label="`What the container of ${name} is called`"
      :aria-invalid="invalid && !!code"
      maxlength="60"
    /><DateField
      v-model="useBy"
      class="block name"
      :near="worked?.expiry ? f.date(worked.expiry) : undefined"
      :label="`Use the opened ${name} by`"
      :invalid="invalid && !!useBy"
    />
    <div v-if="weighing" class="flex gap-1">
      <select v-model="weighed" class="field field-small state" :aria-label="`Weighed: ${name}`">
        <option value="empty">empty</option>
        <option v-if="weighable" value="full">full</option></select
      ><input
        v-model="weight"
        class="field field-small field-num weight"
        placeholder="85 g"
        :aria-label="`What the container of ${name} weighs`"
        :aria-invalid="invalid && !!weight"
      />
    </div>
    <button v-else type="button" class="btn btn-quiet btn-small -ml-2 self-start" @click="weighing = true">
      Its weight
    </button>
  </div>
</template>
<style scoped>
.name {
  width: 126px;
}
.state {
  width: 62px;
  padding: 1px 2px 1px 4px;
}
.weight {
  width: 60px;
}
</style>
