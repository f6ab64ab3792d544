<script setup lang="ts">
/** Keyboards: what is plugged in, which part each plays, and a light that shows that something arrives. */
import { computed } from 'vue';
import { midiWords } from '../../devices/midi.ts';
import { tip } from '../../input/shortcuts.ts';
import { notes } from '../../audio/services.ts';
import { MIDDLE_OCTAVES, middleOctave } from '../../canvas/key-names.ts';
import { SIMULATED_CONTROL, SIMULATED_ID } from '../../devices/simulated-midi.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useDevices } from '../../stores/keys/devices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useRecentPresses } from '../../stores/keys/recent-presses.ts';
import { useTyping } from '../../stores/keys/typing.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

const devices = useDevices();
const dialogs = useDialogs();
const project = useProject();
const presses = useRecentPresses();
const typing = useTyping();
const connect = async () => (await import('../../stores/keys/connecting.ts')).connectDevices();

const CHOSEN = '';
const octaves = MIDDLE_OCTAVES.map((value) => ({ value, words: `C${value}` }));
const parts = computed(() => [
  { value: CHOSEN, words: 'the chosen part' },
  ...(project.document?.partOrder ?? []).map((id) => ({ value: id, words: project.document!.parts[id]!.name })),
]);
</script>

<template>
  <v-card class="menu" data-testid="devices-menu">
    <div v-for="device in devices.devices" :key="device.id" class="device">
      <span
        class="light"
        :class="{ on: devices.lit.has(device.id) }"
        role="img"
        :aria-label="devices.lit.has(device.id) ? 'plays' : 'silent'"
      />
      <b class="one-line">{{ device.name }}</b>
      <ChoiceField
        class="part"
        :label="`Part that ${device.name} plays`"
        :show-label="false"
        :model-value="device.partId ?? CHOSEN"
        :choices="parts"
        @put="devices.give(device.name, $event === CHOSEN ? null : $event)"
      />
      <v-btn
        v-if="device.id === SIMULATED_ID"
        :aria-pressed="devices.isSimulating"
        data-tip="It plays a short phrase"
        @click="devices.toggleSimulated()"
        >{{ devices.isSimulating ? 'stop' : 'play' }}</v-btn
      >
      <v-btn
        v-if="device.id === SIMULATED_ID"
        :aria-pressed="devices.controllerIsDown"
        :data-tip="`Its pedal, controller ${SIMULATED_CONTROL}: down, or up again`"
        @click="devices.toggleController()"
        >pedal</v-btn
      >
    </div>
    <div class="device">
      <span class="quiet words">{{ midiWords() }}</span>
      <v-btn :disabled="devices.state === 'asking'" @click="connect">connect</v-btn>
    </div>
    <div class="device">
      <span class="quiet words">Eight pads, eight dials, two octaves: for trying out what a device would do</span>
      <v-btn :data-tip="tip('stand-in')" :aria-pressed="dialogs.standIn" @click="dialogs.standIn = !dialogs.standIn"
        >stand-in controller</v-btn
      >
    </div>
    <v-divider role="presentation" />
    <div class="device">
      <span class="words">Letters</span>
      <NumberField
        label="octave"
        :data-tip="tip('octave-up')"
        :model-value="typing.octave"
        :min="-5"
        :max="5"
        :reset="0"
        @update:model-value="typing.octave = Math.round($event)"
      />
      <NumberField
        label="strength"
        :data-tip="tip('harder')"
        :model-value="typing.strength"
        :min="1"
        :max="127"
        :reset="114"
        @update:model-value="typing.strength = Math.round($event)"
      />
    </div>
    <ChoiceField
      label="middle C (note 60) is called"
      hint="Changes the names of keys, and nothing else"
      :model-value="middleOctave"
      :choices="octaves"
      @put="middleOctave = $event"
    />
    <p class="quiet small">Shift, held while letters are down, is the pedal.</p>
    <div class="device">
      <v-switch v-model="presses.choosesSounds" label="a key chooses its sound" hide-details />
      <v-btn :data-tip="tip('sound-off')" @click="notes.allSoundOff()">all sound off</v-btn>
    </div>
  </v-card>
</template>

<style scoped>
.menu {
  padding: 10px 12px;
  width: 430px;
  display: grid;
  gap: 8px;
}
.device {
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 0;
}
.device b,
.words {
  flex: 1;
}
.part {
  width: 150px;
}
.light {
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 1px solid var(--ink-quiet);
  flex: none;
}
.light.on {
  background: var(--signal);
  border-color: var(--signal);
}
</style>
