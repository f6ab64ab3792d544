/** Compiles a document and the audio of its sources into a plan for the renderer. Pure. */
import { homePattern, orderedEvents } from '../patterns/home.ts';
import { slicesOfPart, type PlacedSlice } from '../project/cuts.ts';
import { HOME, type Part, type PatternEvent, type ProjectDocument } from '../project/schema.ts';
import type { AudioData } from '../dsp/audio.ts';
import { dbToGain, panGains, velocityToGain } from '../units/level.ts';
import { transposeRatio } from '../units/pitch.ts';
import { framesPerTick, msToFrames } from '../units/time.ts';
import type { PlanEvent, PlanPart, PlanPattern, PlanSlice, PlanSource, RenderPlan } from './render-plan.ts';

/** Fade-in of a slice that does not begin at a zero, in milliseconds: short enough not to soften an attack. */
const START_FADE_MS = 0.7;
/** A first sample below this (-48 dB) starts without a click. */
const SILENT_START = 10 ** (-48 / 20);

/**
 * @param assets audio by source id; parts whose audio is missing are silent
 * @param sampleRate rate of the output in frames a second
 */
export function compilePlan(
  document: ProjectDocument,
  assets: ReadonlyMap<string, AudioData>,
  sampleRate: number,
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
    sources,
    parts: document.partOrder.map((partId) => {
      const part = document.parts[partId]!;
      const audible = anySoloed ? part.soloed : !part.muted;
      return compilePart(document, part, sources, sampleRate, audible);
    }),
  };
}

function compilePart(
  document: ProjectDocument,
  part: Part,
  sources: readonly PlanSource[],
  sampleRate: number,
  audible: boolean,
): PlanPart {
  const sourceIndex = sources.findIndex((source) => source.id === part.sourceId);
  const placed = slicesOfPart(document, part);
  const slices = placed.map((at) => compileSlice(at, part, sources[sourceIndex], sampleRate));
  const indexById = new Map(placed.map((at) => [at.slice.id, at.index]));
  const home = homePattern(placed, part.loop);
  const compileEvents = (events: readonly PatternEvent[], lengthTicks: number) =>
    compilePattern(events, lengthTicks, slices, indexById, framesPerTick(document.tempoBpm, sampleRate));
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
    sourceIndex,
    gainLeft: gain * left,
    gainRight: gain * right,
    oneAtATime: part.oneAtATime,
    stopFadeFrames: msToFrames(part.stopFadeMs, sampleRate),
    slices,
    keys: Array.from({ length: 128 }, (_, note) => (slices[note - part.startKey] ? note - part.startKey : -1)),
    patterns,
    activePatternId: part.activePatternId,
  };
}

function compileSlice(at: PlacedSlice, part: Part, source: PlanSource | undefined, sampleRate: number): PlanSlice {
  const { sound } = at.slice;
  const [left, right] = panGains(sound.pan);
  const gain = dbToGain(sound.gainDb);
  const increment = ((source?.sampleRate ?? sampleRate) / sampleRate) * transposeRatio(0, sound.tuneCents);
  const endFrame = Math.min(at.endFrame, source?.channels[0]?.length ?? at.endFrame);
  const lengthFrames = Math.max(1, (endFrame - at.startFrame) / increment);
  const firstFrame = sound.reverse ? endFrame - 1 : at.startFrame;
  const startsLoud = source?.channels.some((channel) => Math.abs(channel[firstFrame] ?? 0) > SILENT_START) ?? false;
  const startsWithFile = !sound.reverse && at.startFrame === 0;
  return {
    startFrame: at.startFrame,
    endFrame,
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
    endFadeFrames: Math.round(Math.min(msToFrames(part.stopFadeMs, sampleRate), lengthFrames / 4)),
    startFadeFrames: startsLoud && !startsWithFile ? msToFrames(START_FADE_MS, sampleRate) : 0,
  };
}

function compilePattern(
  events: readonly PatternEvent[],
  lengthTicks: number,
  slices: readonly PlanSlice[],
  indexById: ReadonlyMap<string, number>,
  framesATick: number,
): PlanEvent[] {
  const out: PlanEvent[] = [];
  for (const event of events) {
    const sliceIndex = indexById.get(event.sliceId);
    if (sliceIndex === undefined || event.positionTicks >= lengthTicks) continue;
    for (let repeat = 0; repeat < event.repeats; repeat++) {
      out.push({
        positionTicks: event.positionTicks + (event.lengthTicks * repeat) / event.repeats,
        lengthTicks: event.lengthTicks / event.repeats,
        sliceIndex,
        gain: velocityToGain(event.velocity),
        reverse: event.reverse !== slices[sliceIndex]!.reverse,
        joinsNext: false,
        joinsPrevious: false,
      });
    }
  }
  out.sort((a, b) => a.positionTicks - b.positionTicks);
  markJoins(out, lengthTicks, slices, framesATick);
  return out;
}

/**
 * Finds events that together are one piece of the source, so that a loop played in its own order at its own tempo
 * comes out sample for sample. The last event joins the first one of the next round when it ends with the pattern.
 */
function markJoins(events: PlanEvent[], lengthTicks: number, slices: readonly PlanSlice[], framesATick: number): void {
  const plain = (event: PlanEvent) => {
    const slice = slices[event.sliceIndex]!;
    return !event.reverse && slice.increment === 1 && slice.envelope.decayFrames === 0;
  };
  const frameOf = (ticks: number) => Math.round(ticks * framesATick);
  events.forEach((event, index) => {
    const isLast = index === events.length - 1;
    const next = isLast ? events[0]! : events[index + 1]!;
    const slice = slices[event.sliceIndex]!;
    const nextSlice = slices[next.sliceIndex]!;
    const nextFrame = isLast ? frameOf(lengthTicks + next.positionTicks) : frameOf(next.positionTicks);
    const sliceEnd = frameOf(event.positionTicks) + slice.endFrame - slice.startFrame;
    const goesOn = slice.endFrame === nextSlice.startFrame || isLast;
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
