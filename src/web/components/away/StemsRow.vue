<script setup lang="ts">
/** What comes to the mix, one file each: parts, and buses with what is sent to them. */
import { AUDIO_ENCODINGS } from '#core/formats/encode.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import AwayRow from './AwayRow.vue';
import PartRibbons from './PartRibbons.vue';

const away = useTakeAway();
const chains = [
  { value: 'with' as const, words: 'with their chains' },
  { value: 'without' as const, words: 'dry' },
];
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.stems"
    title="Stems"
    about="they add up to the mix without its own chain"
    :summary="away.rows.stems"
    :share="away.shareOf('stems')"
  >
    <template #picture><PartRibbons :most="5" /></template>
    <ChoiceField
      label="Chains of the stems"
      spread
      :show-label="false"
      :model-value="away.settings.stems.withChains ? 'with' : 'without'"
      :choices="chains"
      @put="away.settings.stems.withChains = $event === 'with'"
    />
    <v-checkbox v-model="away.settings.stems.withSends" label="sends too" />
    <ChoiceField
      class="encoding"
      label="samples of the stems"
      :show-label="false"
      :model-value="away.settings.stems.encoding"
      :choices="AUDIO_ENCODINGS"
      @put="away.settings.stems.encoding = $event"
    />
  </AwayRow>
</template>

<style scoped>
.encoding {
  width: 140px;
}
</style>
