<script setup lang="ts">
/** Capture: hits from an input fall onto keys, one after another; or the input is recorded as it comes. */
import { computed, onBeforeUnmount, onMounted } from 'vue';
import { useRouter } from 'vue-router';
import BoxPanel from '../components/capture/BoxPanel.vue';
import LevelPicture from '../components/capture/LevelPicture.vue';
import TakeRow from '../components/capture/TakeRow.vue';
import ChoiceField from '../components/fields/ChoiceField.vue';
import NumberField from '../components/fields/NumberField.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import { useActions } from '../stores/frame/actions.ts';
import { useKits } from '../stores/keys/kits.ts';
import { useProject } from '../stores/document/project.ts';
import { useCapture } from '../stores/capture/capture.ts';
import { useCaptureSettings, type GoesTo, type Manner } from '../stores/capture/capture-settings.ts';
import { useRecordings } from '../stores/capture/recordings.ts';
import { useTakes } from '../stores/capture/takes.ts';
import type { InputKind } from '../audio/capture-input.ts';
import { ICONS } from '../theme/icons.ts';

const capture = useCapture();
const settings = useCaptureSettings();
const set = useTakes();
const recordings = useRecordings();
const project = useProject();
const router = useRouter();
const kits = useKits();

const isListening = computed(() => capture.state === 'listening');
const INPUTS: readonly { kind: InputKind; words: string; hint: string }[] = [
  { kind: 'device', words: 'An input', hint: 'Interface or microphone, as it comes' },
  { kind: 'box', words: 'Stand-in drum box', hint: 'ships with Yappa' },
  { kind: 'own', words: 'Yappa’s own output', hint: 'the mix as it is heard' },
];
const devices = computed(() => [
  { value: '', words: 'the usual one' },
  ...capture.devices.filter(({ id }) => id !== '').map(({ id, name }) => ({ value: id, words: name })),
]);
const GOES_TO: readonly { value: GoesTo; words: string }[] = [
  { value: 'key', words: 'next key' },
  { value: 'layer', words: 'next layer' },
  { value: 'turn', words: 'in turns' },
];
const MANNERS: readonly { value: Manner; words: string }[] = [
  { value: 'hits', words: 'hits' },
  { value: 'whole', words: 'all of it' },
  { value: 'bars', words: 'bars' },
];
const SIDES = [
  { value: 'mono', words: 'mono' },
  { value: 'stereo', words: 'stereo' },
] as const;

const status = computed(() => {
  if (capture.state === 'opening') return 'opening the input …';
  if (!isListening.value) return 'not listening';
  if (settings.kept.manner !== 'hits') return `recording, ${capture.storedSeconds.toFixed(1)} s on the disk`;
  if (capture.floor.floorDb === null) return 'listening to the floor: play nothing for a moment';
  return capture.isOpen ? 'a take is coming' : 'listening';
});
const suggested = computed(() =>
  capture.floor.floorDb === null
    ? ''
    : `suggested: open ${capture.floor.openDb.toFixed(0)}, close ${capture.floor.closeDb.toFixed(0)} dB`,
);
const keptTakes = computed(() => set.takes.filter(({ isThrown }) => !isThrown).length);
const latestFirst = computed(() => set.takes.toReversed());

function choose(kind: InputKind): void {
  if (capture.choice.kind === kind) return;
  void capture.end();
  capture.choice = { kind, deviceId: '' };
}

function takeSuggested(): void {
  settings.kept.openDb = settings.kept.closeDb = null;
}

useActions().offerFirst({
  remove: () => set.throwLastAway(),
  record: () => void (isListening.value ? capture.end() : capture.begin()),
});
onMounted(() => {
  void capture.findDevices();
  void recordings.findLeft();
});
onBeforeUnmount(() => void capture.end());
</script>

