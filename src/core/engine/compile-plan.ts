/** Compiles a document and the audio of its sources into a plan for the renderer. Pure. */
import { timedEvents } from '../patterns/timing.ts';
import { homePattern, orderedEvents } from '../patterns/home.ts';
import { slicesOfPart, type PlacedSlice } from '../project/cuts.ts';
import { HOME, type Part, type PatternEvent, type ProjectDocument } from '../project/schema.ts';
import type { AudioData } from '../dsp/audio.ts';
import { dbToGain, panGains, velocityToGain } from '../units/level.ts';
import { transposeRatio } from '../units/pitch.ts';
import { framesPerTick, msToFrames } from '../units/time.ts';
import { lengthRatio, partTempoBpm, wantedRenderings, type Renderings, type RenderingSpec } from './follow.ts';
import type { PlanEvent, PlanPart, PlanPattern, PlanSlice, PlanSource, RenderPlan } from './render-plan.ts';

/** Fade-in of a slice that does not begin at a zero, in milliseconds: short enough not to soften an attack. */
const START_FADE_MS = 0.7;
/** `fade` fades over this share of a slice. */
const TAIL_FADE_SHARE = 0.4;
/** An event that is at least this share of its slice's own length plays it whole. */
const NATURAL_SHARE = 0.98;
/** Of what is stretched to its place a little less: feel and groove draw some events together. */
const STRETCHED_SHARE = 0.9;
const NO_RENDERINGS: Renderings = { find: () => undefined };
/** A first sample below this (-48 dB) starts without a click. */
const SILENT_START = 10 ** (-48 / 20);

/**
 * @param assets audio by source id; parts whose audio is missing are silent
 * @param sampleRate rate of the output in frames a second
 * @param renderings stretched slices and tails; where one is missing the slice plays as it is
 */
export function compilePlan(
  document: ProjectDocument,
  assets: ReadonlyMap<string, AudioData>,
  sampleRate: number,
  renderings: Renderings = NO_RENDERINGS,
): RenderPlan {
  const sources: PlanSource[] = [];
  for (const id of Object.keys(document.sources)) {
    const audio = assets.get(id);
    if (audio) sources.push({ id, sampleRate: audio.sampleRate, channels: audio.channels });
  }
  const anySoloed = Object.values(document.parts).some((part) => part.soloed);
  return {
    sampleRate,
    tempoBpm: document.tempoBpm,
    beatsPerBar: document.beatsPerBar,
    clickEnabled: document.click.enabled,
    clickGain: dbToGain(document.click.gainDb),
    clickSound: document.click.sound,
    sources,
    parts: document.partOrder.map((partId) => {
      const part = document.parts[partId]!;
      const audible = anySoloed ? part.soloed : !part.muted;
      return compilePart(document, part, sources, sampleRate, audible, renderings);
    }),
  };
}

