<script setup lang="ts">
/** What is looked for in a long recording, and the break that is looked at: its seam, and what becomes of it. */
import { computed } from 'vue';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '#core/units/time.ts';
import type { SourceSummary } from '../../api/client.ts';
import { placeWords, seamWords, useBreaks } from '../../stores/shelf/breaks.ts';
import { useProject } from '../../stores/document/project.ts';
import { ICONS } from '../../theme/icons.ts';
import DetailCard from '../details/DetailCard.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import SeamPicture from './SeamPicture.vue';
import { countWords } from './shelf-words.ts';

const LENGTHS = [1, 2, 4, 8];
const WAYS = [
  { value: 'drums' as const, words: 'drums alone' },
  { value: 'loops' as const, words: 'all that loops' },
];

const { source } = defineProps<{ source: SourceSummary }>();
const emit = defineEmits<{ cut: [source: SourceSummary, asProject: boolean] }>();
const breaks = useBreaks();
const project = useProject();
const note = computed(() => {
  const { search } = breaks;
  return search ? `${countWords(search.breaks.length, 'break')} in ${search.seconds.toFixed(1)} s` : '';
});

function setBars(bars: readonly number[]): void {
  if (bars.length > 0) breaks.wish.bars = LENGTHS.filter((one) => bars.includes(one));
}

async function take(way: 'part' | 'project' | 'keep'): Promise<void> {
  const kept = await breaks.keep(source, breaks.chosenPlace);
  if (kept && way !== 'keep') emit('cut', kept, way === 'project');
}
</script>

<template>
  <DetailCard
    v-if="breaks.chosen"
    id="found-break"
    :title="`Break ${breaks.chosenPlace + 1}`"
    :note="placeWords(breaks.chosen.startFrame, source.sampleRate)"
  >
    <div class="seam"><SeamPicture :start="breaks.chosen.start" :after="breaks.chosen.after" /></div>
    <p class="small legend"><span class="ink">its start</span><span class="signal">after its end</span></p>
    <p class="small">
      <span class="mono">{{ Math.round(100 * breaks.chosen.seamless) }}%</span> seamless:
      {{ seamWords(breaks.chosen) }}
    </p>
    <v-btn
      class="strong take"
      block
      :prepend-icon="ICONS.cut"
      data-testid="break-cut"
      @click="take(project.document ? 'part' : 'project')"
    >
      {{ project.document ? 'Cut the break as a new part' : 'Cut the break as a new project' }}
    </v-btn>
    <div class="two">
      <v-btn v-if="project.document" @click="take('project')">a new project</v-btn>
      <v-btn data-testid="break-keep" data-tip="On the shelf, as a sound of its own" @click="take('keep')"
        >keep it</v-btn
      >
    </div>
  </DetailCard>
  <DetailCard id="find-breaks" title="Breaks in it" :note="note">
    <ChoiceField
      class="bare"
      label="Look for"
      :show-label="false"
      spread
      :choices="WAYS"
      :model-value="breaks.wish.lookFor"
      @put="breaks.wish.lookFor = $event"
    />
    <div class="bars">
      <span class="quiet small">bars</span>
      <v-btn-toggle
        multiple
        role="group"
        aria-label="Lengths in bars"
        :model-value="[...breaks.wish.bars]"
        @update:model-value="setBars"
      >
        <v-btn v-for="bars in LENGTHS" :key="bars" :value="bars">{{ bars }}</v-btn>
      </v-btn-toggle>
    </div>
    <NumberField
      v-model="breaks.wish.fromBpm"
      label="tempo from"
      unit="bpm"
      :min="MIN_TEMPO_BPM"
      :max="MAX_TEMPO_BPM"
      :reset="60"
    />
    <NumberField
      v-model="breaks.wish.toBpm"
      label="to"
      unit="bpm"
      :min="MIN_TEMPO_BPM"
      :max="MAX_TEMPO_BPM"
      :reset="190"
    />
    <NumberField
      label="seamless"
      hint="At least so seamless: how much what comes after a loop’s end is as its start"
      unit="%"
      :min="0"
      :max="100"
      :reset="30"
      :model-value="100 * breaks.wish.leastSeamless"
      @update:model-value="breaks.wish.leastSeamless = $event / 100"
    />
    <NumberField
      v-if="breaks.wish.lookFor === 'drums'"
      label="others"
      hint="At most so much of what sounds may be something else than drums"
      unit="%"
      :min="0"
      :max="100"
      :reset="25"
      :model-value="100 * breaks.wish.mostOthers"
      @update:model-value="breaks.wish.mostOthers = $event / 100"
    />
    <v-btn block :disabled="breaks.searching !== null" data-testid="find-breaks" @click="breaks.find(source)">
      {{ breaks.searching === source.id ? 'Looking …' : breaks.search ? 'Look again' : 'Find breaks' }}
    </v-btn>
    <p v-if="breaks.search?.breaks.length === 0" class="quiet small">
      None that fits: allow more of others, less seamless loops, other lengths or tempi.
    </p>
  </DetailCard>
</template>

<style scoped>
.seam {
  height: 84px;
}
.legend {
  display: flex;
  gap: 14px;
}
.ink,
.signal {
  border-left: 14px solid var(--ink);
  border-image: linear-gradient(transparent 44%, var(--ink) 44% 56%, transparent 56%) 1;
  padding-left: 6px;
}
.signal {
  border-image: linear-gradient(transparent 44%, var(--signal) 44% 56%, transparent 56%) 1;
}
.take.take {
  height: max(36px, var(--control));
}
.two {
  display: flex;
  gap: 6px;
}
.two > * {
  flex: 1 1 0;
}
.bars {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
}
</style>
