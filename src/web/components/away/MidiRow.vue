<script setup lang="ts">
/** The patterns that the parts play, as a Standard MIDI File. */
import { computed } from 'vue';
import { homeId } from '#core/document/home-id.ts';
import { nameOfHome } from '#core/queries/patterns.ts';
import { useProject } from '../../stores/document/project.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import PartRibbon from '../shared/PartRibbon.vue';
import AwayRow from './AwayRow.vue';
import { usePartChoice } from './use-part-choice.ts';

const ALL = 'all';
const RESOLUTIONS = [96, 120, 192, 240, 384, 480, 960];
const away = useTakeAway();
const project = useProject();
const { partChoices, part } = usePartChoice(() => away.settings.midi.partId);
const choices = computed(() => [{ value: ALL, words: 'all parts' }, ...partChoices.value]);
const which = computed(() =>
  choices.value.some(({ value }) => value === away.settings.midi.partId) ? away.settings.midi.partId : ALL,
);
/** What of the part: what it plays, one of its patterns, or a hand of the one that plays. */
const PLAYING = 'playing';
const takes = computed(() => {
  const { document } = project;
  const one = away.settings.midi.partId === null ? null : part.value;
  if (!document || !one) return null;
  const pattern = document.patterns[one.activePatternId];
  return [
    { value: PLAYING, words: 'what it plays' },
    ...one.cutOrder.map((id) => ({ value: homeId(id), words: nameOfHome(document, id) })),
    ...one.patternOrder.map((id) => ({ value: id, words: document.patterns[id]!.name })),
    ...(pattern?.handOrder ?? []).map((id, place) => ({
      value: `${pattern!.id} ${id}`,
      words: pattern!.hands[id]!.name ?? `hand ${place + 1}`,
    })),
  ];
});
const take = computed(() => {
  const { patternId, handId } = away.settings.midi;
  const value = patternId === null ? PLAYING : handId === null ? patternId : `${patternId} ${handId}`;
  return takes.value?.some((one) => one.value === value) ? value : PLAYING;
});
function putTake(value: string): void {
  const [patternId, handId] = value.split(' ');
  const { midi } = away.settings;
  midi.patternId = value === PLAYING ? null : patternId!;
  midi.handId = handId ?? null;
}
const whats = [
  { value: 'order' as const, words: 'running order' },
  { value: 'patterns' as const, words: 'patterns' },
];
const hasOrder = computed(() => (project.document?.sectionOrder.length ?? 0) > 0);
const isOrder = computed(() => hasOrder.value && away.settings.midi.order);
const timings = [
  { value: 'written', words: 'as written' },
  { value: 'heard', words: 'as heard' },
] as const;
const formats = [
  { value: 1, words: 'a track a part' },
  { value: 0, words: 'one track' },
] as const;
const keys = [
  { value: 'own', words: 'their keys' },
  { value: 'drums', words: 'drum keys' },
] as const;
const resolutions = RESOLUTIONS.map((value) => ({ value, words: `${value} ticks` }));
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.midi"
    title="Pattern as MIDI"
    about="notes on their keys, tempo, metre"
    :summary="away.rows.midi"
    :share="away.shareOf('midi')"
  >
    <template #picture><PartRibbon v-if="part" :part="part" /></template>
    <ChoiceField
      v-if="hasOrder"
      class="which"
      label="What is written as MIDI"
      :show-label="false"
      :model-value="isOrder ? 'order' : 'patterns'"
      :choices="whats"
      @put="away.settings.midi.order = $event === 'order'"
    />
    <ChoiceField
      v-if="!isOrder"
      class="which"
      label="Part whose pattern"
      :show-label="false"
      :model-value="which"
      :choices="choices"
      @put="away.settings.midi.partId = $event === ALL ? null : $event"
    />
    <ChoiceField
      v-if="takes && !isOrder"
      class="which"
      label="Which of its patterns"
      :show-label="false"
      :model-value="take"
      :choices="takes"
      @put="putTake($event)"
    />
    <ChoiceField
      class="ticks"
      label="Timing of the notes"
      hint="As they are written; or as they are heard, with swing, groove and feel, accents, levels, chances and own tempi"
      :show-label="false"
      :model-value="away.settings.midi.asHeard ? 'heard' : 'written'"
      :choices="timings"
      @put="away.settings.midi.asHeard = $event === 'heard'"
    />
    <ChoiceField
      class="ticks"
      label="Keys of the notes"
      hint="Those that the sounds lie on; or those that drums have by agreement (General MIDI), by what each sound is"
      test-id="midi-keys"
      :show-label="false"
      :model-value="away.settings.midi.keys ?? 'own'"
      :choices="keys"
      @put="away.settings.midi.keys = $event"
    />
    <ChoiceField
      class="which"
      label="Tracks of the MIDI file"
      hint="Format 1 of Standard MIDI Files has a track for each part, format 0 all in one"
      :show-label="false"
      :model-value="away.settings.midi.options.format"
      :choices="formats"
      @put="away.settings.midi.options.format = $event"
    />
    <ChoiceField
      class="ticks"
      label="Ticks a quarter note"
      hint="How finely time is told in the file"
      :show-label="false"
      :model-value="away.settings.midi.options.ticksPerBeat"
      :choices="resolutions"
      @put="away.settings.midi.options.ticksPerBeat = $event"
    />
    <v-checkbox
      v-model="away.settings.midi.withLanes"
      label="lanes"
      data-tip="Lanes over the patterns go along as controllers"
    />
  </AwayRow>
</template>

<style scoped>
.which {
  width: 142px;
}
.ticks {
  width: 118px;
}
</style>
