<script setup lang="ts">
/** The clock of other gear: whose is followed and how steady it is, who is sent ours; and a machine to try it with. */
import { useIntervalFn } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import { useDevices } from '../../stores/keys/devices.ts';
import { useClock } from '../../stores/sound/clock.ts';
import { MACHINE_NAME, type Heard } from '../../devices/stand-in-machine.ts';
import { SIMULATED_NAME } from '../../devices/simulated-midi.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

const clock = useClock();
const devices = useDevices();
const project = useProject();
const NOBODY = '';
const MOST_MS = 500;

const sources = computed(() => {
  const names = new Set([...devices.devices.map(({ name }) => name), clock.settings.follow]);
  return [
    { value: NOBODY, words: 'nobody: our own' },
    ...[...names].filter((name) => name && name !== SIMULATED_NAME).map((name) => ({ value: name, words: name })),
  ];
});
const outputChoices = computed(() => [
  { value: NOBODY, words: 'nobody' },
  ...clock.outputs.map(({ name }) => ({ value: name, words: name })),
]);
const parts = computed(() => [
  { value: NOBODY, words: 'no part' },
  ...(project.document?.partOrder ?? []).map((id) => ({ value: id, words: project.document!.parts[id]!.name })),
]);

/** How the clock that comes stands, in words. */
const stands = computed(() => {
  const { tempoBpm, unsteadyMs, isRunning, missingMs } = clock.state;
  if (clock.settings.follow === NOBODY) return '';
  if (tempoBpm === null) return 'no clock comes yet: start it there';
  const tempo = `${tempoBpm.toFixed(1)} bpm`;
  if (missingMs > 0) return `no clock for ${(missingMs / 1000).toFixed(1)} s: playing on at ${tempo}`;
  return `${tempo}, ${isRunning ? 'runs' : 'stands'}, steady within ${Math.max(0.1, 2 * unsteadyMs).toFixed(1)} ms`;
});

const heard = ref<Heard>(clock.machine.heard);
const isMachinePlaying = ref(clock.machine.playing);
useIntervalFn(() => {
  clock.look();
  heard.value = clock.machine.heard;
  isMachinePlaying.value = clock.machine.playing;
}, 250);
const machineTempo = ref(clock.machine.tempoBpm);
const machineNoise = ref(clock.machine.noiseMs);
const hears = computed(() => {
  const { tempoBpm, unsteadyMs, isRunning, beats, laterMs, notes } = heard.value;
  if (tempoBpm === null) return notes > 0 ? `hears ${notes} notes` : 'hears nothing';
  const where = isRunning && beats !== null ? `, beat ${Math.floor(beats) + 1}` : ', stands';
  const apart =
    laterMs === null ? '' : `, ${Math.abs(laterMs).toFixed(1)} ms ${laterMs < 0 ? 'before' : 'after'} its own`;
  return `hears ${tempoBpm.toFixed(1)} bpm${where}, steady within ${(2 * unsteadyMs).toFixed(2)} ms${apart}, ${notes} notes`;
});

function toggleMachine(): void {
  if (clock.machine.playing) clock.machine.stop();
  else clock.machine.play();
  isMachinePlaying.value = clock.machine.playing;
}
function setTempo(to: number): void {
  clock.machine.tempoBpm = machineTempo.value = to;
}
function setNoise(to: number): void {
  clock.machine.noiseMs = machineNoise.value = to;
}
</script>

<template>
  <div class="clock" data-testid="clock-card">
    <b>Clock of others</b>
    <ChoiceField
      class="row"
      label="follow"
      hint="Start, stop, place and tempo come from there"
      :model-value="clock.settings.follow"
      :choices="sources"
      @put="clock.follow($event)"
    />
    <p v-if="stands" class="quiet small" data-testid="clock-state">{{ stands }}</p>
    <NumberField
      v-if="clock.settings.follow"
      class="row"
      label="earlier by"
      hint="What the way through the other machine takes"
      unit="ms"
      :min="-MOST_MS"
      :max="MOST_MS"
      :digits="1"
      :reset="0"
      :model-value="clock.settings.earlierMs"
      @update:model-value="clock.settings.earlierMs = $event"
    />
    <v-divider role="presentation" />
    <div class="row">
      <span class="quiet">send to</span>
      <div class="outputs">
        <span v-if="clock.outputs.length === 0" class="quiet small">no output: connect MIDI, or open the machine</span>
        <v-btn
          v-for="output in clock.outputs"
          :key="output.id"
          :aria-pressed="clock.settings.sendTo.includes(output.name)"
          data-tip="Clock, start, stop, continue and place"
          @click="clock.toggleOutput(output.name)"
          >{{ output.name }}</v-btn
        >
      </div>
    </div>
    <NumberField
      class="row"
      label="later by"
      hint="What is sent goes out so much later"
      unit="ms"
      :min="-50"
      :max="MOST_MS"
      :digits="1"
      :reset="0"
      :model-value="clock.settings.delayMs"
      @update:model-value="clock.settings.delayMs = $event"
    />
    <ChoiceField
      class="row"
      label="notes to"
      :model-value="clock.settings.notesTo"
      :choices="outputChoices"
      @put="clock.settings.notesTo = $event"
    />
    <template v-if="clock.settings.notesTo">
      <ChoiceField
        class="row"
        label="of"
        :model-value="clock.settings.notesOf"
        :choices="parts"
        @put="clock.settings.notesOf = $event"
      />
      <NumberField
        class="row"
        label="channel"
        :min="1"
        :max="16"
        :model-value="clock.settings.notesChannel"
        @update:model-value="clock.settings.notesChannel = Math.round($event)"
      />
    </template>
    <v-divider role="presentation" />
    <v-btn
      v-if="!clock.isMachineOpen"
      data-tip="A machine that is not there: it sends a clock, and listens to ours"
      @click="clock.openMachine()"
      >stand-in machine</v-btn
    >
    <template v-else>
      <div class="head">
        <b>{{ MACHINE_NAME }}</b>
        <v-btn :aria-pressed="isMachinePlaying" @click="toggleMachine">{{
          isMachinePlaying ? 'stop it' : 'start it'
        }}</v-btn>
        <v-btn @click="clock.closeMachine()">close</v-btn>
      </div>
      <NumberField
        class="row"
        label="its tempo"
        unit="bpm"
        :min="30"
        :max="300"
        :digits="2"
        :model-value="machineTempo"
        @update:model-value="setTempo"
      />
      <NumberField
        class="row"
        label="unsteady by"
        unit="ms"
        :min="0"
        :max="10"
        :digits="1"
        :model-value="machineNoise"
        @update:model-value="setNoise"
      />
      <p class="quiet small" data-testid="machine-hears">{{ hears }}</p>
    </template>
  </div>
</template>

<style scoped>
.clock {
  display: grid;
  gap: 8px;
  width: 330px;
}
.row {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  align-items: center;
  gap: 8px;
}
.outputs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.small {
  font-size: 13px;
}
.head {
  display: flex;
  align-items: center;
  gap: 6px;
}
.head b {
  flex: 1;
}
</style>
