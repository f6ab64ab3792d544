<script setup lang="ts">
/** What belongs to the whole song: its swing, its root, its click. */
import { CLICK_SOUNDS } from '#core/engine/click.ts';
import { setClick, setRoot, setSwing } from '#core/project/commands/song.ts';
import { NOTE_NAMES } from '#core/units/pitch.ts';
import { useProject } from '../../stores/project.ts';
import ChoiceRow from '../fields/ChoiceRow.vue';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';

const project = useProject();
const roots = [
  { value: -1, words: 'not said' },
  ...NOTE_NAMES.map((words, value) => ({ value: value as number, words: words as string })),
];
const sounds = CLICK_SOUNDS.map((value) => ({ value, words: value }));
const countIns = [0, 1, 2, 4].map((value) => ({
  value,
  words: value === 0 ? 'none' : `${value} ${value === 1 ? 'bar' : 'bars'}`,
}));
</script>

<template>
  <DetailRows title="Song">
    <DocumentField
      label="swing"
      data-testid="song-swing"
      hint="Where every second sixteenth sits in its pair: 50 is straight, 66.7 a triplet"
      :model-value="project.document!.swingPercent"
      :min="50"
      :max="75"
      :step="0.5"
      :digits="1"
      :reset="50"
      unit="%"
      @put="project.run('swing of the song', setSwing, { swingPercent: $event })"
    />
    <ChoiceRow
      label="root"
      test-id="song-root"
      hint="Parts can be fitted to it"
      :model-value="project.document!.rootNote ?? -1"
      :choices="roots"
      @put="project.run('root of the song', setRoot, { rootNote: $event < 0 ? null : $event })"
    />
    <ChoiceRow
      label="count-in"
      test-id="count-in"
      :model-value="project.document!.click.countInBars"
      :choices="countIns"
      @put="project.run('count-in', setClick, { countInBars: $event })"
    />
    <ChoiceRow
      label="click is a"
      test-id="click-sound"
      :model-value="project.document!.click.sound"
      :choices="sounds"
      @put="project.run('sound of the click', setClick, { sound: $event })"
    />
    <DocumentField
      label="click level"
      :model-value="project.document!.click.gainDb"
      :min="-60"
      :max="12"
      :reset="-12"
      unit="dB"
      @put="project.run('click level', setClick, { gainDb: $event })"
    />
  </DetailRows>
</template>
