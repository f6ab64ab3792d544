<script setup lang="ts">
/** The mix, of all parts or of one. */
import { computed } from 'vue';
import { MIX_ENCODINGS } from '#core/formats/encode.ts';
import { useProject } from '../../stores/document/project.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import type { MixWay } from '../../stores/away/take-away-rows.ts';
import AwayRow from './AwayRow.vue';
import PartRibbons from './PartRibbons.vue';

const ALL = '';
const project = useProject();
const away = useTakeAway();
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const mixChoices = computed(() => [
  { value: ALL, words: 'all parts' },
  ...parts.value.map(({ id, name }) => ({ value: id, words: name })),
]);
const ways = computed<{ value: MixWay; words: string }[]>(() => {
  const { sections, sectionOrder } = project.document!;
  const rounds = { value: 'rounds' as const, words: 'rounds' };
  if (sectionOrder.length === 0) return [rounds];
  return [
    { value: 'order' as const, words: 'running order' },
    ...sectionOrder.map((id) => ({ value: `section ${id}` as const, words: sections[id]!.name })),
    rounds,
  ];
});
const way = computed<MixWay>(() =>
  ways.value.some(({ value }) => value === away.settings.mix.way) ? away.settings.mix.way : 'rounds',
);
const RATES = [44_100, 48_000, 88_200, 96_000].map((value) => ({ value, words: `${value / 1000} kHz` }));
const tails = [
  { value: 'ring' as const, words: 'tail rings out' },
  { value: 'cut' as const, words: 'cut, to loop' },
];
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.mix"
    title="Mix"
    about="stereo; the click is left out"
    :summary="away.rows.mix"
    :share="away.shareOf('mix')"
  >
    <template #picture><PartRibbons /></template>
    <ChoiceField
      class="which"
      label="Parts in the mix"
      :show-label="false"
      :model-value="away.settings.mix.onlyPartId ?? ALL"
      :choices="mixChoices"
      @put="away.settings.mix.onlyPartId = $event === ALL ? null : $event"
    />
    <ChoiceField
      v-if="ways.length > 1"
      class="way"
      label="What of the song"
      :show-label="false"
      test-id="mix-way"
      :model-value="way"
      :choices="ways"
      @put="away.settings.mix.way = $event"
    />
    <NumberField
      v-if="way === 'rounds'"
      v-model="away.settings.mix.rounds"
      class="rounds"
      label="rounds"
      :min="1"
      :max="999"
      :reset="1"
    />
    <ChoiceField
      class="rate"
      label="Sample rate of the mix"
      :show-label="false"
      :model-value="away.settings.mix.sampleRate"
      :choices="RATES"
      @put="away.settings.mix.sampleRate = $event"
    />
    <ChoiceField
      class="encoding"
      label="samples"
      :show-label="false"
      test-id="mix-encoding"
      :model-value="away.settings.mix.encoding"
      :choices="MIX_ENCODINGS"
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
.which {
  width: 142px;
}
.encoding {
  width: 140px;
}
.way {
  width: 132px;
}
.rate {
  width: 102px;
}
.rounds {
  width: 100px;
}
</style>
