<script setup lang="ts">
/** The mix, of all parts or of one. */
import { computed } from 'vue';
import { AUDIO_ENCODINGS } from '#core/formats/encode.ts';
import { useProject } from '../../stores/document/project.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import PartRibbon from '../shared/PartRibbon.vue';
import AwayRow from './AwayRow.vue';

/** Parts that the picture has room for. */
const MOST_RIBBONS = 4;
const ALL = '';
const project = useProject();
const away = useTakeAway();
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const firstParts = computed(() => parts.value.slice(0, MOST_RIBBONS));
const mixChoices = computed(() => [
  { value: ALL, words: 'all parts' },
  ...parts.value.map(({ id, name }) => ({ value: id, words: name })),
]);
const tails = [
  { value: 'ring' as const, words: 'tail rings out' },
  { value: 'cut' as const, words: 'cut, to loop' },
];
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.mix"
    title="Mix"
    :about="`44.1 kHz, stereo; the click is left out`"
    :summary="away.rows.mix"
    :share="away.shareOf('mix')"
  >
    <template #picture>
      <div class="ribbons">
        <span v-for="part in firstParts" :key="part.id" class="ribbon"><PartRibbon :part="part" /></span>
      </div>
    </template>
    <ChoiceField
      class="which"
      label="Parts in the mix"
      :show-label="false"
      :model-value="away.settings.mix.onlyPartId ?? ALL"
      :choices="mixChoices"
      @put="away.settings.mix.onlyPartId = $event === ALL ? null : $event"
    />
    <NumberField v-model="away.settings.mix.rounds" class="rounds" label="rounds" :min="1" :max="999" :reset="1" />
    <ChoiceField
      class="encoding"
      label="samples"
      :show-label="false"
      test-id="mix-encoding"
      :model-value="away.settings.mix.encoding"
      :choices="AUDIO_ENCODINGS"
      @put="away.settings.mix.encoding = $event"
    />
    <ChoiceField
      label="The end of the mix"
      spread
      :show-label="false"
      test-id="mix-tail"
      :model-value="away.settings.mix.ringOut ? 'ring' : 'cut'"
      :choices="tails"
      @put="away.settings.mix.ringOut = $event === 'ring'"
    />
  </AwayRow>
</template>

<style scoped>
.ribbons {
  display: grid;
  gap: 4px;
  height: 100%;
  grid-auto-rows: minmax(0, 1fr);
}
.ribbon {
  min-height: 0;
}
.which {
  width: 142px;
}
.encoding {
  width: 140px;
}
.rounds {
  width: 100px;
}
</style>
