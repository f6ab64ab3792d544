/** Zones as the renderer plays them: which samples, on which keys, how they follow the tempo. */
import type { AudioData } from '../../dsp/audio.ts';
import type { Cut, Part, ProjectDocument } from '../../document/schema.ts';
import { hitGroup } from '../../queries/hit-groups.ts';
import { cutTempoBpm } from '../../queries/loops.ts';
import { cutValues } from '../../queries/values.ts';
import { zoneValues } from '../../queries/values.ts';
import type { PlacedSlice } from '../../queries/slices.ts';
import { type PlacedZone } from '../../queries/zones.ts';
import { isSameList } from '../../units/same-list.ts';
import { homeId } from '../../document/home-id.ts';
import type { Zone } from '../../document/schema.ts';
import type { ZoneFragment, ZoneSound } from './fragments.ts';
import {
  cutRetiming,
  keyRenderingSpec,
  renderingSpec,
  stretches,
  type CutRetiming,
  type Renderings,
} from './renderings.ts';
import { laidLoop, zoneLoop } from './zone-loop.ts';

/** What the zones of a cut have in common. */
export interface ReadCut {
  cut: Cut;
  sourceId: string;
  retiming: CutRetiming | null;
  isStretched: boolean;
  tempoBpm: number;
}

/** Reads of a cut what its zones need. */
export function readCut(document: ProjectDocument, cut: Cut): ReadCut {
  return {
    cut,
    sourceId: cut.sourceId,
    retiming: cutRetiming(document, cut),
    isStretched: stretches(document, cut),
    tempoBpm: cutTempoBpm(document, cut) ?? 0,
  };
}

interface Samples {
  assets: ReadonlyMap<string, AudioData>;
  renderings: Renderings;
}
/** Takes samples into the plan and gives the id that names them. */
type Keep = (id: string, audio: AudioData) => string;

/** Settings of a zone that its samples follow from. */
export function loopSettings(zone: Zone): unknown[] {
  const { loopMode, reverse, keepsLength, followsKey, tuneCents, runsOn, startOffsetMs } = zoneValues(zone);
  const ofKeys = keepsLength ? [followsKey, tuneCents] : [];
  return [loopMode, loopMode !== 'off' && reverse, runsOn, startOffsetMs < 0, keepsLength, ...ofKeys];
}

/** What a zone plays of its source: its slice, or from there to the end of the sound. */
function playedRange(document: ProjectDocument, { zone, at, cut }: PlacedZone): PlacedSlice {
  const { frames } = document.sources[cut.sourceId]!;
  return zoneValues(zone).runsOn && at.endFrame < frames ? { ...at, endFrame: frames } : at;
}

/** Which samples a zone plays. */
export function soundOf(
  document: ProjectDocument,
  placed: PlacedZone,
  { sourceId, retiming, isStretched }: ReadCut,
  { assets, renderings }: Samples,
  keep: Keep,
): ZoneSound {
  const { zone } = placed;
  const at = playedRange(document, placed);
  const audio = assets.get(sourceId);
  const plain: ZoneSound = {
    sourceId: audio ? keep(sourceId, audio) : null,
    isRendering: false,
    // At its own tempo and pitch a stretched part plays its slices as they are.
    isTransposed: isStretched && retiming === null,
    startFrame: at.startFrame,
    endFrame: at.endFrame,
    naturalEndFrame: at.endFrame,
    hasRemainder: false,
    tuneCents: 0,
    loop: null,
  };
  if (!audio) return plain;
  const { sampleRate } = document.sources[sourceId]!;
  const loop = zoneLoop(zone, at, sampleRate);
  const withLoop = (sound: ZoneSound, samples: AudioData): ZoneSound =>
    loop ? { ...sound, loop: laidLoop(sound, samples, loop, at, keep) } : sound;
  // What begins before its slice does, or goes on over the markers, is not in a slice's own rendering.
  const { runsOn, startOffsetMs } = zoneValues(zone);
  const isBeyond = runsOn || startOffsetMs < 0;
  const isRendered = retiming && zone.plays.kind === 'slice' && (retiming.fill === 'stretch' || !isBeyond);
  const wanted = isRendered ? renderingSpec(sourceId, sampleRate, at, retiming) : null;
  const found = wanted && renderings.find(wanted);
  if (!found) return withLoop(plain, audio);
  const { spec } = found;
  const endFrame = found.audio.channels[0]!.length;
  const isRing = spec.fill === 'ring';
  const naturalEndFrame = isRing ? spec.endFrame - spec.startFrame : Math.min(endFrame, spec.length);
  const rendered: ZoneSound = {
    sourceId: keep(spec.key, found.audio),
    isRendering: true,
    isTransposed: !isRing,
    startFrame: 0,
    endFrame,
    naturalEndFrame,
    hasRemainder: !isRing && endFrame > naturalEndFrame,
    tuneCents: wanted.transposeCents - spec.transposeCents,
    loop: null,
  };
  return withLoop(rendered, found.audio);
}

