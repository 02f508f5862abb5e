<script setup lang="ts">
/** A level at a glance: solid available, hatched not usable now, dashed coming; a notch for the minimum, a post for the target, which always stands at three quarters. */
import { computed } from 'vue'
import type { LevelsView } from '@shelve/contract'

const props = defineProps<{ levels: LevelsView; before?: LevelsView }>()
// Widths on a screen only: fractions of a track, not amounts.
const n = (t: string | null | undefined) => (t ? Number(t) : 0)
const full = computed(() => {
  const target = n(props.levels.target) || n(props.levels.minimum) * 2
  return target > 0 ? target / 0.75 : Math.max(n(props.levels.onHand), n(props.before?.onHand), 1) * 1.25
})
const part = (x: number) => Math.max(0, Math.min(100, (x / full.value) * 100))
const was = computed(() => n((props.before ?? props.levels).available))
const is = computed(() => n(props.levels.available))
const brought = computed(() => Math.max(0, is.value - was.value))
const taken = computed(() => Math.max(0, was.value - is.value))
const solid = computed(() => Math.min(was.value, is.value))
const locked = computed(() => n(props.levels.onHand) - is.value)
const beyond = computed(() => Math.max(is.value, was.value) + locked.value > full.value)
</script>
<template>
  <!-- What may be missing is hidden, not taken out: lines of a long list are filled anew many times a second. -->
  <span class="bar" :class="{ beyond }" aria-hidden="true">
    <span class="track">
      <i class="solid" :style="{ width: part(solid) + '%' }" />
      <i v-if="brought" class="brought" :style="{ width: part(brought) + '%' }" />
      <i v-if="taken" class="taken" :style="{ width: part(taken) + '%' }" />
      <i v-show="locked > 0" class="locked" :style="{ width: part(locked) + '%' }" />
      <i v-show="n(levels.coming) > 0" class="coming" :style="{ width: part(n(levels.coming)) + '%' }" />
    </span>
    <b v-show="levels.target" class="post" :style="{ left: part(n(levels.target)) + '%' }" />
    <b v-show="levels.minimum" class="notch" :style="{ left: part(n(levels.minimum)) + '%' }" />
  </span>
</template>
<style scoped>
.bar {
  display: block;
  position: relative;
  height: 20px;
  min-width: 60px;
}
.track {
  position: absolute;
  inset: 3px 0 auto;
  height: 11px;
  display: flex;
  background: var(--track);
  border-radius: 2px;
  overflow: hidden;
}
.beyond .track {
  border-radius: 2px 0 0 2px;
  clip-path: polygon(0 0, 100% 0, calc(100% - 4px) 25%, 100% 50%, calc(100% - 4px) 75%, 100% 100%, 0 100%);
}
i {
  display: block;
  height: 100%;
  flex: none;
}
.solid {
  background: var(--kelp);
}
.brought {
  background: var(--this);
}
.taken {
  background: repeating-linear-gradient(90deg, var(--this) 0 2px, transparent 2px 5px);
  outline: 1px solid var(--this);
  outline-offset: -1px;
}
.locked {
  background: repeating-linear-gradient(135deg, var(--kelp) 0 2px, var(--track) 2px 5px);
}
.coming {
  border: 1px dashed var(--tide);
  border-left: 0;
}
.post {
  position: absolute;
  top: 0;
  width: 2px;
  height: 17px;
  background: var(--ink);
  transform: translateX(-1px);
}
.notch {
  position: absolute;
  top: 14px;
  width: 0;
  height: 0;
  border: 5px solid transparent;
  border-top: 0;
  border-bottom-color: var(--ink);
  transform: translateX(-5px);
}
</style>