<template>
  <PlaceFrame title="Capture" details-label="Takes">
    <template #facts>hits from an input fall onto keys, one after another</template>
    <template #tools>
      <v-btn :prepend-icon="ICONS.shelf" to="/">back to the shelf</v-btn>
    </template>
    <div v-for="one in recordings.left" :key="one.id" class="left sheet" role="status">
      <span>A recording of {{ new Date(one.at).toLocaleTimeString('en-GB') }} is not on the shelf yet.</span>
      <v-btn class="strong" @click="recordings.fetchRecording(one.id, 'recovered')">bring it back</v-btn>
      <v-btn @click="recordings.forgetLeft(one.id)">let it go</v-btn>
    </div>
    <div class="inputs" role="group" aria-label="Input">
      <v-btn
        v-for="one in INPUTS"
        :key="one.kind"
        class="input"
        :aria-pressed="capture.choice.kind === one.kind"
        @click="choose(one.kind)"
      >
        <span class="name">{{ one.words }}</span>
        <span class="hint">{{ one.hint }}</span>
      </v-btn>
    </div>
    <div class="settings">
      <ChoiceField
        v-if="capture.choice.kind === 'device'"
        class="device"
        label="from"
        :model-value="capture.choice.deviceId"
        :choices="devices"
        :disabled="isListening"
        @put="capture.choice = { kind: 'device', deviceId: $event }"
      />
      <ChoiceField
        label="capture"
        :show-label="false"
        spread
        :model-value="settings.kept.manner"
        :choices="MANNERS"
        :disabled="isListening"
        @put="settings.kept.manner = $event"
      />
      <template v-if="settings.kept.manner === 'hits'">
        <ChoiceField
          label="go to"
          spread
          :model-value="settings.kept.goesTo"
          :choices="GOES_TO"
          @put="settings.kept.goesTo = $event"
        />
        <NumberField
          v-model="settings.kept.preRollMs"
          class="number-field"
          label="pre-roll"
          unit="ms"
          :min="0"
          :max="200"
          :reset="12"
          hint="Kept of what came before a hit; its slice begins at the attack"
        />
        <NumberField
          v-model="settings.kept.leastPauseMs"
          class="number-field"
          label="pause"
          unit="ms"
          :min="20"
          :max="2000"
          :reset="140"
          hint="Silence for so long ends a take"
        />
      </template>
      <template v-if="settings.kept.manner === 'bars'">
        <NumberField
          v-model="settings.kept.bars"
          class="number-field"
          label="bars"
          :min="1"
          :max="64"
          :reset="4"
          hint="So many bars of the song, after its count-in"
        />
        <NumberField
          v-model="settings.kept.latencyMs"
          class="number-field"
          label="comes late by"
          unit="ms"
          :min="0"
          :max="1000"
          :digits="1"
          :reset="0"
          hint="What goes out and comes in again takes so long: it is taken out"
        />
        <v-btn :disabled="capture.state !== 'idle'" data-tip="A click is sent round" @click="capture.measureLatency()"
          >measure</v-btn
        >
      </template>
      <ChoiceField
        label="sides"
        :show-label="false"
        spread
        :model-value="settings.kept.isStereo ? 'stereo' : 'mono'"
        :choices="SIDES"
        @put="settings.kept.isStereo = $event === 'stereo'"
      />
    </div>
    <section class="sheet picture">
      <header>
        <v-btn
          class="strong"
          :prepend-icon="isListening ? ICONS.stop : ICONS.record"
          :loading="capture.state === 'opening'"
          data-testid="listen"
          @click="isListening ? capture.end() : capture.begin()"
          >{{ isListening ? 'stop' : settings.kept.manner === 'hits' ? 'listen' : 'record' }}</v-btn
        >
        <span data-testid="capture-state">{{ status }}</span>
        <span v-if="capture.gapWords" class="lost" role="status">{{ capture.gapWords }}</span>
        <span class="gap" />
        <template v-if="settings.kept.manner === 'hits'">
          <span class="quiet suggested">{{ suggested }}</span>
          <v-btn
            :disabled="settings.kept.openDb === null && settings.kept.closeDb === null"
            data-tip="Both lines as the floor suggests"
            @click="takeSuggested"
            >take them</v-btn
          >
        </template>
      </header>
      <LevelPicture :has-lines="settings.kept.manner === 'hits'" />
      <p v-if="settings.kept.manner !== 'hits'" class="quiet">
        {{
          settings.kept.manner === 'bars'
            ? 'The song plays with its count-in, and stops by itself: what was played to it becomes a part, in time.'
            : 'Everything that comes is kept until you stop; it lies on the disk while it comes, and is cut and ready then.'
        }}
      </p>
    </section>
    <div class="below">
      <BoxPanel v-if="capture.choice.kind === 'box'" />
      <section v-if="settings.kept.manner === 'hits'" class="sheet kit">
        <h2>Kit of this set</h2>
        <v-text-field
          v-model="set.setName"
          aria-label="Name of the set"
          placeholder="named when it begins"
          @keydown.stop
        />
        <div class="buttons">
          <v-btn
            class="strong"
            :prepend-icon="ICONS.kit"
            :disabled="!set.part"
            @click="set.part && kits.keep(set.part.id)"
            >Keep as a kit</v-btn
          >
          <v-btn :disabled="!set.part" @click="router.push(`/bench/${project.document!.id}`)">to the bench</v-btn>
          <v-btn :disabled="set.takes.length === 0" @click="set.newSet()">a new set</v-btn>
        </div>
        <div class="buttons">
          <v-btn
            :prepend-icon="ICONS.hear"
            :aria-pressed="settings.kept.isHeard"
            data-tip="Each take is played once when it has fallen"
            @click="settings.kept.isHeard = !settings.kept.isHeard"
            >as they fall</v-btn
          >
          <v-btn
            :aria-pressed="settings.kept.isLevelled"
            data-tip="Each take as loud as the others"
            @click="settings.kept.isLevelled = !settings.kept.isLevelled"
            >levelled</v-btn
          >
          <v-btn
            :prepend-icon="ICONS.remove"
            data-tip="The last take goes off its key; it can be brought back"
            data-key="Delete"
            :disabled="keptTakes === 0"
            @click="set.throwLastAway()"
            >throw the last away</v-btn
          >
        </div>
      </section>
    </div>
    <template #details>
      <h2 class="takes-title">
        Takes <span class="quiet">{{ keptTakes }} kept{{ capture.isOpen ? ', 1 coming' : '' }}</span>
      </h2>
      <p v-if="set.takes.length === 0" class="quiet">
        Nothing yet. Choose an input, listen, and play: each hit becomes a sound on a key.
      </p>
      <ul class="takes">
        <TakeRow v-for="take in latestFirst" :key="take.number" :take="take" />
      </ul>
    </template>
  </PlaceFrame>
</template>

<style scoped>
.inputs {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
}
.input.input {
  height: 48px;
  justify-content: flex-start;
}
.input :deep(.v-btn__content) {
  display: grid;
  justify-items: start;
  gap: 0;
}
.hint {
  font-size: 13px;
  font-weight: 400;
  opacity: 0.85;
}
.settings {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 10px;
  min-height: 34px;
}
.device {
  width: 220px;
}
.number-field {
  display: grid;
  grid-template-columns: auto 70px;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
.picture {
  flex: 1 1 220px;
  min-height: 180px;
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr);
  gap: 6px;
  padding: 8px;
}
.picture header {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 30px;
}
.gap {
  flex: 1;
}
.lost {
  color: var(--signal-ink);
}
.suggested {
  white-space: nowrap;
}
.below {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 10px;
  flex: none;
}
.kit {
  padding: 8px 12px 10px;
  display: grid;
  gap: 8px;
  align-content: start;
}
h2 {
  font-size: 15px;
  font-weight: 660;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.left {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 6px 12px;
}
.left span {
  flex: 1;
}
.takes {
  padding: 0;
  margin: 8px 0 0;
}
.takes-title {
  font-size: 18px;
}
</style>
