<script setup lang="ts">
/** The patterns that the parts play, as a Standard MIDI File. */
import { computed } from 'vue';
import { useTakeAway } from '../../stores/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import PartRibbon from '../shared/PartRibbon.vue';
import AwayRow from './AwayRow.vue';
import { usePartChoice } from './use-part-choice.ts';

const ALL = 'all';
const RESOLUTIONS = [96, 120, 192, 240, 384, 480, 960];
const away = useTakeAway();
const { partChoices, part } = usePartChoice(() => away.settings.midi.partId);
const choices = computed(() => [{ value: ALL, words: 'all parts' }, ...partChoices.value]);
const which = computed(() =>
  choices.value.some(({ value }) => value === away.settings.midi.partId) ? away.settings.midi.partId : ALL,
);
const formats = [
  { value: 1, words: 'a track a part' },
  { value: 0, words: 'one track' },
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
      class="which"
      label="Part whose pattern"
      :show-label="false"
      :model-value="which"
      :choices="choices"
      @put="away.settings.midi.partId = $event === ALL ? null : $event"
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
