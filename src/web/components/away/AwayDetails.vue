<script setup lang="ts">
/** How loud the mix is before it goes, and what was taken away before. */
import { computed } from 'vue';
import { HEADROOM_DB, useTakeAway } from '../../stores/away/take-away.ts';
import DetailCard from '../details/DetailCard.vue';
import DetailHead from '../details/DetailHead.vue';
import IconButton from '../shared/IconButton.vue';
import { whenWords } from '../shelf/shelf-words.ts';
import { bytesWords } from './away-words.ts';
import LevelsPicture from './LevelsPicture.vue';

/** What streaming brings music to (common practice). */
const USUAL_LUFS = -14;
const away = useTakeAway();
const isOver = computed(() => (away.levels?.truePeakDb ?? -1) > 0);
const loudness = computed(() => away.levels?.loudnessLufs ?? -Infinity);
const peakWords = computed(() => {
  const { truePeakDb: peakDb } = away.levels!;
  return peakDb > -Infinity ? `${peakDb > 0 ? '+' : ''}${peakDb.toFixed(1)} dB` : 'silent';
});
</script>

<template>
  <DetailHead title="Mix" note="before it goes" />
  <DetailCard id="away-levels" title="Levels" :note="isOver ? 'over full scale' : ''">
    <template v-if="away.levels">
      <LevelsPicture :levels="away.levels" />
      <dl class="numbers">
        <div>
          <dt data-tip="Highest between the samples, too">true peak</dt>
          <dd :class="{ over: isOver }" data-testid="mix-peak">{{ peakWords }}</dd>
        </div>
        <div>
          <dt>loudness</dt>
          <dd data-testid="mix-loudness">{{ loudness > -Infinity ? `${loudness.toFixed(1)} LUFS` : 'none' }}</dd>
        </div>
        <div>
          <dt data-tip="Between its quiet and its loud places">range</dt>
          <dd>{{ away.levels.rangeLu.toFixed(1) }} LU</dd>
        </div>
      </dl>
      <v-btn
        v-if="loudness > -Infinity && Math.abs(loudness - USUAL_LUFS) > 0.05"
        block
        data-tip="Every part louder or softer by as much, in one step; mind the peak"
        @click="away.bringToLufs(USUAL_LUFS)"
        >to −14 LUFS: {{ loudness > USUAL_LUFS ? 'softer' : 'louder' }} by
        {{ Math.abs(loudness - USUAL_LUFS).toFixed(1) }} dB</v-btn
      >
      <v-btn
        v-if="away.levels.truePeakDb > -HEADROOM_DB"
        block
        data-tip="Lowers every part by as much, in one step that can be undone"
        @click="away.lowerToFit()"
        >lower by {{ (away.levels.truePeakDb + HEADROOM_DB).toFixed(1) }} dB, to peak at −{{
          HEADROOM_DB.toFixed(1)
        }}</v-btn
      >
      <v-btn
        v-if="isOver && away.settings.mix.encoding !== 'wav32'"
        block
        data-tip="Numbers without an upper end: what is over full scale is kept, and can be lowered elsewhere"
        @click="away.settings.mix.encoding = 'wav32'"
        >or take it as 32 bit float: nothing is cut off</v-btn
      >
    </template>
    <p v-else class="quiet small">{{ away.isMeasuring ? 'being measured …' : 'Not measured yet.' }}</p>
    <v-btn block :disabled="away.isMeasuring" @click="away.measure()">measure {{ away.levels ? 'again' : 'it' }}</v-btn>
  </DetailCard>
  <DetailCard v-if="away.stemPeaks.length > 0" id="away-stems" title="Each stem" note="peaks, dB">
    <dl class="stems">
      <div v-for="stem in away.stemPeaks" :key="stem.name">
        <dt class="one-line">{{ stem.name }}</dt>
        <dd class="mono">{{ stem.peakDb > -Infinity ? stem.peakDb.toFixed(1) : 'silent' }}</dd>
      </div>
    </dl>
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

<style scoped>
.numbers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
  font-size: 13px;
}
.before {
  display: grid;
  gap: 6px;
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
.stems > div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: 13px;
}
.stems {
  margin: 0;
}
.stems dd {
  margin: 0;
}
</style>
