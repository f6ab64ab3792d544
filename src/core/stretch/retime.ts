/**
 * A sound at another tempo or pitch, in one of three ways: its slices moved, its time stretched with the attacks kept
 * whole and exactly in their new places, or played at another speed.
 */
import { joined } from '../dsp/joined.ts';
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { resampleFine } from '../dsp/fine-resample.ts';
import { addSamples } from '../dsp/mixing.ts';
import { transposeRatio } from '../units/pitch.ts';
import { runToEnd, type Steps } from '../units/steps.ts';
import { partLows } from './low-layers.ts';
import type { Material } from '../params/choices.ts';
import { MAX_STRETCH_RATIO } from './materials.ts';
import { MAX_WINDOW } from './phase-vocoder.ts';
import { renderSegment, type Fill, type SegmentSettings } from './segment.ts';

const MATERIAL_SETTINGS: Record<Material, Pick<SegmentSettings, 'maxWindow' | 'keepShare'>> = {
  drums: { maxWindow: 1024, keepShare: 0.7 },
  notes: { maxWindow: 4096, keepShare: 0.45 },
  mixes: { maxWindow: 2048, keepShare: 0.5 },
};
/** Windows are given for this rate and doubled or halved to fit others. */
const WINDOW_RATE_HZ = 44100;

export interface Retiming {
  mode: 'slices' | 'stretch' | 'speed';
  /** Length of the result against the source: 2 is twice as long. */
  ratio: number;
  /** Transposition; by speed it comes on top of what the speed does, and changes the length no further. */
  semitones: number;
  /** By slices: what fills gaps; with `ring` what dies away sounds on under an attack that comes sooner, too. */
  tail: Exclude<Fill, 'stretch'>;
  material: Material;
}

/** An attack of the source, in frames. */
export interface Attack {
  /** Where it may be cut: at its beginning or just before. */
  frame: number;
  /** Where it begins: this goes to its exact new time. `frame` when not given. */
  attackFrame?: number;
}

/** Crossfade from one segment to the next; it ends where the attack begins. */
const LEAD_SECONDS = 0.004;

/**
 * @param attacks in any order; not used by speed without a transposition
 * @returns `round(frames * ratio)` frames
 * @throws RangeError for a ratio or transposition beyond use
 */
export function retime(audio: AudioData, attacks: readonly Attack[], retiming: Retiming): AudioData {
  return runToEnd(retimeSteps(audio, attacks, retiming));
}

/** The same in steps that yield the share done. */
export function* retimeSteps(audio: AudioData, attacks: readonly Attack[], retiming: Retiming): Steps<AudioData> {
  const { mode, ratio, semitones } = retiming;
  const most = mode === 'stretch' ? MAX_STRETCH_RATIO : 20;
  if (!(ratio >= 1 / most && ratio <= most)) {
    throw new RangeError(`a ratio of ${ratio} is beyond use: from 1/${most} to ${most}`);
  }
  if (!(Math.abs(semitones) <= 48)) throw new RangeError(`${semitones} semitones are beyond use: from -48 to 48`);
  const frames = frameCount(audio);
  const outFrames = Math.round(frames * ratio);
  const { sampleRate } = audio;
  const pitchRatio = transposeRatio(semitones);
  if (mode === 'speed' && semitones === 0) {
    const channels = audio.channels.map((channel) => resampleFine(channel, 1 / ratio, outFrames, 'steep'));
    return { sampleRate, channels };
  }
  // By speed with a transposition: the speed's own pitch is one more transposition, and the time is stretched for it.
  const increment = mode === 'speed' ? pitchRatio / ratio : pitchRatio;
  const pitched = Math.round(frames / increment);
  const source = audio.channels.map((channel) => resampleFine(channel, increment, pitched));
  yield 0.2;
  const fill = mode === 'slices' ? retiming.tail : 'stretch';
  const settings = { ...settingsFor(retiming.material, fill, sampleRate), transposed: increment };
  const places = [0];
  const targets = [0];
  for (const { frame, attackFrame = frame } of [...attacks].sort((a, b) => a.frame - b.frame)) {
    const place = Math.round(frame / increment);
    const target = Math.round(attackFrame * ratio - (attackFrame - frame) / increment);
    if (place <= places.at(-1)! || place >= pitched || target <= targets.at(-1)!) continue;
    places.push(place);
    targets.push(target);
  }
  return yield* placeSegments(source, sampleRate, [...places, pitched], [...targets, outFrames], settings);
}