function compilePart(
  document: ProjectDocument,
  part: Part,
  sources: PlanSource[],
  sampleRate: number,
  audible: boolean,
  renderings: Renderings,
): PlanPart {
  const sourceIndex = sources.findIndex((source) => source.id === part.sourceId);
  const placed = slicesOfPart(document, part);
  const songRatio = lengthRatio(document, part);
  const specs = wantedRenderings(document, part);
  const slices = placed.map((at) => {
    const spec = specs[at.index];
    const rendered = spec && sourceIndex >= 0 ? renderings.find(spec) : undefined;
    const sound: SliceSoundOf = rendered
      ? rendition(rendered, spec!, sources)
      : {
          sourceIndex,
          startFrame: at.startFrame,
          endFrame: at.endFrame,
          naturalEndFrame: at.endFrame,
          isRendering: false,
          hasRest: false,
          tuneCents: 0,
        };
    return compileSlice(at, part, sound, sources[sound.sourceIndex], sampleRate, songRatio);
  });
  const indexById = new Map(placed.map((at) => [at.slice.id, at.index]));
  const home = homePattern(placed, part.loop);
  const partTempo = partTempoBpm(document, part);
  const tempoBpm = part.follow === 'none' ? partTempo : document.tempoBpm;
  const { sampleRate: sourceRate } = document.sources[part.sourceId]!;
  const ringsOut = (slice: PlanSlice, lengthTicks: number) => {
    if (part.oneAtATime && !slice.hasRest) return false;
    const [share, tempo] = slice.hasRest ? [STRETCHED_SHARE, tempoBpm] : [NATURAL_SHARE, partTempo];
    return lengthTicks >= (share * sourceFramesOf(slice)) / framesPerTick(tempo, sourceRate);
  };
  const compileEvents = (events: readonly PatternEvent[], lengthTicks: number) =>
    compilePattern(
      timedEvents(events, lengthTicks, part, part.follow === 'none' ? 50 : document.swingPercent),
      lengthTicks,
      slices,
      indexById,
      framesPerTick(tempoBpm, sampleRate),
      ringsOut,
    );
  const patterns: PlanPattern[] = [
    { id: HOME, lengthTicks: home.lengthTicks, events: compileEvents(home.events, home.lengthTicks) },
    ...part.patternOrder.map((patternId) => {
      const pattern = document.patterns[patternId]!;
      const events = compileEvents(orderedEvents(pattern.events), pattern.lengthTicks);
      return { id: patternId, lengthTicks: pattern.lengthTicks, events };
    }),
  ];
  const [left, right] = panGains(part.pan);
  const gain = audible ? dbToGain(part.gainDb) : 0;
  return {
    id: part.id,
    gainLeft: gain * left,
    gainRight: gain * right,
    oneAtATime: part.oneAtATime,
    stopFadeFrames: msToFrames(part.stopFadeMs, sampleRate),
    slices,
    keys: Array.from({ length: 128 }, (_, note) => (slices[note - part.startKey] ? note - part.startKey : -1)),
    patterns,
    activePatternId: part.activePatternId,
    transposeCents: part.transposeCents,
    // A stretched slice is transposed in its rendering, a slice that is not there yet as it is played.
    tuneRatio: specs[0]?.fill === 'stretch' ? 1 : transposeRatio(0, part.transposeCents),
    tuneAtBar: part.transposeAt === 'bar',
    ownTempoBpm: part.follow === 'none' ? partTempo : null,
    ringOver: part.ringOver,
    keepsPlace: part.follow === 'stretch',
  };
}

/** Which samples a slice plays. */
interface SliceSoundOf {
  sourceIndex: number;
  startFrame: number;
  endFrame: number;
  naturalEndFrame: number;
  isRendering: boolean;
  hasRest: boolean;
  /** What the samples lack of the wanted transposition. */
  tuneCents: number;
}

/** A rendering as a source of the plan. */
function rendition(
  { spec, audio }: { spec: RenderingSpec; audio: AudioData },
  wanted: RenderingSpec,
  sources: PlanSource[],
): SliceSoundOf {
  let sourceIndex = sources.findIndex((source) => source.id === spec.key);
  if (sourceIndex < 0) sourceIndex = sources.push({ id: spec.key, ...audio }) - 1;
  const endFrame = audio.channels[0]!.length;
  const isRing = spec.fill === 'ring';
  const naturalEndFrame = isRing ? spec.endFrame - spec.startFrame : Math.min(endFrame, spec.length);
  const hasRest = !isRing && endFrame > naturalEndFrame;
  const tuneCents = wanted.transposeCents - spec.transposeCents;
  return { sourceIndex, startFrame: 0, endFrame, naturalEndFrame, isRendering: true, hasRest, tuneCents };
}

function compileSlice(
  at: PlacedSlice,
  part: Part,
  played: SliceSoundOf,
  source: PlanSource | undefined,
  sampleRate: number,
  songRatio: number,
): PlanSlice {
  const { sound } = at.slice;
  const [left, right] = panGains(sound.pan);
  const gain = dbToGain(sound.gainDb);
  const speed = part.follow === 'speed' ? 1 / songRatio : 1;
  const increment =
    ((source?.sampleRate ?? sampleRate) / sampleRate) * transposeRatio(0, sound.tuneCents + played.tuneCents) * speed;
  const { startFrame } = played;
  const frames = source?.channels[0]?.length ?? played.endFrame;
  const endFrame = Math.min(played.endFrame, frames);
  const naturalEndFrame = Math.min(played.naturalEndFrame, frames);
  const lengthFrames = Math.max(1, (naturalEndFrame - startFrame) / increment);
  const firstFrame = sound.reverse ? naturalEndFrame - 1 : startFrame;
  const startsLoud = source?.channels.some((channel) => Math.abs(channel[firstFrame] ?? 0) > SILENT_START) ?? false;
  const startsWithFile = !sound.reverse && at.startFrame === 0;
  const fadesOut = part.follow === 'slices' && part.tail === 'fade' && songRatio > 1;
  const fadeMost = fadesOut ? lengthFrames * TAIL_FADE_SHARE : msToFrames(part.stopFadeMs, sampleRate);
  return {
    id: at.slice.id,
    sourceIndex: played.sourceIndex,
    isRendering: played.isRendering,
    shownStart: at.startFrame,
    shownEnd: at.endFrame,
    startFrame,
    endFrame,
    naturalEndFrame,
    hasRest: played.hasRest,
    gainLeft: gain * left,
    gainRight: gain * right,
    increment,
    reverse: sound.reverse,
    held: sound.play === 'held',
    envelope: {
      attackFrames: msToFrames(sound.attackMs, sampleRate),
      decayFrames: msToFrames(sound.decayMs, sampleRate),
      sustain: sound.sustain,
      releaseFrames: Math.max(1, msToFrames(sound.releaseMs, sampleRate)),
    },
    endFadeFrames: Math.round(Math.min(fadeMost, lengthFrames * (fadesOut ? 1 : 0.25))),
    startFadeFrames: startsLoud && !startsWithFile ? msToFrames(START_FADE_MS, sampleRate) : 0,
  };
}