/** Samples for keys of their own, where other keys are to keep the length; null for those that are not there yet. */
export function keySoundsOf(
  document: ProjectDocument,
  placed: PlacedZone,
  cut: ReadCut,
  { assets, renderings }: Samples,
  keep: Keep,
): (ZoneSound | null)[] {
  const { zone, at, keys } = placed;
  if (!keys || !assets.has(cut.sourceId) || !zoneValues(zone).keepsLength) return [];
  return Array.from({ length: keys.high - keys.low + 1 }, (_, place) => {
    const wanted = keyRenderingSpec(document, placed, keys.low + place);
    const found = wanted && renderings.find(wanted);
    if (found?.spec.key !== wanted?.key || !found) return null;
    const sound: ZoneSound = {
      sourceId: keep(found.spec.key, found.audio),
      isRendering: true,
      isTransposed: true,
      startFrame: 0,
      endFrame: found.audio.channels[0]!.length,
      naturalEndFrame: Math.min(found.audio.channels[0]!.length, found.spec.length),
      hasRemainder: false,
      // The zone's own tuning is in the samples.
      tuneCents: -zoneValues(zone).tuneCents,
      loop: null,
    };
    const loop = zoneLoop(zone, at, document.sources[cut.sourceId]!.sampleRate);
    return loop ? { ...sound, loop: laidLoop(sound, found.audio, loop, at, keep) } : sound;
  });
}

/** A zone as the renderer plays it. */
export function zoneFragment(
  part: Part,
  { zone, at, keys, cut }: PlacedZone,
  { tempoBpm }: ReadCut,
  sound: ZoneSound,
  keySounds: readonly (ZoneSound | null)[],
  values: Float64Array,
): ZoneFragment {
  const { follow, tail } = cutValues(cut);
  return {
    id: zone.id,
    partId: part.id,
    lowKey: keys?.low ?? -1,
    highKey: keys?.high ?? -1,
    rootKey: keys?.root ?? -1,
    lowVelocity: zone.velocities.low,
    highVelocity: zone.velocities.high,
    velocityFade: zone.velocities.fade,
    playsPatternId: zone.plays.kind === 'loop' ? homeId(cut.id) : null,
    hitGroup: hitGroup(at.slice.role),
    follow,
    tail,
    loopTempoBpm: tempoBpm,
    sliceStartFrame: at.startFrame,
    sliceEndFrame: at.endFrame,
    sound,
    keySounds,
    values,
  };
}

/** Do two fragments say the same? Another version of the renderings may hold the same for a zone. */
export function isSameZone(a: ZoneFragment, b: ZoneFragment): boolean {
  const { sound: soundA, keySounds: keysA, values: _a, ...restA } = a;
  const { sound: soundB, keySounds: keysB, values: _b, ...restB } = b;
  const isSame = (one: object, other: object) => isSameList(Object.values(one), Object.values(other));
  return (
    isSameSound(soundA, soundB) &&
    keysA.length === keysB.length &&
    keysA.every((sound, i) => isSameSound(sound, keysB[i]!)) &&
    isSame(restA, restB)
  );
}

function isSameSound(a: ZoneSound | null, b: ZoneSound | null): boolean {
  if (!a || !b) return a === b;
  const { loop: loopA, ...restA } = a;
  const { loop: loopB, ...restB } = b;
  return loopA?.sourceId === loopB?.sourceId && isSameList(Object.values(restA), Object.values(restB));
}