export interface SliceRetiming {
  startFrame: number;
  endFrame: number;
  fill: Fill;
  material: Material;
  /** Frames of the result. */
  length: number;
  transposeCents: number;
  /** What happens inside stays at its place in the (even) new time, however the pitch changes; else hits keep their ring. */
  keepsTime?: boolean;
}

/**
 * One slice made longer or shorter by itself, its attack whole; for playing it from keys and patterns.
 * @returns `length` frames; more when what has become shorter still rings then
 */
export function retimeSlice(audio: AudioData, slice: SliceRetiming): AudioData {
  const { startFrame, endFrame, fill, material, length, transposeCents, keepsTime = false } = slice;
  const { sampleRate } = audio;
  const increment = transposeRatio(0, transposeCents);
  const frames = Math.round((endFrame - startFrame) / increment);
  const [left, right] = audio.channels.map((channel) =>
    resampleFine(channel.subarray(startFrame, endFrame), increment, frames),
  ) as [Float32Array, Float32Array?];
  const out = [new Float32Array(length), new Float32Array(length)] as const;
  const segment = { sourceStart: 0, sourceEnd: frames, length };
  const settings = {
    ...settingsFor(material, fill, sampleRate),
    pace: keepsTime ? increment : 1,
    transposed: increment,
  };
  const remainder = renderSegment([left, right ?? left], segment, 0, settings, out);
  const whole = out.map((channel, side) => (remainder ? joined([channel, remainder[side]!]) : channel));
  return { sampleRate, channels: right ? whole : [whole[0]!] };
}

/** Settings of the segments for a material at a sample rate. */
export function settingsFor(material: Material, fill: Fill, sampleRate: number): SegmentSettings {
  const { maxWindow, keepShare } = MATERIAL_SETTINGS[material];
  const scale = 2 ** Math.round(Math.log2(sampleRate / WINDOW_RATE_HZ));
  return { sampleRate, fill, maxWindow: Math.min(MAX_WINDOW, maxWindow * scale), keepShare, pace: 1, transposed: 1 };
}

/** What rings on from a frame of the result. */
interface Remainder {
  at: number;
  channels: readonly Float32Array[];
}

/** Adds the remainders that are over before a frame; gives the others. */
function addRemainders(remainders: readonly Remainder[], out: readonly Float32Array[], before: number): Remainder[] {
  return remainders.filter(({ at, channels }) => {
    if (at + channels[0]!.length > before) return true;
    out.forEach((channel, side) => addSamples(channel, at, channels[side]!));
    return false;
  });
}

function* placeSegments(
  channels: readonly Float32Array[],
  sampleRate: number,
  places: readonly number[],
  targets: readonly number[],
  settings: SegmentSettings,
): Steps<AudioData> {
  const whole = [channels[0]!, channels[1] ?? channels[0]!] as const;
  const outFrames = targets.at(-1)!;
  // What is cut off or faded is not to ring on.
  const isCut = settings.fill === 'leave' || settings.fill === 'fade';
  const isSame = places.every((place, index) => place === targets[index]);
  const parted = isCut || isSame ? null : partLows(whole, sampleRate, places, targets);
  const source = parted?.body ?? whole;
  const out = [new Float32Array(outFrames), new Float32Array(outFrames)];
  let remainders: Remainder[] = [];
  const lead = Math.round(LEAD_SECONDS * sampleRate);
  for (let index = 0; index + 1 < places.length; index++) {
    yield 0.2 + (0.8 * index) / places.length;
    const outStart = targets[index]!;
    const length = targets[index + 1]! - outStart;
    if (length <= 0) continue;
    const piece = [new Float32Array(lead + length), new Float32Array(lead + length)] as const;
    const segment = { sourceStart: places[index]!, sourceEnd: places[index + 1]!, length };
    const remainder = renderSegment(source, segment, lead, settings, piece);
    if (remainder) remainders.push({ at: outStart + length - lead, channels: remainder });
    const fade = Math.min(lead, outStart);
    out.forEach((channel, side) => {
      for (let i = -fade; i < 0; i++) {
        const share = (i + fade + 0.5) / fade;
        channel[outStart + i] = channel[outStart + i]! * (1 - share) + piece[side]![lead + i]! * share;
      }
      channel.set(piece[side]!.subarray(lead), outStart);
    });
    // Before the crossfade nothing changes any more. Long sounds would leave more remainders than there is room for.
    remainders = addRemainders(remainders, out, outStart - lead);
  }
  addRemainders(remainders, out, Infinity);
  parted?.lows.forEach((layers, side) => {
    for (const { startFrame, samples, gain } of layers) addSamples(out[side]!, startFrame, samples, gain);
  });
  return { sampleRate, channels: channels.length > 1 ? out : [out[0]!] };
}
