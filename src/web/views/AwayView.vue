<script setup lang="ts">
/** What can leave the project as files: ticked rows with what they will be, one sum, one button; how loud the mix is. */
import { watchDebounced } from '@vueuse/core';
import { computed, onMounted } from 'vue';
import { AUDIO_ENCODINGS } from '#core/formats/encode.ts';
import { formatSeconds } from '#core/units/time.ts';
import AwayRow from '../components/away/AwayRow.vue';
import LevelsPicture from '../components/away/LevelsPicture.vue';
import { bytesWords } from '../components/away/away-words.ts';
import DetailCard from '../components/details/DetailCard.vue';
import DetailHead from '../components/details/DetailHead.vue';
import ChoiceField from '../components/fields/ChoiceField.vue';
import NumberField from '../components/fields/NumberField.vue';
import FirstSteps from '../components/frame/FirstSteps.vue';
import PlaceFrame from '../components/frame/PlaceFrame.vue';
import IconButton from '../components/shared/IconButton.vue';
import InTurn from '../components/shared/InTurn.vue';
import PartRibbon from '../components/shared/PartRibbon.vue';
import SkylineMini from '../components/shared/SkylineMini.vue';
import { usePartPicture } from '../components/shared/use-part-picture.ts';
import { whenWords } from '../components/shelf/shelf-words.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import { HEADROOM_DB, useTakeAway, type RowId } from '../stores/take-away.ts';

/** Longer mixes are measured when they are asked for. */
const MEASURED_SECONDS = 90;
const MEASURE_AFTER_MS = 700;
const STRETCHES = 64;
const ALL = '';
const RATES = [0, 22050, 44100, 48000, 88200, 96000];

const project = useProject();
const session = useSession();
const away = useTakeAway();
const parts = computed(() => project.document!.partOrder.map((id) => project.document!.parts[id]!));
const partChoices = computed(() => parts.value.map(({ id, name }) => ({ value: id, words: name })));
const mixChoices = computed(() => [{ value: ALL, words: 'all parts' }, ...partChoices.value]);
const rateChoices = RATES.map((value) => ({ value, words: value === 0 ? 'its own rate' : `${value / 1000} kHz` }));
const tails = [
  { value: 'ring' as const, words: 'tail rings out' },
  { value: 'cut' as const, words: 'cut, to loop' },
];
const whichSlices = computed(() => [
  { value: 'all' as const, words: 'all slices' },
  {
    value: 'chosen' as const,
    words: `the ${session.sliceIds.length} selected`,
    disabled: session.sliceIds.length === 0,
  },
]);

const partOf = (id: string | null) => (id && project.document!.parts[id]) || session.part || parts.value[0] || null;
const slicesPart = computed(() => partOf(away.settings.slices.partId));
const sourcePart = computed(() => partOf(away.settings.source.partId));
const slicesPicture = usePartPicture(() => slicesPart.value, STRETCHES);
const sourcePicture = usePartPicture(() => sourcePart.value, STRETCHES);
const firstParts = computed(() => parts.value.slice(0, 4));

const shareOf = (row: RowId) => (away.running?.row === row ? away.running.share : null);
const isOver = computed(() => (away.levels?.peakDb ?? -1) > 0);
const loudness = computed(() => away.levels?.loudnessLufs ?? -Infinity);
const doing = computed(() => {
  const row = away.running?.row;
  return row ? { mix: 'the mix', slices: 'the slices', source: 'the source', pack: 'one zip of all' }[row] : '';
});

/** The mix as it is, whatever of the document it follows from. */
watchDebounced(
  () => [project.document, away.settings.mix.rounds, away.settings.mix.onlyPartId, away.settings.mix.ringOut],
  () => {
    if (away.mixSeconds <= MEASURED_SECONDS) void away.measure();
  },
  { debounce: MEASURE_AFTER_MS },
);
onMounted(() => {
  if (away.mixSeconds > 0 && away.mixSeconds <= MEASURED_SECONDS) void away.measure();
});
</script>

