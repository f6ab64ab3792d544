<script setup lang="ts">
/** Keys and controllers of the part that switch: which, what they do, and whether only while they are pressed. */
import { computed } from 'vue';
import type { KeySwitch } from '#core/document/schema.ts';
import { partValues } from '#core/queries/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { placeWords, useSwitching } from '../../stores/keys/switching.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import IconButton from '../shared/IconButton.vue';
import { usePatternNames } from './use-pattern-names.ts';

const project = useProject();
const session = useSession();
const switching = useSwitching();
const laying = useLaying();
const names = usePatternNames();
const LAST_KEY = 127;
const OCTAVE = 12;
const LAST_CONTROL = 119;

const switches = computed(() =>
  [...(session.part?.switches ?? [])].sort((a, b) => (a.key ?? 128 + a.control!) - (b.key ?? 128 + b.control!)),
);
/** Names what a switch does. */
const targetOf = ({ does, patternId, treatmentId, zoneId }: Partial<KeySwitch>) =>
  JSON.stringify([does, patternId ?? treatmentId ?? zoneId ?? null]);
/** All that a switch can do; and what switches do that is gone. */
const targets = computed(() => {
  const does = (to: Partial<KeySwitch> & Pick<KeySwitch, 'does'>, words: string) => ({
    value: targetOf(to),
    words,
    to,
  });
  const known = [
    ...names.value.map(({ id, name }) => does({ does: 'pattern', patternId: id }, name)),
    ...(session.part?.treatments ?? []).map(({ id, name }) =>
      does({ does: 'treatment', treatmentId: id }, `sound: ${name}`),
    ),
    does({ does: 'rest' }, 'rest'),
    does({ does: 'deal' }, 'deal'),
    ...session.zones.map(({ zone, at }) =>
      does({ does: 'mute', zoneId: zone.id }, at.index < 0 ? `mute ${at.label}` : `mute ${at.index + 1} ${at.label}`),
    ),
  ];
  const all = new Map(known.map((one) => [one.value, one]));
  for (const one of switches.value) {
    if (!all.has(targetOf(one))) all.set(targetOf(one), does(one, 'a sound that is gone'));
  }
  return [...all.values()];
});

function put(before: KeySwitch, change: Partial<KeySwitch>): void {
  const partId = session.part!.id;
  const after = { ...before, ...change };
  project.step('a switch', () => {
    if (placeWords(before) !== placeWords(after)) switching.takeOff(partId, before);
    switching.lay(partId, after);
  });
}

function putTarget(before: KeySwitch, target: string): void {
  const found = targets.value.find(({ value }) => value === target);
  if (found) put(before, { patternId: null, treatmentId: undefined, zoneId: undefined, ...found.to });
}

/** On the next free key of the octave below the sounds, upwards; then of the one below that. */
function add(): void {
  const { part, patternId } = session;
  if (!part) return;
  const taken = new Set(switches.value.map(({ key }) => key));
  const { startKey } = partValues(part);
  const octaves = Array.from({ length: 11 }, (_, n) => startKey - OCTAVE * (n + 1));
  const keys = octaves.flatMap((from) => Array.from({ length: OCTAVE }, (_, step) => from + step));
  const all = [...keys, ...Array.from({ length: LAST_KEY + 1 }, (_, one) => one)];
  const key = all.find((one) => one >= 0 && one <= LAST_KEY && !taken.has(one));
  if (key !== undefined) switching.lay(part.id, { key, does: 'pattern', patternId, whileHeld: false });
}

function learn(before: KeySwitch): void {
  laying.awaitKey({
    words: 'Press the key for the switch, or move a controller',
    take: (key) => put(before, { key, control: undefined }),
    takeControl: (control) => put(before, { key: null, control }),
  });
}
</script>

<template>
  <div class="switches">
    <p v-if="switches.length === 0" class="quiet small">
      None yet. A key or a MIDI controller can put a pattern or a treatment on, mute a sound, let the part rest, or
      deal; for good, or as long as it is pressed.
    </p>
    <div v-for="one in switches" :key="placeWords(one)" class="switch">
      <NumberField
        v-if="one.key !== null"
        class="key"
        label="key"
        :show-label="false"
        :model-value="one.key"
        :min="0"
        :max="LAST_KEY"
        :unit="keyName(one.key)"
        @update:model-value="put(one, { key: $event })"
      />
      <NumberField
        v-else
        class="key"
        label="controller"
        :show-label="false"
        :model-value="one.control ?? 0"
        :min="0"
        :max="LAST_CONTROL"
        unit="cc"
        @update:model-value="put(one, { control: $event })"
      />
      <IconButton
        icon="learn"
        words="learn the key"
        hint="The next key that is pressed, or controller that is moved"
        @click="learn(one)"
      />
      <ChoiceField
        class="target"
        :label="`what ${placeWords(one)} does`"
        :show-label="false"
        :model-value="targetOf(one)"
        :choices="targets"
        @put="putTarget(one, $event)"
      />
      <v-checkbox
        hide-details
        label="while held"
        data-tip="Only as long as the key is pressed"
        :disabled="one.does === 'deal'"
        :model-value="one.whileHeld"
        @update:model-value="put(one, { whileHeld: $event === true })"
      />
      <IconButton
        icon="close"
        :words="`no switch on ${placeWords(one)}`"
        variant="text"
        @click="switching.takeOff(session.part!.id, one)"
      />
    </div>
    <v-btn :prepend-icon="ICONS.add" data-tip="This pattern on the next free key" @click="add()"
      >this pattern on a key</v-btn
    >
  </div>
</template>

<style scoped>
.switches {
  display: grid;
  gap: 8px;
}
.switch {
  display: flex;
  gap: 6px;
  align-items: center;
}
.key {
  width: 84px;
  flex: none;
}
.target {
  flex: 1;
  min-width: 0;
}
</style>
