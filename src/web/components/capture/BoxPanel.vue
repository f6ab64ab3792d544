<script setup lang="ts">
/** The stand-in drum box: eight pads, its noise and its level. The harder, the louder: further down on a pad. */
import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';
import { BOX_SOUNDS } from '#core/capture/stand-in-sounds.ts';
import { isTyping } from '../../input/shortcuts.ts';
import { useCapture } from '../../stores/capture/capture.ts';
import NumberField from '../fields/NumberField.vue';

const capture = useCapture();
const struck = ref(-1);
const KEY_STRENGTH = 0.9;

function strike(pad: number, strength: number): void {
  struck.value = pad;
  capture.strike(pad, strength);
  setTimeout(() => (struck.value = -1), 120);
}

function press(event: PointerEvent, pad: number): void {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  strike(pad, Math.max(0.25, Math.min(1, 0.4 + (0.6 * (event.clientY - box.top)) / box.height)));
}

useEventListener(window, 'keydown', (event) => {
  if (isTyping(event) || event.repeat || event.altKey || event.ctrlKey || event.metaKey) return;
  const pad = Number(event.key) - 1;
  if (Number.isInteger(pad) && pad >= 0 && pad < BOX_SOUNDS.length) strike(pad, KEY_STRENGTH);
});
</script>

<template>
  <section class="box sheet" aria-labelledby="box-title" data-testid="drum-box">
    <h2 id="box-title">Stand-in drum box</h2>
    <div class="pads">
      <v-btn
        v-for="(sound, pad) in BOX_SOUNDS"
        :key="sound"
        class="pad"
        :class="{ struck: struck === pad }"
        :data-tip="`Key ${pad + 1}`"
        @pointerdown="press($event, pad)"
        >{{ sound }}</v-btn
      >
    </div>
    <div class="numbers">
      <NumberField
        v-model="capture.box.floorDb"
        label="noise"
        unit="dB"
        :min="-90"
        :max="-20"
        :reset="-58"
        hint="How loud its noise floor is"
      />
      <NumberField v-model="capture.box.levelDb" label="output" unit="dB" :min="-40" :max="6" :reset="-2" />
    </div>
    <p class="quiet small">keys 1 to 8, the harder the louder</p>
  </section>
</template>

<style scoped>
.box {
  padding: 8px 12px 10px;
  display: grid;
  gap: 8px;
  align-content: start;
}
h2 {
  font-size: 15px;
  font-weight: 660;
}
.pads {
  display: grid;
  grid-template: repeat(2, 50px) / repeat(4, minmax(0, 1fr));
  gap: 6px;
}
.pad.pad {
  height: 50px;
  min-width: 0;
  background: var(--paper);
  border: 1px solid var(--rule);
  font-size: 13px;
  touch-action: none;
}
.pad.struck {
  background: var(--signal);
  color: var(--sheet);
}
.numbers {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px;
}
.numbers :deep(.number) {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
.small {
  font-size: 13px;
}
</style>
