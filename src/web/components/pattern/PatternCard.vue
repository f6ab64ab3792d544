<script setup lang="ts">
/** The colour of the pattern, when another one takes over, and the keys of the part that switch. */
import { computed } from 'vue';
import { colourPattern } from '#core/project/commands/patterns.ts';
import { isHome, type KeySwitch } from '#core/project/schema.ts';
import { partValues } from '#core/queries/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { PATTERN_MARKS } from '../../canvas/palette.ts';
import { useLaying } from '../../stores/laying.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useSwitching } from '../../stores/switching.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import { usePatternNames } from './use-pattern-names.ts';

const project = useProject();
const session = useSession();
const switching = useSwitching();
const laying = useLaying();
const names = usePatternNames();
const REST = 'rest';
const DEAL = 'deal';
const LAST_KEY = 127;

const switches = computed(() => [...(session.part?.switches ?? [])].sort((a, b) => a.key - b.key));
const targets = computed(() => [
  ...names.value.map(({ id, name }) => ({ value: id, words: name })),
  { value: REST, words: 'rest' },
  { value: DEAL, words: 'deal' },
]);
const targetOf = ({ does, patternId }: KeySwitch) => patternId ?? does;

function put(before: KeySwitch, change: Partial<KeySwitch>): void {
  const partId = session.part!.id;
  project.step('a switch', () => {
    if (change.key !== undefined && change.key !== before.key) switching.takeOff(partId, before.key);
    switching.lay(partId, { ...before, ...change });
  });
}

function putTarget(before: KeySwitch, target: string): void {
  if (target === REST || target === DEAL) put(before, { does: target, patternId: null });
  else put(before, { does: 'pattern', patternId: target });
}

/** The next free key below the sounds, downwards. */
function add(): void {
  const { part, patternId } = session;
  if (!part) return;
  const taken = new Set(switches.value.map(({ key }) => key));
  const from = partValues(part).startKey - 1;
  const key = Array.from({ length: LAST_KEY + 1 }, (_, step) => (from - step + LAST_KEY + 1) % (LAST_KEY + 1)).find(
    (one) => !taken.has(one),
  );
  if (key !== undefined) switching.lay(part.id, { key, does: 'pattern', patternId, whileHeld: false });
}

function learn(before: KeySwitch): void {
  laying.awaitKey({ words: 'Press the key for the switch', take: (key) => put(before, { key }) });
}

function colour(place: number | null): void {
  project.run('colour a pattern', colourPattern, { patternId: session.patternId, colour: place });
}
</script>

<template>
  <v-card class="card" aria-label="Colour and keys of patterns">
    <template v-if="!isHome(session.patternId)">
      <h3>Colour of this pattern</h3>
      <div class="marks" role="group" aria-label="Colour of this pattern">
        <v-btn
          v-for="(mark, place) in PATTERN_MARKS"
          :key="mark"
          class="mark"
          :class="{ on: session.pattern?.colour === place }"
          :aria-label="`colour ${place + 1}`"
          :aria-pressed="session.pattern?.colour === place"
          :style="{ background: mark }"
          @click="colour(place)"
        />
        <v-btn :disabled="session.pattern?.colour === undefined" data-tip="No colour" @click="colour(null)">none</v-btn>
      </div>
    </template>
    <ParamField :owners="[{ kind: 'song' }]" param="changesAt" label="another takes over" />
    <h3>Keys that switch</h3>
    <p v-if="switches.length === 0" class="quiet small">
      None yet. A key can put a pattern on, for good or as long as it is pressed; let the part rest; or deal.
    </p>
    <div v-for="one in switches" :key="one.key" class="switch">
      <NumberField
        class="key"
        label="key"
        :show-label="false"
        :model-value="one.key"
        :min="0"
        :max="127"
        :unit="keyName(one.key)"
        @update:model-value="put(one, { key: $event })"
      />
      <IconButton icon="learn" words="learn the key" hint="The next key that is pressed" @click="learn(one)" />
      <ChoiceField
        class="target"
        :label="`what ${keyName(one.key)} does`"
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
        :words="`no switch on ${keyName(one.key)}`"
        variant="text"
        @click="switching.takeOff(session.part!.id, one.key)"
      />
    </div>
    <v-btn :prepend-icon="ICONS.add" data-tip="This pattern on the next free key" @click="add()"
      >this pattern on a key</v-btn
    >
  </v-card>
</template>

<style scoped>
.card {
  width: 470px;
  padding: 12px 14px;
  display: grid;
  gap: 8px;
}
h3 {
  font-size: 14px;
  font-weight: 600;
}
.marks {
  display: flex;
  gap: 6px;
}
.mark.v-btn {
  min-width: 30px;
  width: 30px;
  padding: 0;
}
.mark.on {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
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
