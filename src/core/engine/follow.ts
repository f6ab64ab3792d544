/** How a part keeps the song's tempo: the numbers that its plan follows from, and what has to be rendered for it. */
import { eventsOf, patternLengthTicks } from '../project/commands/patterns.ts';
import { slicesOfPart } from '../project/cuts.ts';
import type { Part, ProjectDocument } from '../project/schema.ts';
import type { AudioData } from '../dsp/audio.ts';
import { MAX_STRETCH_RATIO } from '../stretch/materials.ts';
import { retimeSlice, type SliceRetiming } from '../stretch/retime.ts';
import { transposeRatio } from '../units/pitch.ts';
import { framesPerTick, loopTempoBpm } from '../units/time.ts';

/** A slice with its tail rung on, or stretched, that a plan plays in the slice's place. */
export interface RenderingSpec extends SliceRetiming {
  /** Names the very samples: the same key is the same sound. */
  key: string;
  /** Names the slice: another rendering of it may play until this one is there. */
  sliceKey: string;
  sourceId: string;
}

/** What renderings there are. */
export interface Renderings {
  /** The rendering itself, or the latest other one of its slice; undefined when there is none. */
  find(spec: RenderingSpec): { spec: RenderingSpec; audio: AudioData } | undefined;
}

/** A tail is rendered this many times as long as its slice, or as many as it takes in doubled steps. */
const LEAST_RING = 2;
const MOST_RING_SECONDS = 8;
/** Ratios nearer to 1 than this need nothing. */
const SAME = 5e-4;

/** Tells renderings from sources by their names. */
export function isRenderingKey(id: string): boolean {
  return id.includes(':');
}

/** Beats a minute of a part's loop as it is in its source. */
export function partTempoBpm(document: ProjectDocument, part: Part): number {
  const { loop } = part;
  const { sampleRate } = document.sources[part.sourceId]!;
  return loopTempoBpm(loop.bars, loop.beatsPerBar, loop.endFrame - loop.startFrame, sampleRate);
}

/** How much longer the loop lasts in the song than in its source. */
export function lengthRatio(document: ProjectDocument, part: Part): number {
  return part.follow === 'none' ? 1 : partTempoBpm(document, part) / document.tempoBpm;
}

/** Whether a ratio can be stretched at all. */
export function isStretchable(ratio: number): boolean {
  return ratio <= MAX_STRETCH_RATIO && ratio >= 1 / MAX_STRETCH_RATIO;
}

/** How fast a part's source passes under its events, in source frames a tick; a slice's own tuning comes on top. */
export function sourceFramesPerTick(document: ProjectDocument, part: Part): number {
  const { sampleRate } = document.sources[part.sourceId]!;
  const stretches = part.follow === 'stretch' && isStretchable(lengthRatio(document, part));
  const goesBySlices = part.follow === 'slices' || (part.follow === 'stretch' && !stretches);
  const tempoBpm = goesBySlices ? document.tempoBpm : partTempoBpm(document, part);
  return framesPerTick(tempoBpm, sampleRate) * (stretches ? 1 : transposeRatio(0, part.transposeCents));
}

/** The renderings that a part's plan wants, one a slice; none where slices play as they are. */
export function wantedRenderings(document: ProjectDocument, part: Part): RenderingSpec[] {
  const ratio = lengthRatio(document, part);
  const { sampleRate } = document.sources[part.sourceId]!;
  if (part.follow === 'stretch' && isStretchable(ratio)) {
    if (Math.abs(ratio - 1) < SAME && part.transposeCents === 0) return [];
    return specsOf(document, part, (frames) => ({
      fill: 'stretch',
      material: part.material,
      length: Math.max(1, Math.round(frames * ratio)),
      transposeCents: part.transposeCents,
    }));
  }
  // Beyond what can be stretched a part plays by slices.
  if (part.follow !== 'stretch' && (part.follow !== 'slices' || part.tail !== 'ring')) return [];
  const needed = ratio * transposeRatio(0, part.transposeCents);
  if (needed < 1 + SAME) return [];
  const times = Math.max(LEAST_RING, 2 ** Math.ceil(Math.log2(needed)));
  return specsOf(document, part, (frames) => ({
    fill: 'ring',
    material: part.material,
    length: Math.max(frames, Math.min(frames * times, frames + Math.round(MOST_RING_SECONDS * sampleRate))),
    transposeCents: 0,
  }));
}

