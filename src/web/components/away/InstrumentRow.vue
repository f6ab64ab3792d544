<script setup lang="ts">
/** A part as an instrument for other samplers: SFZ, with its samples. */
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { usePartPicture } from '../shared/use-part-picture.ts';
import AwayRow from './AwayRow.vue';
import { usePartChoice } from './use-part-choice.ts';

const away = useTakeAway();
const { partChoices, part } = usePartChoice(() => away.settings.instrument.partId);
const picture = usePartPicture(() => part.value, 64);
const endings = [
  { value: 'wav' as const, words: 'WAV' },
  { value: 'flac' as const, words: 'FLAC' },
];
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.instrument"
    title="Instrument"
    about="SFZ with its samples, in one zip"
    :summary="away.rows.instrument"
    :share="away.shareOf('instrument')"
  >
    <template #picture><SkylineMini :levels="picture.levels" :colours="picture.colours" /></template>
    <ChoiceField
      class="which"
      label="Part as an instrument"
      :show-label="false"
      :model-value="part?.id ?? null"
      :choices="partChoices"
      @put="away.settings.instrument.partId = $event"
    />
    <ChoiceField
      label="samples of the instrument"
      spread
      :show-label="false"
      :model-value="away.settings.instrument.ending"
      :choices="endings"
      @put="away.settings.instrument.ending = $event"
    />
    <v-checkbox v-model="away.settings.instrument.withShape" label="envelopes and filters" />
    <v-checkbox v-model="away.settings.instrument.withChoke" label="choke groups" />
  </AwayRow>
</template>

<style scoped>
.which {
  width: 142px;
}
</style>
