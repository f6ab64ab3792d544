<script setup lang="ts">
/** Where a slice lies: its ends as numbers, and nudged by a sample, a millisecond or a 64th. */
import { computed, ref } from 'vue';
import { moveMarker } from '#core/project/commands/cut.ts';
import { setLoop } from '#core/project/commands/parts.ts';
import { setSliceEnds } from '#core/project/commands/slices.ts';
import { barLines, loopTicksAt, nearestBarLine, withBarLine } from '#core/units/loop-time.ts';
import { songValues } from '#core/queries/values.ts';
import { formatBarsBeats, framesPerTick, TICKS_PER_BEAT } from '#core/units/time.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import DocumentField from '../fields/DocumentField.vue';
import IconButton from '../shared/IconButton.vue';
import DetailCard from './DetailCard.vue';

const project = useProject();
const session = useSession();
type Unit = 'sample' | 'ms' | '64th';
const unit = ref<Unit>('ms');
const units: { value: Unit; words: string }[] = [
  { value: 'sample', words: '1 sample' },
  { value: 'ms', words: '1 ms' },
  { value: '64th', words: '1/64' },
];
const sides = ['start', 'end'] as const;

const at = computed(() => session.selectedSlices[0]!);
const rate = computed(() => session.loaded?.sampleRate ?? 44100);
const lengthMs = computed(() => ((at.value.endFrame - at.value.startFrame) / rate.value) * 1000);
const lastFrame = computed(() => session.loaded?.channels[0]?.length ?? at.value.endFrame);
/** Ticks in one frame of the loop, at its own tempo. */
const ticksPerFrame = computed(() => {
  const { loop } = session.cut!;
  if (loop) {
    const { startFrame, endFrame } = at.value;
    return (loopTicksAt(loop, endFrame) - loopTicksAt(loop, startFrame)) / (endFrame - startFrame);
  }
  return 1 / framesPerTick(songValues(project.document!).tempoBpm, rate.value);
});
const lengthBars = computed(() => {
  const ticks = (at.value.endFrame - at.value.startFrame) * ticksPerFrame.value;
  const beatsPerBar = session.cut!.loop?.beatsPerBar ?? songValues(project.document!).beatsPerBar;
  const [bar, beat, rest] = formatBarsBeats(ticks, beatsPerBar).split('.') as [string, string, string];
  return `${Number(bar) - 1}.${Number(beat) - 1}.${rest}`;
});

function setStart(startFrame: number): void {
  project.run('move slice', moveMarker, { cutId: session.cut!.id, sliceId: at.value.slice.id, startFrame });
}

function setEnd(endFrame: number): void {
  project.run('end of the slice', setSliceEnds, { cutId: session.cut!.id, ends: { [at.value.slice.id]: endFrame } });
}

/** Slices further from a bar line than this begin no bar, in ticks. */
const BAR_REACH_TICKS = TICKS_PER_BEAT;
/** The bar that could begin with the slice, from 1 for the second; null where none could, or does already. */
const nearBar = computed(() => {
  const { loop } = session.cut!;
  const { startFrame } = at.value;
  const bar = loop && nearestBarLine(loop, startFrame);
  if (!loop || bar === null) return null;
  const line = barLines(loop)[bar]!;
  if (Math.round(line) === startFrame) return null;
  if (Math.abs(loopTicksAt(loop, startFrame) - loopTicksAt(loop, line)) > BAR_REACH_TICKS) return null;
  return withBarLine(loop, bar, startFrame) && bar;
});

function beginBar(bar: number): void {
  const { id, loop } = session.cut!;
  const moved = withBarLine(loop!, bar, at.value.startFrame);
  if (moved) project.run(`start of bar ${bar + 1}`, setLoop, { cutId: id, loop: { barFrames: moved.barFrames } });
}

function nudge(side: 'start' | 'end', direction: 1 | -1): void {
  const frames = { sample: 1, ms: Math.round(rate.value / 1000), '64th': Math.round(60 / ticksPerFrame.value) };
  const by = direction * frames[unit.value];
  if (side === 'start') setStart(at.value.startFrame + by);
  else setEnd(at.value.endFrame + by);
}
</script>

<template>
  <DetailCard id="slice-place" title="Where" :note="`${lengthMs.toFixed(1)} ms · ${lengthBars}`">
    <div class="pair">
      <DocumentField
        label="start"
        stacked
        unit="frames"
        :model-value="at.startFrame"
        :min="0"
        :max="lastFrame - 1"
        :disabled="at.slice.locked"
        undo="move slice"
        @put="setStart"
      />
      <DocumentField
        label="end"
        stacked
        unit="frames"
        hint="An end of its own may lie beyond the next marker: slices overlap then"
        :model-value="at.endFrame"
        :min="at.startFrame + 16"
        :max="lastFrame"
        :disabled="at.slice.locked"
        undo="end of the slice"
        @put="setEnd"
      />
    </div>
    <div class="nudge">
      <span v-for="side in sides" :key="side" class="side">
        <IconButton icon="earlier" :words="`${side} earlier`" :disabled="at.slice.locked" @click="nudge(side, -1)" />
        <IconButton icon="later" :words="`${side} later`" :disabled="at.slice.locked" @click="nudge(side, 1)" />
      </span>
      <ChoiceField
        class="wide unit"
        label="Nudge by"
        hint="How far the arrows move an end"
        :show-label="false"
        :model-value="unit"
        :choices="units"
        @put="unit = $event"
      />
    </div>
    <v-btn
      v-if="nearBar !== null"
      class="bar"
      data-tip="For a player who drifts: the bar line moves to this slice, and the loop keeps the song’s time bar by bar"
      @click="beginBar(nearBar)"
      >bar {{ nearBar + 1 }} begins here</v-btn
    >
  </DetailCard>
</template>

<style scoped>
.nudge {
  display: flex;
  gap: 8px;
}
.side {
  display: flex;
  gap: 2px;
}
.bar {
  margin-top: 6px;
}
.unit {
  flex: 1;
}
</style>
