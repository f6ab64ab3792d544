/** Slices rendered so that they keep the song's tempo, or their length on another key: what names them, and what each is. */
import type { AudioData } from '../../dsp/audio.ts';
import type { KeyRange, Zone } from '../../document/schema.ts';
import type { PlacedSlice } from '../../queries/slices.ts';
import { zoneValues } from '../../queries/values.ts';
import type { SliceRetiming } from '../../stretch/retime.ts';
import { rangeShare } from '../../units/loop-time.ts';
import type { CutRetiming, ReadCut } from './read-cut.ts';

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

const MAX_RING_SECONDS = 8;
/** Keys further away than four octaves play faster or slower instead. */
const MAX_KEY_CENTS = 4800;

/** Tells renderings from sources by their names. */
export function isRenderingKey(id: string): boolean {
  return id.includes(':');
}

/** The rendering that a slice wants. */
export function renderingSpec(
  { sourceId, sampleRate }: Pick<ReadCut, 'sourceId' | 'sampleRate'>,
  { startFrame, endFrame }: Pick<PlacedSlice, 'startFrame' | 'endFrame'>,
  { fill, material, transposeCents, times, ownBars, keepsTime }: CutRetiming,
): RenderingSpec {
  const frames = endFrame - startFrame;
  const length =
    fill === 'stretch'
      ? Math.max(1, Math.round(frames * times * (ownBars ? rangeShare(ownBars, startFrame, endFrame) : 1)))
      : Math.max(frames, Math.min(frames * times, frames + Math.round(MAX_RING_SECONDS * sampleRate)));
  const sliceKey = [sourceId, startFrame, endFrame, fill].join(':');
  const key = [sliceKey, material, length, transposeCents, keepsTime ? 'even' : 'own'].join(':');
  return { startFrame, endFrame, fill, material, length, transposeCents, keepsTime, key, sliceKey, sourceId };
}

/** What the samples of a zone follow from, beside its slice and keys. */
export interface ZoneSampleSettings {
  playsSlice: boolean;
  loop: Zone['loop'];
  /** Off where nothing goes round. */
  loopMode: ReturnType<typeof zoneValues>['loopMode'];
  /** Plays on over the markers, or begins before its slice does. */
  runsOn: boolean;
  beginsBefore: boolean;
  /** Null where other keys play faster and slower. */
  keepsLengthAtCents: number | null;
}

export function zoneSampleSettings(zone: Zone): ZoneSampleSettings {
  const { loopMode, reverse, keepsLength, followsKey, tuneCents, runsOn, startOffsetMs } = zoneValues(zone);
  const playsSlice = zone.plays.kind === 'slice';
  return {
    playsSlice,
    loop: zone.loop,
    loopMode: reverse || !playsSlice ? 'off' : loopMode,
    runsOn,
    beginsBefore: startOffsetMs < 0,
    keepsLengthAtCents: keepsLength && followsKey && playsSlice ? tuneCents : null,
  };
}

/** The rendering of a slice for a key that is to change its pitch and not its length; null where it plays as it is. */
export function keyRenderingSpec(
  { keepsLengthAtCents }: ZoneSampleSettings,
  at: Pick<PlacedSlice, 'startFrame' | 'endFrame'>,
  keys: KeyRange | null,
  cut: Pick<ReadCut, 'sourceId' | 'sampleRate' | 'keyRetiming'>,
  key: number,
): RenderingSpec | null {
  const { keyRetiming } = cut;
  if (keepsLengthAtCents === null || !keys || !keyRetiming) return null;
  const transposeCents = (key - keys.root) * 100 + keepsLengthAtCents + keyRetiming.transposeCents;
  if (transposeCents === 0 || Math.abs(transposeCents) > MAX_KEY_CENTS) return null;
  const spec = renderingSpec(cut, at, { ...keyRetiming, transposeCents });
  // By its key alone: another key's rendering is no stand-in for it.
  return { ...spec, sliceKey: spec.key };
}
