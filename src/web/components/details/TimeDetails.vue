<script setup lang="ts">
/** How the part keeps time with the song, and its pitch. */
import { computed } from 'vue';
import { guessRoot, smallestShift } from '#core/analysis/part-root.ts';
import { isStretchable } from '#core/engine/plan/renderings.ts';
import { setLoop } from '#core/project/commands/parts.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { lengthRatio } from '#core/queries/loops.ts';
import { cutValues, partValues, songValues } from '#core/queries/values.ts';
import { NOTE_NAMES } from '#core/units/pitch.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../fields/ChoiceRow.vue';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import DriftPicture from './DriftPicture.vue';
import GrooveRow from './GrooveRow.vue';

const project = useProject();
const session = useSession();
const part = computed(() => session.part!);
const cut = computed(() => session.cut!);
const values = computed(() => ({ ...cutValues(cut.value), ...partValues(part.value) }));
const partOwner = computed<Owner[]>(() => [{ kind: 'part', id: part.value.id }]);
const cutOwner = computed<Owner[]>(() => [{ kind: 'cut', id: cut.value.id }]);
const loop = computed(() => cut.value.loop);
const ratio = computed(() => lengthRatio(project.document!, cut.value));
const tooFar = computed(() => values.value.follow === 'stretch' && !isStretchable(ratio.value));

const fasters = [
  { value: 'cut', words: 'next cuts' },
  { value: 'both', words: 'both ring' },
] as const;
const rounds = [
  { value: 'ring', words: 'ring over' },
  { value: 'cut', words: 'are cut' },
] as const;

function put(label: string, param: string, to: number | boolean): void {
  project.run(label, setValue, { owners: partOwner.value, param, change: { to } });
}

const transposeCents = computed(() => values.value.transposeCents);
const semitones = computed(() => Math.round(transposeCents.value / 100));
const cents = computed(() => transposeCents.value - semitones.value * 100);
function transpose(label: string, to: number): void {
  put(label, 'transposeCents', Math.max(-4800, Math.min(4800, to)));
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
const shift = computed(() => {
  return root.value === null || songRoot.value < 0 ? null : smallestShift(root.value, songRoot.value);
});

function timesBars(factor: 2 | 0.5): void {
  if (!loop.value) return;
  const { bars, beatsPerBar } = loop.value;
  const whole = bars * factor;
  // Half of an odd number of bars: bars of half the beats.
  const change = Number.isInteger(whole) ? { bars: whole } : { beatsPerBar: beatsPerBar / 2 };
  project.run(factor === 2 ? 'half time' : 'double time', setLoop, { cutId: cut.value.id, loop: change });
}
const canDouble = computed(() => loop.value && (loop.value.bars % 2 === 0 || loop.value.beatsPerBar % 2 === 0));
</script>

<template>
  <DetailRows title="Time">
    <ParamField :owners="cutOwner" param="follow" test-id="follow" />
    <p v-if="tooFar" class="quiet off" role="status">
      {{ ratio > 1 ? ratio.toFixed(1) : (1 / ratio).toFixed(1) }} times {{ ratio > 1 ? 'longer' : 'shorter' }} is too
      far to stretch, so it plays by slices. Choose “by speed”, or half or double time.
    </p>
    <template v-if="values.follow === 'slices'">
      <ParamField :owners="cutOwner" param="tail" test-id="tail" />
      <ChoiceRow
        label="if faster"
        :model-value="values.oneAtATime ? 'cut' : 'both'"
        :choices="fasters"
        @put="put('if faster', 'oneAtATime', $event === 'cut')"
      />
    </template>
    <ParamField
      v-if="values.follow === 'stretch' || (values.follow === 'slices' && values.tail === 'ring')"
      :owners="cutOwner"
      param="material"
    />
    <div v-if="loop" class="buttons">
      <button class="push small" title="The loop takes twice as many bars" @click="timesBars(2)">half time</button>
      <button
        class="push small"
        title="The loop takes half as many bars"
        :disabled="!canDouble"
        @click="timesBars(0.5)"
      >
        double time
      </button>
    </div>
    <DocumentField
      label="transpose"
      data-testid="transpose"
      hint="It changes no timing, however the part follows"
      :model-value="semitones"
      :min="-48"
      :max="48"
      :reset="0"
      unit="st"
      @put="transpose('transpose', $event * 100 + cents)"
    />
    <DocumentField
      label="fine"
      :model-value="cents"
      :min="-50"
      :max="50"
      :reset="0"
      unit="ct"
      undo="fine tune"
      @put="transpose('fine tune', semitones * 100 + $event)"
    />
    <ParamField :owners="partOwner" param="transposeAt" test-id="transpose-at" />
    <div v-if="root !== null" class="buttons">
      <button
        v-if="shift !== null"
        class="push small"
        :disabled="semitones === shift"
        :title="`The loop's root is ${NOTE_NAMES[root]}, the song's ${NOTE_NAMES[songRoot]}`"
        @click="transpose('fit to key', shift * 100)"
      >
        fit to key: {{ shift > 0 ? '+' : '' }}{{ shift }} st
      </button>
      <button
        v-else
        class="push small"
        title="The song takes this loop's root"
        @click="
          project.run('root of the song', setValue, {
            owners: [{ kind: 'song' }],
            param: 'rootNote',
            change: { to: root },
          })
        "
      >
        root {{ NOTE_NAMES[root] }}: use for the song
      </button>
    </div>
    <ParamField :owners="partOwner" param="feelPercent" test-id="feel" />
    <DriftPicture v-if="loop" />
    <GrooveRow />
    <ParamField :owners="partOwner" param="startOffsetTicks" />
    <ChoiceRow
      label="tails at end"
      hint="What sounds when a round of the pattern ends"
      :model-value="values.ringOver ? 'ring' : 'cut'"
      :choices="rounds"
      @put="put('tails at the end', 'ringOver', $event === 'ring')"
    />
  </DetailRows>
</template>

<style scoped>
.off {
  font-size: 13px;
  padding-top: 4px;
}
</style>