/**
 * All that a document wants, each once, in the order in which it will be heard from a position of the song on. What no
 * playing pattern uses comes after that, silenced parts come last.
 */
export function renderingsInOrder(document: ProjectDocument, positionTicks: number): RenderingSpec[] {
  const anySoloed = Object.values(document.parts).some((part) => part.soloed);
  const waits = document.partOrder.flatMap((partId) => {
    const part = document.parts[partId]!;
    const specs = wantedRenderings(document, part);
    if (specs.length === 0) return [];
    const silenced = anySoloed ? !part.soloed : part.muted;
    const ticks = ticksUntilHeard(document, part, positionTicks);
    return specs.map((spec, index) => ({ spec, silenced, ticks: ticks[index]! }));
  });
  const order = (wait: { silenced: boolean; ticks: number }) => (wait.silenced ? Infinity : Math.min(wait.ticks, 1e12));
  waits.sort((a, b) => (order(a) === order(b) ? 0 : order(a) - order(b)));
  return [...new Map(waits.map(({ spec }) => [spec.key, spec])).values()];
}

/**
 * For each slice of a part the ticks until its next event in the pattern that plays; Infinity for those not in it. One
 * that sounds is wanted before it ends, and the sooner the better: half of what is left of it counts.
 */
function ticksUntilHeard(document: ProjectDocument, part: Part, positionTicks: number): number[] {
  const placed = slicesOfPart(document, part);
  const events = eventsOf(document, part.id, part.activePatternId);
  const lengthTicks = patternLengthTicks(document, part.id, part.activePatternId);
  const within = positionTicks % lengthTicks;
  const byId = new Map<string, number>();
  for (const event of events) {
    const gone = (within - event.positionTicks + lengthTicks) % lengthTicks;
    const ahead = gone < event.lengthTicks ? (event.lengthTicks - gone) / 2 : lengthTicks - gone;
    byId.set(event.sliceId, Math.min(gone === 0 ? 0 : ahead, byId.get(event.sliceId) ?? Infinity));
  }
  return placed.map(({ slice }) => byId.get(slice.id) ?? Infinity);
}

function specsOf(
  document: ProjectDocument,
  part: Part,
  retimingOf: (frames: number) => Omit<SliceRetiming, 'startFrame' | 'endFrame'>,
): RenderingSpec[] {
  return slicesOfPart(document, part).map(({ startFrame, endFrame }) => {
    const retiming = retimingOf(endFrame - startFrame);
    const { fill, material, length, transposeCents } = retiming;
    const sliceKey = [part.sourceId, startFrame, endFrame, fill].join(':');
    const key = [sliceKey, material, length, transposeCents].join(':');
    return { startFrame, endFrame, ...retiming, key, sliceKey, sourceId: part.sourceId };
  });
}

/** Makes one rendering. */
export function renderSpec(audio: AudioData, spec: RenderingSpec): AudioData {
  return retimeSlice(audio, spec);
}

/** All that a document wants, made at once: for bouncing, the command line and tests. */
export function renderAll(document: ProjectDocument, assets: ReadonlyMap<string, AudioData>): Renderings {
  const made = new Map<string, { spec: RenderingSpec; audio: AudioData }>();
  for (const partId of document.partOrder) {
    const part = document.parts[partId]!;
    const audio = assets.get(part.sourceId);
    if (!audio) continue;
    for (const spec of wantedRenderings(document, part)) {
      if (!made.has(spec.key)) made.set(spec.key, { spec, audio: renderSpec(audio, spec) });
    }
  }
  return { find: (spec) => made.get(spec.key) };
}
