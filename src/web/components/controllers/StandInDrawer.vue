<script setup lang="ts">
/** The stand-in controller, a drawer over the transport: what it sends goes the way of a device that is plugged in. */
import { onBeforeUnmount, onMounted, useTemplateRef } from 'vue';
import { isBlackKey } from '#core/units/pitch.ts';
import { keyName } from '../../canvas/key-names.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useSession } from '../../stores/document/session.ts';
import { useLearning } from '../../stores/keys/learning.ts';
import { DIALS, FIRST_DIAL, MODULATION, PADS, STAND_IN_NAME, useStandIn } from '../../stores/keys/stand-in.ts';
import type { MappingSource } from '#core/document/schema.ts';
import { isSameMoved } from '#core/queries/mappings.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { zonesOnKey } from '#core/queries/zones.ts';
import { ICONS } from '../../theme/icons.ts';
import IconButton from '../shared/IconButton.vue';
import DialFace from './DialFace.vue';

const standIn = useStandIn();
const session = useSession();
const dialogs = useDialogs();
const learning = useLearning();
const sounds = usePartSounds();
const bendBox = useTemplateRef<HTMLElement>('bendBox');
const modulationBox = useTemplateRef<HTMLElement>('modulationBox');

const isLearned = (source: MappingSource) =>
  learning.moved?.device === STAND_IN_NAME && isSameMoved(learning.moved.source, source);
const control = (number: number): MappingSource => ({ kind: 'control', number });

/** Softer where it is pressed further up. */
function strengthAt(event: PointerEvent): number {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  return Math.max(0.1, Math.min(1, 0.25 + (0.75 * (event.clientY - box.top)) / box.height));
}

function press(event: PointerEvent, key: number, leans: boolean): void {
  const from = event.clientY;
  standIn.press(key, strengthAt(event), event.timeStamp);
  followPointer(event, {
    move: (moved) => {
      if (leans) standIn.lean(Math.abs(moved.clientY - from) / 60);
    },
    end: () => letGo(key, leans),
    cancel: () => letGo(key, leans),
  });
}

function letGo(key: number, leans: boolean): void {
  if (leans) standIn.lean(0);
  standIn.release(key);
}

function bend(event: PointerEvent): void {
  const go = (at: PointerEvent) =>
    standIn.bendTo((2 * localPoint(at, bendBox.value!).x) / bendBox.value!.clientWidth - 1);
  go(event);
  // As a wheel with a spring it comes back.
  followPointer(event, { move: go, end: () => standIn.bendTo(0), cancel: () => standIn.bendTo(0) });
}

function modulate(event: PointerEvent): void {
  const go = (at: PointerEvent) =>
    standIn.modulate((localPoint(at, modulationBox.value!).x / modulationBox.value!.clientWidth) * 127);
  go(event);
  followPointer(event, { move: go, end: () => undefined, cancel: () => undefined });
}

function colourOf(key: number): string {
  const [placed] = zonesOnKey(session.zones, key);
  return placed ? sounds.colourOf(placed) : 'transparent';
}

function labelOf(key: number): string {
  const [placed] = zonesOnKey(session.zones, key);
  return placed ? (placed.at.index < 0 ? 'loop' : `${placed.at.index + 1} ${placed.at.label}`) : '';
}

function toggleLearning(): void {
  if (learning.isOn) learning.end();
  else learning.begin();
}

onMounted(() => standIn.plugIn());
onBeforeUnmount(() => {
  standIn.unplug();
  learning.end();
});
</script>

