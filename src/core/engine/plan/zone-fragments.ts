/** Zones as the renderer plays them: which samples, on which keys, how they follow the tempo. */
import type { AudioData } from '../../dsp/audio.ts';
import type { KeyRange, Zone } from '../../document/schema.ts';
import { homeId } from '../../document/home-id.ts';
import { hitGroup } from '../../queries/hit-groups.ts';
import type { PlacedSlice } from '../../queries/slices.ts';
import type { PlacedZone } from '../../queries/zones.ts';
import { isSameList } from '../../units/same-list.ts';
import type { ZoneFragment, ZoneSound } from './fragments.ts';
import { rangeTempoBpm, type ReadCut } from './read-cut.ts';
import {
  keyRenderingSpec,
  renderingSpec,
  zoneSampleSettings,
  type Rendering,
  type Renderings,
  type ZoneSampleSettings,
} from './renderings.ts';
import { laidLoop, zoneLoop, type FrameRange } from './zone-loop.ts';

/** All that a zone's fragment follows from; its values aside, which are sent by themselves. */
export interface ZoneInputs extends FrameRange {
  partId: string;
  role: PlacedSlice['slice']['role'];
  keys: KeyRange | null;
  velocities: Zone['velocities'];
  settings: ZoneSampleSettings;
  cut: ReadCut;
  /** The same cut in the tempi of the running order. */
  tempi: readonly { tempoBpm: number; cut: ReadCut }[];
  audio: AudioData | undefined;
  renderings: Renderings;
  /** Of the renderings, where they matter to the zone. */
  version: number;
}
/** A zone without its values. */
export type ZoneShape = Omit<ZoneFragment, 'values'>;

/** Takes samples into the plan and gives the id that names them. */
export type Keep = (id: string, audio: AudioData) => string;

export function zoneInputs(
  { zone, at, keys }: PlacedZone,
  cut: ReadCut,
  tempi: ZoneInputs['tempi'],
  { audio, renderings }: Pick<ZoneInputs, 'audio' | 'renderings'>,
): ZoneInputs {
  const settings = zoneSampleSettings(zone);
  const keepsLength = settings.keepsLengthAtCents !== null;
  return {
    partId: zone.partId,
    startFrame: at.startFrame,
    endFrame: at.endFrame,
    role: at.slice.role,
    keys,
    velocities: zone.velocities,
    settings,
    cut: keepsLength ? cut : { ...cut, keyRetiming: null },
    tempi: tempi.map(({ tempoBpm, cut: there }) => ({ tempoBpm, cut: { ...there, keyRetiming: null } })),
    audio,
    renderings,
    version: cut.retiming || keepsLength || tempi.some((one) => one.cut.retiming) ? renderings.version : 0,
  };
}

/** A zone as the renderer plays it. */
export function zoneShape(inputs: ZoneInputs, id: string, keep: Keep): ZoneShape {
  const { partId, keys, velocities, cut, role, settings, startFrame, endFrame } = inputs;
  const sound = soundOf(inputs, keep);
  return {
    id,
    partId,
    lowKey: keys?.low ?? -1,
    highKey: keys?.high ?? -1,
    rootKey: keys?.root ?? -1,
    lowVelocity: velocities.low,
    highVelocity: velocities.high,
    velocityFade: velocities.fade,
    playsPatternId: settings.playsSlice ? null : homeId(cut.cutId),
    hitGroup: hitGroup(role),
    follow: cut.follow,
    tail: cut.tail,
    loopTempoBpm: rangeTempoBpm(cut, startFrame, endFrame),
    sliceStartFrame: startFrame,
    sliceEndFrame: endFrame,
    sound,
    keySounds: keySoundsOf(inputs, keep),
    tempoSounds: tempoSoundsOf(inputs, sound, keep),
  };
}

/** What a zone plays of its source: its slice, or from there to the end of the sound. */
function playedRange({ startFrame, endFrame, settings, cut }: ZoneInputs): FrameRange {
  return { startFrame, endFrame: settings.runsOn ? Math.max(endFrame, cut.frames) : endFrame };
}

