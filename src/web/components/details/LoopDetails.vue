<script setup lang="ts">
/** How the loop of a cut is read: its bars, its tempo, where it begins and ends. */
import { computed, watch } from 'vue';
import { readNameHints } from '#core/analysis/name-hints.ts';
import type { Loop } from '#core/project/schema.ts';
import { TapTempo } from '../../input/tap-tempo.ts';
import { useNotices } from '../../stores/notices.ts';
import { setLoop } from '#core/project/commands/parts.ts';
import { setValue } from '#core/project/commands/values.ts';
import { loopLengthFrames, loopTempoBpm, metreWords, nearestBars } from '#core/units/time.ts';
import { useProject } from '../../stores/project.ts';
import { usePreview } from '../../stores/preview.ts';
import { useSession } from '../../stores/session.ts';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import MetreField from '../fields/MetreField.vue';

const project = useProject();
const session = useSession();
const notices = useNotices();
const preview = usePreview();

const cut = computed(() => session.cut!);
const source = computed(() => session.source!);
const loop = computed(() => cut.value.loop!);
const loopFrames = computed(() => loop.value.endFrame - loop.value.startFrame);
const tempo = computed(() =>
  loopTempoBpm(loop.value.bars, loop.value.beatsPerBar, loopFrames.value, source.value.sampleRate),
);

/** Other readings: half and double of the loop as it is, and those the analysis named. */
const readings = computed(() => {
  const { bars } = loop.value;
  const more = [{ ...loop.value, bars: bars * 2 }, ...(bars % 2 === 0 ? [{ ...loop.value, bars: bars / 2 }] : [])];
  const seen = new Set<string>();
  return [loop.value, ...more, ...cut.value.tempoReadings]
    .map(({ startFrame, endFrame, bars: count, beatsPerBar }) => ({ startFrame, endFrame, bars: count, beatsPerBar }))
    .filter((reading) => {
      const name = Object.values(reading).join('/');
      return !seen.has(name) && seen.add(name);
    })
    .slice(0, 6)
    .map((reading) => ({
      reading,
      bpm: loopTempoBpm(
        reading.bars,
        reading.beatsPerBar,
        reading.endFrame - reading.startFrame,
        source.value.sampleRate,
      ),
    }));
});

/** What the file's name says: shown as a hint, taken by a click. */
const hints = computed(() => readNameHints(source.value.name));
const firstHit = computed(() => session.placed.find((at) => at.slice.strength > 0.3)?.startFrame ?? 0);

function putLoop(label: string, change: Partial<Loop>): void {
  project.run(label, setLoop, { cutId: cut.value.id, loop: change });
}

/**
 * Makes the loop exactly as long as whole bars are at a tempo: as many as come nearest to its length and fit into the
 * source, which stays as it is.
 */
function trimTo(tempoBpm: number): void {
  const { startFrame, beatsPerBar } = loop.value;
  const { sampleRate, frames } = source.value;
  const endOf = (bars: number) => startFrame + Math.round(loopLengthFrames(bars, beatsPerBar, tempoBpm, sampleRate));
  const nearest = nearestBars(loopFrames.value, beatsPerBar, tempoBpm, sampleRate);
  const bars = endOf(nearest) > frames ? Math.max(1, nearest - 1) : nearest;
  const missing = endOf(bars) - frames;
  if (missing > 0) {
    notices.info(
      `At ${tempoBpm} bpm one bar is ${missing} frames longer than the sound: choose a faster tempo or a shorter metre.`,
    );
    return;
  }
  putLoop(`trim to ${tempoBpm} bpm`, { bars, endFrame: endOf(bars) });
}

/** Begins the loop on its first hit; it keeps its length as far as the sound goes. */
function startOnFirstHit(): void {
  const startFrame = firstHit.value;
  putLoop('start on the first hit', {
    startFrame,
    endFrame: Math.min(source.value.frames, startFrame + loopFrames.value),
  });
}

const clicking = computed(() => preview.previewId === `click:${cut.value.id}`);
function toggleClick(): void {
  if (clicking.value) preview.stopPreview();
  else void preview.playWithClick(cut.value.id);
}
// While it is heard, every other reading of the loop is heard at once.
watch(loop, () => {
  if (clicking.value) void preview.playWithClick(cut.value.id);
});

