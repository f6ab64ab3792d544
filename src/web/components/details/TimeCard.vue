<script setup lang="ts">
/** How the part keeps time with the song, and its pitch. */
import { computed } from 'vue';
import { guessRoot, smallestShift } from '#core/analysis/part-root.ts';
import { isStretchable } from '#core/queries/following.ts';
import { TAILS } from '#core/params/choices.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { lengthRatio } from '#core/queries/loops.ts';
import { cutValues, partValues, songValues } from '#core/queries/values.ts';
import { NOTE_NAMES } from '#core/units/pitch.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';
import FollowChoice from './FollowChoice.vue';

const project = useProject();
const session = useSession();
const part = computed(() => session.part!);
const cut = computed(() => session.cut!);
const values = computed(() => ({ ...cutValues(cut.value), ...partValues(part.value) }));
const partOwner = computed<Owner[]>(() => [{ kind: 'part', id: part.value.id }]);
const cutOwner = computed<Owner[]>(() => [{ kind: 'cut', id: cut.value.id }]);
const ratio = computed(() => lengthRatio(project.document!, cut.value));
const tooFar = computed(() => values.value.follow === 'stretch' && !isStretchable(ratio.value));

const fasters = [
  { value: 'cut', words: 'next cuts' },
  { value: 'both', words: 'both ring' },
] as const;

function put(label: string, owners: Owner[], param: string, to: number | boolean | string): void {
  project.run(label, setValue, { owners, param, change: { to } });
}

const transposeCents = computed(() => values.value.transposeCents);
const semitones = computed(() => Math.round(transposeCents.value / 100));
const cents = computed(() => transposeCents.value - semitones.value * 100);
function transpose(label: string, to: number): void {
  put(label, partOwner.value, 'transposeCents', Math.max(-4800, Math.min(4800, to)));
}

/** Root of the part as it is in its source. */
const root = computed(() =>
  guessRoot(
    session.placed.map((at) => ({
      midi: ['kick', 'snare', 'rim', 'clap'].includes(at.slice.role) ? null : at.slice.midi,
      length: at.endFrame - at.startFrame,
    })),
  ),
);
/** Root of the song, below 0 while nobody has said. */
const songRoot = computed(() => songValues(project.document!).rootNote);
const shift = computed(() =>
  root.value === null || songRoot.value < 0 ? null : smallestShift(root.value, songRoot.value),
);
</script>

<template>
  <DetailCard id="time" title="Time">
    <FollowChoice />
    <p v-if="tooFar" class="quiet small" role="status">
      {{ ratio > 1 ? ratio.toFixed(1) : (1 / ratio).toFixed(1) }} times {{ ratio > 1 ? 'longer' : 'shorter' }} is too
      far to stretch, so it plays by slices. Choose “by speed”, or half or double time.
    </p>
    <template v-if="values.follow === 'slices'">
      <ChoiceField
        label="if slower"
        hint="What fills the gap after a slice when the song is slower than the loop"
        spread
        test-id="tail"
        :model-value="values.tail"
        :choices="TAILS"
        @put="put('if slower', cutOwner, 'tail', $event)"
      />
      <ChoiceField
        label="if faster"
        hint="A slice stops when the next one starts, or rings on under it"
        spread
        :model-value="values.oneAtATime ? 'cut' : 'both'"
        :choices="fasters"
        @put="put('if faster', partOwner, 'oneAtATime', $event === 'cut')"
      />
    </template>
    <ParamField
      v-if="values.follow === 'stretch' || (values.follow === 'slices' && values.tail === 'ring')"
      :owners="cutOwner"
      param="material"
    />
    <div class="row">
      <span>transpose</span>
      <div class="pair">
        <DocumentField
          class="bare"
          label="transpose"
          data-testid="transpose"
          hint="It changes no timing, however the part follows"
          :show-label="false"
          :model-value="semitones"
          :min="-48"
          :max="48"
          :reset="0"
          unit="st"
          @put="transpose('transpose', $event * 100 + cents)"
        />
        <DocumentField
          class="bare"
          label="fine"
          :show-label="false"
          :model-value="cents"
          :min="-50"
          :max="50"
          :reset="0"
          unit="ct"
          undo="fine tune"
          @put="transpose('fine tune', semitones * 100 + $event)"
        />
      </div>
    </div>
    <ParamField :owners="partOwner" param="transposeAt" test-id="transpose-at" />
    <div v-if="root !== null" class="buttons">
      <v-btn
        v-if="shift !== null"
        :disabled="semitones === shift"
        :data-tip="`The loop's root is ${NOTE_NAMES[root]}, the song's ${NOTE_NAMES[songRoot]}`"
        @click="transpose('fit to key', shift * 100)"
        >fit to key: {{ shift > 0 ? '+' : '' }}{{ shift }} st</v-btn
      >
      <v-btn
        v-else
        data-tip="The song takes this loop's root"
        @click="put('root of the song', [{ kind: 'song' }], 'rootNote', root)"
        >root {{ NOTE_NAMES[root] }}: use for the song</v-btn
      >
    </div>
  </DetailCard>
</template>