function compilePattern(
  events: readonly PatternEvent[],
  lengthTicks: number,
  slices: readonly PlanSlice[],
  indexById: ReadonlyMap<string, number>,
  framesATick: number,
  ringsOut: (slice: PlanSlice, lengthTicks: number) => boolean,
): PlanEvent[] {
  const out: PlanEvent[] = [];
  for (const event of events) {
    const sliceIndex = indexById.get(event.sliceId);
    if (sliceIndex === undefined || event.positionTicks >= lengthTicks) continue;
    const slice = slices[sliceIndex]!;
    const reverse = event.reverse !== slice.reverse;
    for (let repeat = 0; repeat < event.repeats; repeat++) {
      out.push({
        positionTicks: event.positionTicks + (event.lengthTicks * repeat) / event.repeats,
        lengthTicks: event.lengthTicks / event.repeats,
        sliceIndex,
        gain: velocityToGain(event.velocity),
        reverse,
        joinsNext: false,
        joinsPrevious: false,
        // Only what lasts as long as its slice does; a shortened event stays short.
        ringsOut: event.repeats === 1 && !(reverse && slice.hasRest) && ringsOut(slice, event.lengthTicks),
      });
    }
  }
  out.sort((a, b) => a.positionTicks - b.positionTicks);
  markJoins(out, lengthTicks, slices, framesATick);
  return out;
}

/** Frames of a slice itself, without what was rung on. */
function sourceFramesOf(slice: PlanSlice): number {
  return slice.naturalEndFrame - slice.startFrame;
}

/**
 * Finds events that together are one piece of the source, so that a loop played in its own order at its own tempo
 * comes out sample for sample. The last event joins the first one of the next round when it ends with the pattern.
 */
function markJoins(events: PlanEvent[], lengthTicks: number, slices: readonly PlanSlice[], framesATick: number): void {
  const plain = (event: PlanEvent) => {
    const slice = slices[event.sliceIndex]!;
    // A rendering ends by itself; what follows it in the source does not follow it here.
    return (
      !slice.isRendering &&
      !event.reverse &&
      slice.increment === 1 &&
      slice.envelope.decayFrames === 0 &&
      !event.ringsOut
    );
  };
  const frameOf = (ticks: number) => Math.round(ticks * framesATick);
  events.forEach((event, index) => {
    const isLast = index === events.length - 1;
    const next = isLast ? events[0]! : events[index + 1]!;
    const slice = slices[event.sliceIndex]!;
    const nextSlice = slices[next.sliceIndex]!;
    const nextFrame = isLast ? frameOf(lengthTicks + next.positionTicks) : frameOf(next.positionTicks);
    const sliceEnd = frameOf(event.positionTicks) + slice.endFrame - slice.startFrame;
    const goesOn = (slice.endFrame === nextSlice.startFrame && slice.sourceIndex === nextSlice.sourceIndex) || isLast;
    const sameLevel =
      event.gain === next.gain && slice.gainLeft === nextSlice.gainLeft && slice.gainRight === nextSlice.gainRight;
    if (
      plain(event) &&
      plain(next) &&
      goesOn &&
      sameLevel &&
      sliceEnd === nextFrame &&
      nextSlice.envelope.attackFrames === 0
    ) {
      event.joinsNext = true;
      next.joinsPrevious = true;
    }
  });
}