let tapper = new TapTempo();
function tapLoop(): void {
  const tempoBpm = tapper.tap(performance.now());
  if (tempoBpm === null) return;
  // A tap is only about right: it chooses the number of bars, and the length tells the exact tempo.
  const bars = nearestBars(loopFrames.value, loop.value.beatsPerBar, tempoBpm, source.value.sampleRate);
  if (bars !== loop.value.bars) putLoop('tap the loop', { bars });
}
watch(
  () => cut.value.id,
  () => (tapper = new TapTempo()),
);

const offBy = computed(() => {
  const rounded = Math.round(tempo.value);
  const wanted = loopLengthFrames(loop.value.bars, loop.value.beatsPerBar, rounded, source.value.sampleRate);
  return { rounded, frames: Math.round(loopFrames.value - wanted) };
});

/** The song takes this loop's tempo. */
function giveTempo(): void {
  const change = { to: Math.round(tempo.value * 1000) / 1000 };
  project.run('tempo of the loop', setValue, { owners: [{ kind: 'song' }], param: 'tempoBpm', change });
}
</script>

<template>
  <DetailRows title="Loop">
    <DocumentField label="bars" :model-value="loop.bars" :min="1" :max="512" @put="putLoop('bars', { bars: $event })" />
    <div class="row">
      <span>metre</span>
      <MetreField :model-value="loop.beatsPerBar" @put="putLoop('metre of the loop', { beatsPerBar: $event })" />
    </div>
    <DocumentField
      label="its tempo"
      hint="Type one: the loop is trimmed to the whole bars that come nearest to its length"
      data-testid="loop-tempo"
      :model-value="tempo"
      :min="20"
      :max="400"
      :digits="2"
      unit="bpm"
      undo="tempo of the loop"
      @put="trimTo"
    />
    <DocumentField
      label="start"
      hint="First frame of the loop in its source: after a pickup or silence"
      :model-value="loop.startFrame"
      :min="0"
      :max="loop.endFrame - 1"
      unit="frames"
      undo="start of the loop"
      @put="putLoop('start of the loop', { startFrame: $event })"
    />
    <DocumentField
      label="end"
      hint="Frame after the loop's last"
      :model-value="loop.endFrame"
      :min="loop.startFrame + 1"
      :max="source.frames"
      unit="frames"
      undo="end of the loop"
      @put="putLoop('end of the loop', { endFrame: $event })"
    />
    <div class="row">
      <span>frames</span><span class="mono">{{ loopFrames.toLocaleString('en') }}</span>
    </div>
    <p class="quiet off">
      {{
        offBy.frames === 0
          ? `exactly ${offBy.rounded} bpm`
          : `${Math.abs(offBy.frames)} frames too ${offBy.frames > 0 ? 'long' : 'short'} for ${offBy.rounded} bpm`
      }}
    </p>
    <div class="buttons">
      <button
        v-for="({ reading, bpm }, index) in readings"
        :key="Object.values(reading).join('/')"
        class="push small"
        :aria-pressed="index === 0"
        title="Read the loop this way"
        @click="putLoop('read the loop', reading)"
      >
        {{ reading.bars }} × {{ metreWords(reading.beatsPerBar).split(' ')[0] }} · {{ bpm.toFixed(1) }}
      </button>
    </div>
    <p v-if="hints.bpm || hints.key" class="quiet off">
      The name says {{ [hints.bpm ? `${hints.bpm} bpm` : '', hints.key ?? ''].filter(Boolean).join(', ') }}.
    </p>
    <div class="buttons">
      <button
        v-if="offBy.frames !== 0"
        class="push small"
        title="The edit is of the loop; the source stays"
        @click="trimTo(offBy.rounded)"
      >
        trim to {{ offBy.rounded }}
      </button>
      <button
        v-if="hints.bpm"
        class="push small"
        title="Trim the loop to the tempo in the name"
        @click="trimTo(hints.bpm)"
      >
        trim to {{ hints.bpm }}
      </button>
      <button
        class="push small"
        :disabled="firstHit === loop.startFrame"
        title="The loop begins on its first hit"
        @click="startOnFirstHit"
      >
        start on the first hit
      </button>
      <button class="push small" title="Tap along: the number of bars follows" @click="tapLoop">tap</button>
      <button
        class="push small"
        :aria-pressed="clicking"
        title="The loop in its own tempo, with the click over it"
        @click="toggleClick"
      >
        hear with click
      </button>
    </div>
    <div class="buttons">
      <button
        class="push small"
        :disabled="tempo < 20 || tempo > 400"
        title="The song takes this loop's tempo"
        @click="giveTempo"
      >
        use its tempo for the song
      </button>
    </div>
  </DetailRows>
</template>

<style scoped>
.off {
  font-size: 13px;
  padding-top: 4px;
}
</style>
