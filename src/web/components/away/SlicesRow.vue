<script setup lang="ts">
/** The slices of a part, each as a file. */
import { computed } from 'vue';
import { AUDIO_ENCODINGS } from '#core/formats/encode.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTakeAway } from '../../stores/away/take-away.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { usePartPicture } from '../shared/use-part-picture.ts';
import AwayRow from './AwayRow.vue';
import { usePartChoice } from './use-part-choice.ts';

const RATES = [0, 22050, 44100, 48000, 88200, 96000];
const rateChoices = RATES.map((value) => ({ value, words: value === 0 ? 'its own rate' : `${value / 1000} kHz` }));
const ways = [
  { value: 'cut' as const, words: 'as they are cut' },
  { value: 'sounding' as const, words: 'as they sound' },
];
const orders = [
  { value: 'source' as const, words: 'in their order' },
  { value: 'key' as const, words: 'by key' },
  { value: 'role' as const, words: 'by what they are' },
];
const holders = [
  { value: 'each' as const, words: 'a file each' },
  { value: 'together' as const, words: 'one file' },
];
const session = useSession();
const away = useTakeAway();
const { partChoices, part } = usePartChoice(() => away.settings.slices.partId);
const picture = usePartPicture(() => part.value, 64);
const whichSlices = computed(() => [
  { value: 'all' as const, words: 'all slices' },
  {
    value: 'chosen' as const,
    words: `the ${session.sliceIds.length} selected`,
    disabled: session.sliceIds.length === 0,
  },
]);
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.slices"
    title="Slices of a part"
    about="each as a file in one zip, or all in one file"
    :summary="away.rows.slices"
    :share="away.shareOf('slices')"
  >
    <template #picture><SkylineMini :levels="picture.levels" :colours="picture.colours" /></template>
    <ChoiceField
      class="which"
      label="Part whose slices"
      :show-label="false"
      :model-value="part?.id ?? null"
      :choices="partChoices"
      @put="away.settings.slices.partId = $event"
    />
    <ChoiceField
      class="encoding"
      label="files"
      :show-label="false"
      :model-value="away.settings.slices.options.encoding"
      :choices="AUDIO_ENCODINGS"
      @put="away.settings.slices.options.encoding = $event"
    />
    <ChoiceField
      class="rate"
      label="Sample rate"
      :show-label="false"
      :model-value="away.settings.slices.options.sampleRate ?? 0"
      :choices="rateChoices"
      @put="away.settings.slices.options.sampleRate = $event === 0 ? null : $event"
    />
    <ChoiceField
      label="Which slices"
      spread
      :show-label="false"
      test-id="which-slices"
      :model-value="away.settings.slices.onlySelected ? 'chosen' : 'all'"
      :choices="whichSlices"
      @put="away.settings.slices.onlySelected = $event === 'chosen'"
    />
    <ChoiceField
      class="way"
      label="How they are taken"
      hint="As they are cut from the source; or each played once with its settings, through the part's chain, until it has rung out"
      test-id="slices-way"
      :show-label="false"
      :model-value="away.settings.slices.asSounding ? 'sounding' : 'cut'"
      :choices="ways"
      @put="away.settings.slices.asSounding = $event === 'sounding'"
    />
    <ChoiceField
      class="way"
      label="Their order"
      :show-label="false"
      test-id="slices-order"
      :model-value="away.settings.slices.order"
      :choices="orders"
      @put="away.settings.slices.order = $event"
    />
    <ChoiceField
      class="rate"
      label="Files of the slices"
      hint="Each in a file of its own; or all in one, in stretches of equal length with a marker at each"
      test-id="slices-holder"
      :show-label="false"
      :model-value="away.settings.slices.options.together ? 'together' : 'each'"
      :choices="holders"
      @put="away.settings.slices.options.together = $event === 'together'"
    />
    <v-text-field
      v-if="!away.settings.slices.options.together"
      v-model="away.settings.slices.options.namePattern"
      class="names"
      aria-label="names"
      data-tip="{source}, {number}, {slice}, {role} and {key} stand for the part, the slice's place, its name, what it is, and the key it lies on"
      maxlength="200"
      @keydown.stop
    />
    <NumberField
      v-model="away.settings.slices.options.fadeInMs"
      class="fade"
      label="fade in"
      :min="0"
      :max="10"
      :step="0.5"
      :digits="1"
      :reset="0"
      unit="ms"
    />
    <NumberField
      v-model="away.settings.slices.options.fadeOutMs"
      class="fade"
      label="fade out"
      :min="0"
      :max="10"
      :step="0.5"
      :digits="1"
      :reset="2"
      unit="ms"
    />
    <v-checkbox v-model="away.settings.slices.options.mono" label="mono" />
  </AwayRow>
</template>

<style scoped>
.which {
  width: 142px;
}
.encoding {
  width: 140px;
}
.rate {
  width: 120px;
}
.way {
  width: 138px;
}
.fade {
  width: 116px;
}
.names {
  flex: 1 1 170px;
}
</style>
