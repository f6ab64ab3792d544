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
    about="each as a file, in one zip"
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
    <v-text-field
      v-model="away.settings.slices.options.namePattern"
      class="names"
      aria-label="names"
      data-tip="{source}, {number} and {slice} stand for the part, the slice's place and its name"
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
.fade {
  width: 116px;
}
.names {
  flex: 1 1 170px;
}
</style>
