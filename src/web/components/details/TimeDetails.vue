<script setup lang="ts">
/** How the part keeps time with the song, and its pitch. */
import { computed } from 'vue';
import { guessRoot, smallestShift } from '#core/analysis/part-root.ts';
import { isStretchable, lengthRatio } from '#core/engine/follow.ts';
import { setLoop, setPart, type PartSettings } from '#core/project/commands/parts.ts';
import { setRoot } from '#core/project/commands/song.ts';
import { NOTE_NAMES } from '#core/units/pitch.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../fields/ChoiceRow.vue';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import DriftPicture from './DriftPicture.vue';
import GrooveRow from './GrooveRow.vue';
import { FOLLOW_WORDS } from '../song/follow-words.ts';

const project = useProject();
const session = useSession();
const part = computed(() => session.part!);
const loop = computed(() => part.value.loop);
const ratio = computed(() => lengthRatio(project.document!, part.value));
const tooFar = computed(() => part.value.follow === 'stretch' && !isStretchable(ratio.value));

const follows = Object.entries(FOLLOW_WORDS).map(([value, words]) => ({
  value: value as keyof typeof FOLLOW_WORDS,
  words,
}));
const tails = [
  { value: 'ring', words: 'ring on' },
  { value: 'fade', words: 'fade' },
  { value: 'leave', words: 'leave gaps' },
] as const;
const fasters = [
  { value: 'cut', words: 'next cuts' },
  { value: 'both', words: 'both ring' },
] as const;
const materials = [
  { value: 'drums', words: 'drums' },
  { value: 'notes', words: 'notes' },
  { value: 'mixes', words: 'full mixes' },
] as const;
const whens = [
  { value: 'now', words: 'at once' },
  { value: 'bar', words: 'at next bar' },
] as const;
const rounds = [
  { value: 'ring', words: 'ring over' },
  { value: 'cut', words: 'are cut' },
] as const;

function put(label: string, settings: PartSettings): void {
  project.run(label, setPart, { partId: part.value.id, settings });
}

const semitones = computed(() => Math.round(part.value.transposeCents / 100));
const cents = computed(() => part.value.transposeCents - semitones.value * 100);

/** Root of the part as it is in its source. */
const root = computed(() =>
  guessRoot(
    session.placed.map((at) => ({
      midi: ['kick', 'snare', 'rim', 'clap'].includes(at.slice.role) ? null : at.slice.midi,
      length: at.endFrame - at.startFrame,
    })),
  ),
);
const shift = computed(() => {
  const { rootNote } = project.document!;
  return root.value === null || rootNote === null ? null : smallestShift(root.value, rootNote);
});

function timesBars(factor: 2 | 0.5): void {
  const { bars, beatsPerBar } = loop.value;
  const whole = bars * factor;
  // Half of an odd number of bars: bars of half the beats.
  const change = Number.isInteger(whole) ? { bars: whole } : { beatsPerBar: beatsPerBar / 2 };
  project.run(factor === 2 ? 'half time' : 'double time', setLoop, { partId: part.value.id, loop: change });
}
const canDouble = computed(() => loop.value.bars % 2 === 0 || loop.value.beatsPerBar % 2 === 0);
</script>

<template>
  <DetailRows title="Time">
    <ChoiceRow
      label="follows"
      test-id="follow"
      hint="How the part keeps the song's tempo"
      :model-value="part.follow"
      :choices="follows"
      @put="put('follow', { follow: $event })"
    />
    <p v-if="tooFar" class="quiet off" role="status">
      {{ ratio > 1 ? ratio.toFixed(1) : (1 / ratio).toFixed(1) }} times {{ ratio > 1 ? 'longer' : 'shorter' }} is too
      far to stretch, so it plays by slices. Choose “by speed”, or half or double time.
    </p>
    <template v-if="part.follow === 'slices'">
      <ChoiceRow
        label="if slower"
        test-id="tail"
        hint="What fills the gap after a slice when the song is slower than the loop"
        :model-value="part.tail"
        :choices="tails"
        @put="put('if slower', { tail: $event })"
      />
      <ChoiceRow
        label="if faster"
        :model-value="part.oneAtATime ? 'cut' : 'both'"
        :choices="fasters"
        @put="put('if faster', { oneAtATime: $event === 'cut' })"
      />
    </template>
    <ChoiceRow
      v-if="part.follow === 'stretch' || (part.follow === 'slices' && part.tail === 'ring')"
      label="sound is"
      hint="Drums, notes and chords, or both at once: decides how long a stretch is looked at, and how much of an attack stays untouched"
      :model-value="part.material"
      :choices="materials"
      @put="put('kind of sound', { material: $event })"
    />
    <div class="buttons">
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
      @put="put('transpose', { transposeCents: Math.max(-4800, Math.min(4800, $event * 100 + cents)) })"
    />
    <DocumentField
      label="fine"
      :model-value="cents"
      :min="-50"
      :max="50"
      :reset="0"
      unit="ct"
      undo="fine tune"
      @put="put('fine tune', { transposeCents: Math.max(-4800, Math.min(4800, semitones * 100 + $event)) })"
    />
    <ChoiceRow
      label="is heard"
      test-id="transpose-at"
      :model-value="part.transposeAt"
      :choices="whens"
      @put="put('transpose at', { transposeAt: $event })"
    />
    <div v-if="root !== null" class="buttons">
      <button
        v-if="shift !== null"
        class="push small"
        :disabled="semitones === shift"
        :title="`The loop's root is ${NOTE_NAMES[root]}, the song's ${NOTE_NAMES[project.document!.rootNote!]}`"
        @click="put('fit to key', { transposeCents: shift * 100 })"
      >
        fit to key: {{ shift > 0 ? '+' : '' }}{{ shift }} st
      </button>
      <button
        v-else
        class="push small"
        title="The song takes this loop's root"
        @click="project.run('root of the song', setRoot, { rootNote: root })"
      >
        root {{ NOTE_NAMES[root] }}: use for the song
      </button>
    </div>
    <DocumentField
      label="feel"
      data-testid="feel"
      hint="100% keeps the loop's own timing, 0% sits on the sixteenths; dashed lines in the pattern show what is heard"
      :model-value="part.feelPercent"
      :min="0"
      :max="100"
      :step="5"
      :reset="100"
      unit="%"
      @put="put('feel', { feelPercent: $event })"
    />
    <DriftPicture />
    <GrooveRow />
    <DocumentField
      label="start offset"
      hint="Later (or earlier) than the song's first bar line"
      :model-value="part.startOffsetTicks / TICKS_PER_BEAT"
      :min="-64"
      :max="64"
      :step="0.25"
      :digits="2"
      :reset="0"
      unit="beats"
      undo="start offset"
      @put="put('start offset', { startOffsetTicks: $event * TICKS_PER_BEAT })"
    />
    <ChoiceRow
      label="tails at end"
      hint="What sounds when a round of the pattern ends"
      :model-value="part.ringOver ? 'ring' : 'cut'"
      :choices="rounds"
      @put="put('tails at the end', { ringOver: $event === 'ring' })"
    />
  </DetailRows>
</template>

<style scoped>
.off {
  font-size: 13px;
  padding-top: 4px;
}
</style>
