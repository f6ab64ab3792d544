<script setup lang="ts">
/** The source of a part with its markers and its loop in the file. */
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { usePartPicture } from '../shared/use-part-picture.ts';
import AwayRow from './AwayRow.vue';
import { usePartChoice } from './use-part-choice.ts';

const endings = [
  { value: 'wav' as const, words: 'WAV' },
  { value: 'aiff' as const, words: 'AIFF' },
];
const away = useTakeAway();
const { partChoices, part } = usePartChoice(() => away.settings.source.partId);
const picture = usePartPicture(() => part.value, 64);
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.source"
    title="Source with markers"
    about="cue points with names, the loop, tempo"
    :summary="away.rows.source"
    :share="away.shareOf('source')"
  >
    <template #picture><SkylineMini :levels="picture.levels" :colours="picture.colours" /></template>
    <ChoiceField
      class="which"
      label="Part whose source"
      :show-label="false"
      :model-value="part?.id ?? null"
      :choices="partChoices"
      @put="away.settings.source.partId = $event"
    />
    <ChoiceField
      label="Kind of file"
      spread
      :show-label="false"
      test-id="source-ending"
      :model-value="away.settings.source.ending"
      :choices="endings"
      @put="away.settings.source.ending = $event"
    />
  </AwayRow>
</template>

<style scoped>
.which {
  width: 142px;
}
</style>
