<script setup lang="ts">
/** What comes to the mix, one file each: parts or their drums, and buses with what is sent to them. */
import { computed } from 'vue';
import { AUDIO_ENCODINGS } from '#core/formats/encode.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import AwayRow from './AwayRow.vue';
import PartRibbons from './PartRibbons.vue';

const away = useTakeAway();
const parts = [
  { value: 'whole' as const, words: 'parts' },
  { value: 'drums' as const, words: 'drums of parts' },
];
const chains = [
  { value: 'with' as const, words: 'with their chains' },
  { value: 'without' as const, words: 'dry' },
];
const about = computed(() => {
  const { byDrum, withChains } = away.settings.stems;
  if (!byDrum) return 'they add up to the mix without its own chain';
  return withChains
    ? 'each drum through the chain by itself; dry, they add up'
    : 'kicks, snares, hats … of each part: they add up';
});
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.stems"
    title="Stems"
    :about="about"
    :summary="away.rows.stems"
    :share="away.shareOf('stems')"
  >
    <template #picture><PartRibbons :most="5" /></template>
    <ChoiceField
      label="Files of the stems"
      spread
      :show-label="false"
      :model-value="away.settings.stems.byDrum ? 'drums' : 'whole'"
      :choices="parts"
      @put="away.settings.stems.byDrum = $event === 'drums'"
    />
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