/** Which samples a zone plays. */
function soundOf(inputs: ZoneInputs, keep: Keep): ZoneSound {
  const { cut, settings, audio, renderings } = inputs;
  const { sourceId, retiming, isStretched } = cut;
  const at = playedRange(inputs);
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
  // What begins before its slice does, or goes on over the markers, is not in a slice's own rendering.
  const isBeyond = settings.runsOn || settings.beginsBefore;
  const isRendered = retiming && settings.playsSlice && (retiming.fill === 'stretch' || !isBeyond);
  const wanted = isRendered ? renderingSpec(cut, at, retiming) : null;
  const found = wanted && renderings.find(wanted);
  if (!found) return withLoop(inputs, plain, audio, at, keep);
  const { spec } = found;
  const isRing = spec.fill === 'ring';
  const sound = renderedSound(found, wanted.transposeCents - spec.transposeCents, keep);
  const naturalEndFrame = isRing ? spec.endFrame - spec.startFrame : sound.naturalEndFrame;
  const hasRemainder = !isRing && sound.endFrame > naturalEndFrame;
  const rendered = { ...sound, isTransposed: !isRing, naturalEndFrame, hasRemainder };
  return withLoop(inputs, rendered, found.audio, at, keep);
}

/** Samples for keys of their own, where other keys are to keep the length; null for those that are not there yet. */
function keySoundsOf(inputs: ZoneInputs, keep: Keep): (ZoneSound | null)[] {
  const { keys, audio, settings, cut, renderings } = inputs;
  const { keepsLengthAtCents } = settings;
  if (!keys || !audio || keepsLengthAtCents === null) return [];
  return Array.from({ length: keys.high - keys.low + 1 }, (_, place) => {
    const wanted = keyRenderingSpec(settings, inputs, keys, cut, keys.low + place);
    const found = wanted && renderings.find(wanted);
    if (!found || found.spec.key !== wanted.key) return null;
    // The zone's own tuning is in the samples.
    return withLoop(inputs, renderedSound(found, -keepsLengthAtCents, keep), found.audio, inputs, keep);
  });
}

/** Samples for the tempi of the running order; none where all are as in the song's. */
function tempoSoundsOf(inputs: ZoneInputs, own: ZoneSound, keep: Keep): ZoneShape['tempoSounds'] {
  const sounds = inputs.tempi.map(({ tempoBpm, cut }) => ({ tempoBpm, sound: soundOf({ ...inputs, cut }, keep) }));
  return sounds.every(({ sound }) => isSameSound(sound, own)) ? [] : sounds;
}

function renderedSound({ spec, audio }: Rendering, tuneCents: number, keep: Keep): ZoneSound {
  const endFrame = audio.channels[0]!.length;
  return {
    sourceId: keep(spec.key, audio),
    isRendering: true,
    isTransposed: true,
    startFrame: 0,
    endFrame,
    naturalEndFrame: Math.min(endFrame, spec.length),
    hasRemainder: false,
    tuneCents,
    loop: null,
  };
}

function withLoop(
  { settings, cut }: ZoneInputs,
  sound: ZoneSound,
  audio: AudioData,
  at: FrameRange,
  keep: Keep,
): ZoneSound {
  const loop = zoneLoop(settings, at, cut.sampleRate);
  return loop ? { ...sound, loop: laidLoop(sound, audio, loop, at, keep) } : sound;
}

/** Do two zones say the same? Another version of the renderings may hold the same for a zone. */
export function isSameZone(a: ZoneShape, b: ZoneShape): boolean {
  const { sound: soundA, keySounds: keysA, tempoSounds: tempiA, ...restA } = a;
  const { sound: soundB, keySounds: keysB, tempoSounds: tempiB, ...restB } = b;
  const isSame = (one: object, other: object) => isSameList(Object.values(one), Object.values(other));
  return (
    isSameSound(soundA, soundB) &&
    keysA.length === keysB.length &&
    keysA.every((sound, i) => isSameSound(sound, keysB[i]!)) &&
    tempiA.length === tempiB.length &&
    tempiA.every((one, i) => one.tempoBpm === tempiB[i]!.tempoBpm && isSameSound(one.sound, tempiB[i]!.sound)) &&
    isSame(restA, restB)
  );
}

function isSameSound(a: ZoneSound | null, b: ZoneSound | null): boolean {
  if (!a || !b) return a === b;
  const { loop: loopA, ...restA } = a;
  const { loop: loopB, ...restB } = b;
  return loopA?.sourceId === loopB?.sourceId && isSameList(Object.values(restA), Object.values(restB));
}