<template>
  <PlaceFrame v-if="parts.length === 0" title="Take away"><FirstSteps /></PlaceFrame>
  <PlaceFrame v-else title="Take away" details-label="Before it goes">
    <template #facts>what can leave {{ project.document!.name }}; the music plays on meanwhile</template>
    <div class="rows sheet">
      <InTurn
        ><AwayRow
          v-model="away.settings.ticked.mix"
          title="Mix"
          :about="`44.1 kHz, stereo; the click is left out`"
          :summary="away.rows.mix"
          :share="shareOf('mix')"
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
          <NumberField
            v-model="away.settings.mix.rounds"
            class="rounds"
            label="rounds"
            :min="1"
            :max="999"
            :reset="1"
          />
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
          /> </AwayRow
      ></InTurn>
      <InTurn
        ><AwayRow
          v-model="away.settings.ticked.slices"
          title="Slices of a part"
          about="each as a file, in one zip"
          :summary="away.rows.slices"
          :share="shareOf('slices')"
        >
          <template #picture><SkylineMini :levels="slicesPicture.levels" :colours="slicesPicture.colours" /></template>
          <ChoiceField
            class="which"
            label="Part whose slices"
            :show-label="false"
            :model-value="slicesPart?.id ?? null"
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
          <v-checkbox v-model="away.settings.slices.options.mono" label="mono" /> </AwayRow
      ></InTurn>
      <InTurn
        ><AwayRow
          v-model="away.settings.ticked.source"
          title="Source with markers"
          about="cue points with names, the loop"
          :summary="away.rows.source"
          :share="shareOf('source')"
        >
          <template #picture><SkylineMini :levels="sourcePicture.levels" :colours="sourcePicture.colours" /></template>
          <ChoiceField
            class="which"
            label="Part whose source"
            :show-label="false"
            :model-value="sourcePart?.id ?? null"
            :choices="partChoices"
            @put="away.settings.source.partId = $event"
          /> </AwayRow
      ></InTurn>
    </div>
    <div class="sum sheet" role="status" data-testid="away-sum">
      <p class="total">
        <b class="mono">{{ away.sum.files }}</b> {{ away.sum.files === 1 ? 'file' : 'files' }} ·
        <b class="mono">{{ away.sum.isAbout ? 'about ' : '' }}{{ bytesWords(away.sum.bytes) }}</b> ·
        <b class="mono">{{ formatSeconds(away.sum.seconds) }}</b> of sound
      </p>
      <v-progress-linear
        v-if="away.running"
        class="progress"
        height="8"
        :model-value="away.running.share * 100"
        :aria-label="`Writing ${doing}`"
      />
      <span v-if="away.running" class="quiet small">{{ doing }}</span>
      <span v-else class="quiet small where">
        {{
          away.tickedRows.length > 1
            ? 'all of it in one zip'
            : away.tickedRows.length === 0
              ? 'tick what you want'
              : 'as it is'
        }}
      </span>
      <v-btn v-if="away.running" class="big" @click="away.cancel()">Cancel</v-btn>
      <v-btn
        class="strong big"
        :disabled="away.tickedRows.length === 0 || away.running !== null"
        data-testid="away-run"
        @click="away.run()"
        >Take away</v-btn
      >
    </div>
    <template #details>
      <DetailHead title="Mix" note="before it goes" />
      <DetailCard id="away-levels" title="Levels" :note="isOver ? 'over full scale' : ''">
        <template v-if="away.levels">
          <LevelsPicture :levels="away.levels" />
          <dl class="numbers">
            <div>
              <dt>peak</dt>
              <dd :class="{ over: isOver }" data-testid="mix-peak">
                {{
                  away.levels.peakDb > -Infinity
                    ? `${away.levels.peakDb > 0 ? '+' : ''}${away.levels.peakDb.toFixed(1)} dB`
                    : 'silent'
                }}
              </dd>
            </div>
            <div>
              <dt>loudness</dt>
              <dd data-testid="mix-loudness">{{ loudness > -Infinity ? `${loudness.toFixed(1)} LUFS` : 'none' }}</dd>
            </div>
          </dl>
          <v-btn
            v-if="away.levels.peakDb > -HEADROOM_DB"
            block
            data-tip="Lowers every part by as much, in one step that can be undone"
            @click="away.lowerToFit()"
            >lower by {{ (away.levels.peakDb + HEADROOM_DB).toFixed(1) }} dB, to peak at −{{
              HEADROOM_DB.toFixed(1)
            }}</v-btn
          >
        </template>
        <p v-else class="quiet small">{{ away.isMeasuring ? 'being measured …' : 'Not measured yet.' }}</p>
        <v-btn block :disabled="away.isMeasuring" @click="away.measure()"
          >measure {{ away.levels ? 'again' : 'it' }}</v-btn
        >
      </DetailCard>
      <DetailCard id="away-before" title="Taken away before">
        <p v-if="away.takenBefore.length === 0" class="quiet small">Nothing yet.</p>
        <ul v-else class="before" data-testid="taken-before">
          <li v-for="taken in away.takenBefore" :key="taken.at">
            <span class="one-line" :data-tip="taken.fileName">{{ taken.fileName }}, {{ bytesWords(taken.bytes) }}</span>
            <span class="quiet small">{{ whenWords(taken.at) }}</span>
            <IconButton
              icon="refresh"
              :words="`${taken.fileName} once more`"
              hint="The same once more, as the project is now"
              @click="away.again(taken)"
            />
          </li>
        </ul>
      </DetailCard>
    </template>
  </PlaceFrame>
</template>

<style scoped>
.rows {
  flex: 0 1 auto;
  overflow-y: auto;
  min-height: 0;
  scrollbar-width: thin;
}
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
.rate {
  width: 120px;
}
.rounds {
  width: 100px;
}
.fade {
  width: 116px;
}
.names {
  flex: 1 1 170px;
}
.sum {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 12px 14px;
  flex: none;
}
.total {
  font-size: 15px;
  white-space: nowrap;
}
.progress {
  flex: 1;
}
.where {
  margin-left: auto;
}
.big.v-btn.v-btn--density-default {
  height: 42px;
  padding: 0 18px;
  font-size: 15px;
}
.numbers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
  font-size: 13px;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
  font: 500 15px var(--mono);
}
dd.over {
  color: var(--signal-ink);
}
.before {
  display: grid;
  gap: 6px;
}
.before li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  font-size: 13px;
}
.before li .v-btn {
  grid-column: 2;
  grid-row: 1 / 3;
}
</style>