<template>
  <section class="drawer" :aria-label="STAND_IN_NAME" data-testid="stand-in">
    <header>
      <h2>{{ STAND_IN_NAME }}</h2>
      <span class="quiet one-line about">
        <template v-if="learning.isOn && learning.target"
          >{{ learning.words }}: move a dial, press a pad or a key · Esc leaves it</template
        >
        <template v-else-if="learning.isOn && learning.moved">now choose a setting · Esc leaves it</template>
        <template v-else-if="learning.isOn"
          >choose a setting, and move a dial, in either order · Esc leaves it</template
        >
        <template v-else>plays {{ session.part?.name }}</template>
      </span>
      <span class="quiet">lowest</span>
      <IconButton icon="earlier" words="An octave lower" @click="standIn.octave--" />
      <span class="mono lowest">{{ keyName(standIn.lowest) }}</span>
      <IconButton icon="later" words="An octave higher" @click="standIn.octave++" />
      <v-btn
        :prepend-icon="ICONS.learn"
        :aria-pressed="learning.isOn"
        data-tip="Choose a setting and move a dial, in either order: from then on that moves it"
        @click="toggleLearning"
        >learn</v-btn
      >
      <IconButton icon="close" words="Close the stand-in controller" @click="dialogs.standIn = false" />
    </header>
    <div class="dials">
      <DialFace
        v-for="dial in DIALS"
        :key="dial"
        :value="standIn.dials[dial - 1]!"
        :label="`dial ${dial}`"
        :words="standIn.wordsOf(control(FIRST_DIAL + dial - 1))"
        :learned="isLearned(control(FIRST_DIAL + dial - 1))"
        @turn="standIn.turn(dial - 1, $event)"
      />
    </div>
    <div class="foot">
      <div class="pads">
        <v-btn
          v-for="pad in PADS"
          :key="pad"
          class="pad"
          :class="{
            down: standIn.held.has(standIn.padKey(pad - 1)),
            learned: isLearned({ kind: 'key', number: standIn.padKey(pad - 1) }),
          }"
          :aria-label="`pad ${pad}`"
          :style="{ '--sound': colourOf(standIn.padKey(pad - 1)) }"
          @pointerdown="press($event, standIn.padKey(pad - 1), true)"
        >
          <span class="mono quiet">{{ pad }}</span>
          <span class="one-line">{{
            standIn.wordsOf({ kind: 'key', number: standIn.padKey(pad - 1) }) ||
            labelOf(standIn.padKey(pad - 1)) ||
            'empty'
          }}</span>
        </v-btn>
      </div>
      <div class="middle">
        <div
          ref="bendBox"
          class="strip"
          role="slider"
          tabindex="0"
          aria-label="bend"
          aria-valuemin="-100"
          aria-valuemax="100"
          :aria-valuenow="Math.round(standIn.bend * 100)"
          @pointerdown="bend"
        >
          <span class="quiet">bend {{ standIn.wordsOf({ kind: 'bend' }) }}</span>
          <i :style="{ left: `${50 + standIn.bend * 50}%` }" />
        </div>
        <div
          ref="modulationBox"
          class="strip"
          role="slider"
          tabindex="0"
          aria-label="modulation"
          aria-valuemin="0"
          aria-valuemax="127"
          :aria-valuenow="standIn.modulation"
          @pointerdown="modulate"
        >
          <b :style="{ width: `${(standIn.modulation / 127) * 100}%` }" />
          <span class="quiet">modulation {{ standIn.wordsOf(control(MODULATION)) }}</span>
          <i :style="{ left: `${(standIn.modulation / 127) * 100}%` }" />
        </div>
        <div class="keys" role="group" aria-label="Keys">
          <v-btn
            v-for="key in standIn.keys"
            :key="key"
            class="key"
            :class="{ black: isBlackKey(key), down: standIn.held.has(key) }"
            :aria-label="keyName(key)"
            :style="{ '--sound': colourOf(key) }"
            @pointerdown="press($event, key, false)"
          >
            <span v-if="key % 12 === 0" class="mono name">{{ keyName(key) }}</span>
          </v-btn>
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.drawer {
  border-top: 2px solid var(--ink);
  background: var(--paper);
  padding: 6px 14px 10px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  user-select: none;
}
header {
  display: flex;
  align-items: center;
  gap: 8px;
}
h2 {
  font-size: 17px;
  font-weight: 660;
}
.about {
  flex: 1;
}
.lowest {
  width: 34px;
  text-align: center;
}
.dials {
  display: grid;
  grid-template-columns: repeat(8, minmax(0, 1fr));
  gap: 8px;
}
.foot {
  display: grid;
  grid-template-columns: minmax(220px, 1fr) 2fr;
  gap: 12px;
}
.pads {
  display: grid;
  grid-template: repeat(2, 52px) / repeat(4, minmax(0, 1fr));
  gap: 6px;
}
.pad.pad {
  height: auto;
  min-width: 0;
  padding: 2px 6px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-bottom: 4px solid var(--sound);
  font-size: 13px;
  font-weight: 400;
  touch-action: none;
}
.pad :deep(.v-btn__content) {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  justify-items: start;
  width: 100%;
}
.pad.down,
.key.key.down {
  background: var(--signal);
  color: var(--sheet);
}
.pad.learned {
  outline: 2px solid var(--sea);
}
.middle {
  display: grid;
  grid-template: 22px 1fr / repeat(2, minmax(0, 1fr));
  gap: 6px 12px;
}
.strip {
  position: relative;
  background: var(--rule);
  padding: 1px 8px;
  font-size: 13px;
  cursor: ew-resize;
  touch-action: none;
}
.strip i {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 6px;
  margin-left: -3px;
  background: var(--ink);
}
.strip b {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--sea);
  opacity: 0.35;
}
.strip span {
  position: relative;
}
.keys {
  grid-column: 1 / -1;
  display: flex;
  gap: 1px;
  height: 76px;
  align-items: flex-start;
}
.key.key {
  flex: 1 1 0;
  min-width: 0;
  height: 76px;
  padding: 0;
  border-radius: 0 0 2px 2px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-bottom: 5px solid var(--sound);
  align-items: flex-end;
  touch-action: none;
}
.key.key.black {
  height: 48px;
  background: var(--foot);
}
.name {
  font-size: 13px;
  color: var(--ink-quiet);
}
@media (max-width: 1000px) {
  .dials {
    grid-template-columns: repeat(4, minmax(0, 1fr));
  }
  .foot {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
