/** Zones as the renderer plays them: which samples, on which keys, how they follow the tempo. */
import type { AudioData } from '../../dsp/audio.ts';
import type { Cut, Part, ProjectDocument } from '../../project/schema.ts';
import { cutTempoBpm } from '../../queries/loops.ts';
import { cutValues } from '../../queries/values.ts';
import { isSameList, type PlacedZone } from '../../queries/zones.ts';
import type { PlanModulator, ZoneFragment, ZoneSound } from './fragments.ts';
import { cutRetiming, renderingSpec, stretches, type CutRetiming, type Renderings } from './renderings.ts';

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

/** Which samples a zone plays. @param keep takes samples into the plan and gives the id that names them */
export function soundOf(
  document: ProjectDocument,
  { at }: PlacedZone,
  { sourceId, retiming, isStretched }: ReadCut,
  { assets, renderings }: { assets: ReadonlyMap<string, AudioData>; renderings: Renderings },
  keep: (id: string, audio: AudioData) => string,
): ZoneSound {
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
  };
  if (!audio || !retiming) return plain;
  const wanted = renderingSpec(sourceId, document.sources[sourceId]!.sampleRate, at, retiming);
  const found = renderings.find(wanted);
  if (!found) return plain;
  const { spec } = found;
  const endFrame = found.audio.channels[0]!.length;
  const isRing = spec.fill === 'ring';
  const naturalEndFrame = isRing ? spec.endFrame - spec.startFrame : Math.min(endFrame, spec.length);
  return {
    sourceId: keep(spec.key, found.audio),
    isRendering: true,
    isTransposed: !isRing,
    startFrame: 0,
    endFrame,
    naturalEndFrame,
    hasRemainder: !isRing && endFrame > naturalEndFrame,
    tuneCents: wanted.transposeCents - spec.transposeCents,
  };
}

/** A zone as the renderer plays it. */
export function zoneFragment(
  part: Part,
  { zone, at, keys, cut }: PlacedZone,
  { tempoBpm }: ReadCut,
  sound: ZoneSound,
  modulators: readonly PlanModulator[],
  values: Float64Array,
): ZoneFragment {
  const { follow, tail } = cutValues(cut);
  return {
    id: zone.id,
    partId: part.id,
    lowKey: keys?.low ?? -1,
    highKey: keys?.high ?? -1,
    rootKey: keys?.root ?? -1,
    follow,
    tail,
    loopTempoBpm: tempoBpm,
    sliceStartFrame: at.startFrame,
    sliceEndFrame: at.endFrame,
    sound,
    modulators,
    values,
  };
}

/** Do two fragments say the same? Another version of the renderings may hold the same for a zone. */
export function isSameZone(a: ZoneFragment, b: ZoneFragment): boolean {
  const { sound: soundA, modulators: modulatorsA, values: _a, ...restA } = a;
  const { sound: soundB, modulators: modulatorsB, values: _b, ...restB } = b;
  const isSame = (one: object, other: object) => isSameList(Object.values(one), Object.values(other));
  return isSame(soundA, soundB) && isSame(restA, restB) && isSameList(modulatorsA, modulatorsB);
}
