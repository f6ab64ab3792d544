/** What has to be rendered so that cuts keep the song's tempo: slices stretched, or with their tails rung on. */
import type { AudioData } from '../../dsp/audio.ts';
import { cutTempoBpm, lengthRatio, ownTempoBpm } from '../../queries/loops.ts';
import { eventsOf, patternLengthTicks } from '../../queries/patterns.ts';
import { slicesOfCut, type PlacedSlice } from '../../queries/slices.ts';
import { channelValues, cutValues, partValues, songValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import type { Cut, Part, ProjectDocument } from '../../document/schema.ts';
import { MAX_STRETCH_RATIO } from '../../stretch/materials.ts';
import type { SliceRetiming } from '../../stretch/retime.ts';
import { transposeRatio } from '../../units/pitch.ts';
import { framesPerTick } from '../../units/time.ts';

/** A slice with its tail rung on, or stretched, that a plan plays in the slice's place. */
export interface RenderingSpec extends SliceRetiming {
  /** Names the very samples: the same key is the same sound. */
  key: string;
  /** Names the slice: another rendering of it may play until this one is there. */
  sliceKey: string;
  sourceId: string;
}

export interface Rendering {
  spec: RenderingSpec;
  audio: AudioData;
}

/** What renderings there are. */
export interface Renderings {
  /** Grows when there are others. */
  readonly version: number;
  /** The rendering itself, or the latest other one of its slice; undefined when there is none. */
  find(spec: RenderingSpec): Rendering | undefined;
}

export const NO_RENDERINGS: Renderings = { version: 0, find: () => undefined };

/** A tail is rendered this many times as long as its slice, or as many as it takes in doubled steps. */
const MIN_RING_TIMES = 2;
const MAX_RING_SECONDS = 8;
/** Keys further away than four octaves play faster or slower instead. */
const MAX_KEY_CENTS = 4800;
/** Ratios nearer to 1 than this need nothing. */
const SAME_RATIO = 5e-4;

/** Tells renderings from sources by their names. */
export function isRenderingKey(id: string): boolean {
  return id.includes(':');
}

/** Whether a ratio can be stretched at all. */
export function isStretchable(ratio: number): boolean {
  return ratio <= MAX_STRETCH_RATIO && ratio >= 1 / MAX_STRETCH_RATIO;
}

function partOf(document: ProjectDocument, cut: Cut): Part {
  return document.parts[cut.partId]!;
}

/** Does a cut play stretched samples, or would it if it had to? Beyond what can be stretched it plays by slices. */
export function stretches(document: ProjectDocument, cut: Cut): boolean {
  return cutValues(cut).follow === 'stretch' && cut.loop !== null && isStretchable(lengthRatio(document, cut));
}

/** How fast a cut's source passes under its events, in source frames a tick; a zone's own tuning comes on top. */
export function sourceFramesPerTick(document: ProjectDocument, cut: Cut): number {
  const { sampleRate } = document.sources[cut.sourceId]!;
  const { follow } = cutValues(cut);
  const isStretched = stretches(document, cut);
  const goesBySlices = follow === 'slices' || (follow === 'stretch' && !isStretched);
  const song = songValues(document).tempoBpm;
  const tempoBpm = goesBySlices ? song : (cutTempoBpm(document, cut) ?? song);
  const { transposeCents } = partValues(partOf(document, cut));
  return framesPerTick(tempoBpm, sampleRate) * (isStretched ? 1 : transposeRatio(0, transposeCents));
}

/** How all slices of a cut are rendered, their lengths aside; null where they play as they are. */
export interface CutRetiming {
  fill: SliceRetiming['fill'];
  material: SliceRetiming['material'];
  transposeCents: number;
  /** Length of a rendering over that of its slice. */
  times: number;
  keepsTime: boolean;
}

export function cutRetiming(document: ProjectDocument, cut: Cut): CutRetiming | null {
  const { follow, tail, material } = cutValues(cut);
  const ratio = lengthRatio(document, cut);
  const { transposeCents } = partValues(partOf(document, cut));
  if (!cut.loop) return null;
  if (stretches(document, cut)) {
    if (Math.abs(ratio - 1) < SAME_RATIO && transposeCents === 0) return null;
    // Drums ring on as what they are, higher or lower; what moves inside notes is to stay in time.
    return { fill: 'stretch', material, transposeCents, times: ratio, keepsTime: material !== 'drums' };
  }
  if (follow !== 'stretch' && (follow !== 'slices' || tail !== 'ring')) return null;
  const needed = ratio * transposeRatio(0, transposeCents);
  if (needed < 1 + SAME_RATIO) return null;
  const times = Math.max(MIN_RING_TIMES, 2 ** Math.ceil(Math.log2(needed)));
  return { fill: 'ring', material, transposeCents: 0, times, keepsTime: false };
}

/** The rendering that a slice wants. */
export function renderingSpec(
  sourceId: string,
  sampleRate: number,
  { startFrame, endFrame }: Pick<PlacedSlice, 'startFrame' | 'endFrame'>,
  { fill, material, transposeCents, times, keepsTime }: CutRetiming,
): RenderingSpec {
  const frames = endFrame - startFrame;
  const length =
    fill === 'stretch'
      ? Math.max(1, Math.round(frames * times))
      : Math.max(frames, Math.min(frames * times, frames + Math.round(MAX_RING_SECONDS * sampleRate)));
  const sliceKey = [sourceId, startFrame, endFrame, fill].join(':');
  const key = [sliceKey, material, length, transposeCents, keepsTime ? 'even' : 'own'].join(':');
  return { startFrame, endFrame, fill, material, length, transposeCents, keepsTime, key, sliceKey, sourceId };
}

/** The rendering of a slice for a key that is to change its pitch and not its length; null where it plays as it is. */
export function keyRenderingSpec(
  document: ProjectDocument,
  { zone, cut, at, keys }: PlacedZone,
  key: number,
): RenderingSpec | null {
  const { keepsLength, followsKey, tuneCents } = zoneValues(zone);
  if (!keepsLength || !followsKey || !keys || zone.plays.kind !== 'slice') return null;
  const { transposeCents: partCents } = partValues(partOf(document, cut));
  const transposeCents = (key - keys.root) * 100 + tuneCents + partCents;
  if (transposeCents === 0 || Math.abs(transposeCents) > MAX_KEY_CENTS) return null;
  const { id, sampleRate } = document.sources[cut.sourceId]!;
  const times = stretches(document, cut) ? lengthRatio(document, cut) : 1;
  const { material } = cutValues(cut);
  const retiming: CutRetiming = { fill: 'stretch', material, transposeCents, times, keepsTime: true };
  const spec = renderingSpec(id, sampleRate, at, retiming);
  // By its key alone: another key's rendering is no stand-in for it.
  return { ...spec, sliceKey: spec.key };
}

/** All keys' renderings of a part, from the root outwards: the nearest are played first. */
export function wantedKeyRenderings(document: ProjectDocument, part: Part): RenderingSpec[] {
  return zonesOfPart(document, part).flatMap((placed) => {
    const { keys } = placed;
    if (!keys || !zoneValues(placed.zone).keepsLength) return [];
    const all = Array.from({ length: keys.high - keys.low + 1 }, (_, place) => keys.low + place);
    all.sort((a, b) => Math.abs(a - keys.root) - Math.abs(b - keys.root));
    return all.flatMap((key) => keyRenderingSpec(document, placed, key) ?? []);
  });
}

/** The renderings that a cut wants, one a slice; none where slices play as they are. */
export function wantedRenderings(document: ProjectDocument, cut: Cut): RenderingSpec[] {
  const retiming = cutRetiming(document, cut);
  if (!retiming) return [];
  const { id, sampleRate } = document.sources[cut.sourceId]!;
  const specs = slicesOfCut(document, cut.id).map((at) => renderingSpec(id, sampleRate, at, retiming));
  return retiming.fill === 'ring' ? specs : [...specs, ...longerRenderings(document, cut, retiming)];
}

/** Of zones that play on to the end of the sound. */
function longerRenderings(document: ProjectDocument, cut: Cut, retiming: CutRetiming): RenderingSpec[] {
  const { id, sampleRate, frames } = document.sources[cut.sourceId]!;
  return zonesOfPart(document, partOf(document, cut)).flatMap(({ zone, at, cut: { id: cutId } }) => {
    if (cutId !== cut.id || zone.plays.kind !== 'slice' || !zoneValues(zone).runsOn) return [];
    return [renderingSpec(id, sampleRate, { ...at, endFrame: frames }, retiming)];
  });
}

/**
 * All that a document wants, each once, in the order in which it will be heard from a position of the song on. What no
 * playing pattern uses comes after that, silenced parts come last.
 */
export function renderingsInOrder(document: ProjectDocument, positionTicks: number): RenderingSpec[] {
  const anySoloed = Object.values(document.channels).some((channel) => channelValues(channel).soloed);
  const waits = document.partOrder.flatMap((partId) => {
    const part = document.parts[partId]!;
    const { soloed, muted } = channelValues(document.channels[part.channelId]!);
    const isSilenced = anySoloed ? !soloed : muted;
    let ticksBySlice: ReadonlyMap<string, number> | null = null;
    return part.cutOrder.flatMap((cutId) => {
      const cut = document.cuts[cutId]!;
      const specs = wantedRenderings(document, cut);
      if (specs.length === 0) return [];
      ticksBySlice ??= ticksUntilHeard(document, part, positionTicks);
      const placed = slicesOfCut(document, cutId);
      return specs.map((spec, index) => ({
        spec,
        isSilenced,
        ticks: ticksBySlice!.get(`${cutId} ${placed[index]?.slice.id}`) ?? Infinity,
      }));
    });
  });
  const order = (wait: (typeof waits)[number]) => (wait.isSilenced ? Infinity : Math.min(wait.ticks, 1e12));
  waits.sort((a, b) => (order(a) === order(b) ? 0 : order(a) - order(b)));
  const forKeys = document.partOrder.flatMap((partId) => wantedKeyRenderings(document, document.parts[partId]!));
  return [...new Map([...waits.map(({ spec }) => spec), ...forKeys].map((spec) => [spec.key, spec])).values()];
}

/**
 * For each slice of a part the ticks until its next event in the pattern that plays; missing for those not in it. One
 * that sounds is wanted before it ends, and the sooner the better: half of what is left of it counts.
 */
function ticksUntilHeard(document: ProjectDocument, part: Part, positionTicks: number): ReadonlyMap<string, number> {
  const zones = new Map(zonesOfPart(document, part).map((placed) => [placed.zone.id, placed]));
  const lengthTicks = patternLengthTicks(document, part.activePatternId) || 1;
  const within = positionTicks % lengthTicks;
  const bySlice = new Map<string, number>();
  for (const event of eventsOf(document, part.activePatternId)) {
    const placed = zones.get(event.zoneId);
    if (!placed) continue;
    const gone = (within - event.positionTicks + lengthTicks) % lengthTicks;
    const ahead = gone < event.lengthTicks ? (event.lengthTicks - gone) / 2 : lengthTicks - gone;
    const name = `${placed.cut.id} ${placed.at.slice.id}`;
    bySlice.set(name, Math.min(gone === 0 ? 0 : ahead, bySlice.get(name) ?? Infinity));
  }
  return bySlice;
}

/** The tempo that a part's events go by, in beats a minute. */
export function partTempoBpm(document: ProjectDocument, part: Part): number {
  return ownTempoBpm(document, part) ?? songValues(document).tempoBpm;
}
