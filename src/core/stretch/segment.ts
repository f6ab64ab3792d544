/**
 * One stretch of sound, from an attack to the next, made longer or shorter. The attack itself is always copied, so it
 * sounds as it did; only what lies between attacks changes.
 */
import { BANDS, LevelProfile } from './level-profile.ts';
import { PhaseVocoder } from './phase-vocoder.ts';

/** A segment of the source in frames; the next attack begins at its end. */
export interface Segment {
  sourceStart: number;
  sourceEnd: number;
  /** Frames to fill. */
  length: number;
}

/**
 * What fills a segment that has become longer than its sound: nothing (`leave`), nothing, with the sound fading out
 * towards it (`fade`), the end of the sound ringing on (`ring`), or all that follows the attack, stretched (`stretch`).
 * Of a segment that has become shorter, `stretch` shortens what follows the attack; the others cut.
 */
export type Fill = 'leave' | 'fade' | 'ring' | 'stretch';

export interface SegmentSettings {
  sampleRate: number;
  fill: Fill;
  /** Longest window of the phase vocoder, in frames; a power of two. */
  maxWindow: number;
  /** Share of a segment that is copied, attack first, 0..1; of long sounds and short results less. */
  keepShare: number;
}

/** The least of an attack that is copied. */
const ATTACK_SECONDS = 0.03;
/** Of a long sound no more than this is copied: what changes slowly is to be stretched evenly. */
const MOST_KEPT_SECONDS = 0.6;
/** And of what is made shorter no more than this share of the result: the rest still has to pass. */
const MOST_KEPT_OF_RESULT = 0.7;
/** Windows below this make hiss of everything: shorter segments are copied and fade. */
const MIN_WINDOW = 256;
/** A window above this is only used where four of it fit in. */
const LONG_WINDOW = 1024;
/** The part of a segment's end that rings on to and fro. */
const RING_SECONDS = 0.12;
const CROSSFADE_SECONDS = 0.006;
const END_FADE_SECONDS = 0.004;
/** `fade` fades over this share of the sound. */
const FADE_SHARE = 0.4;
const MOST_GAIN_NEPERS = 1.4;

const vocoders = new Map<number, PhaseVocoder>();
function vocoderOf(size: number): PhaseVocoder {
  let vocoder = vocoders.get(size);
  if (!vocoder) vocoders.set(size, (vocoder = new PhaseVocoder(size, BANDS)));
  return vocoder;
}

/**
 * Writes a segment to two buffers of `lead + length` zeros; frame `lead` is the attack. What lies before it is copied
 * from the source, for the crossfade with the segment before.
 */
export function renderSegment(
  source: readonly [Float32Array, Float32Array],
  segment: Segment,
  lead: number,
  settings: SegmentSettings,
  out: readonly [Float32Array, Float32Array],
): void {
  const { sourceStart, sourceEnd, length } = segment;
  const sourceLength = sourceEnd - sourceStart;
  const { fill, sampleRate } = settings;
  const grows = length > sourceLength;
  const size = windowFor(sourceLength, settings);
  const isCopy = length === sourceLength || (fill !== 'stretch' && !(fill === 'ring' && grows)) || size === 0;
  if (isCopy) {
    const end = Math.min(length, sourceLength);
    copy(source, sourceStart, lead, end, out);
    const fade = fill === 'fade' ? FADE_SHARE * sourceLength : END_FADE_SECONDS * sampleRate;
    if (grows) fadeOut(out, lead + end, Math.min(end, Math.round(fade)));
    return;
  }
  // The last centre whose window does not see the next attack; counted, as all times here, from the own attack.
  const lastCentre = sourceLength - size / 2;
  const attack = Math.max(size / 2, Math.round(ATTACK_SECONDS * sampleRate));
  const share = Math.min(
    settings.keepShare * sourceLength,
    MOST_KEPT_OF_RESULT * length,
    MOST_KEPT_SECONDS * sampleRate,
  );
  const kept = fill === 'ring' ? lastCentre : Math.max(attack, Math.round(share));
  const copied = Math.min(lastCentre, kept, length);
  copy(source, sourceStart, lead, copied, out);
  const rest = vocode(source, segment, { size, lastCentre, copied, attack, fill, sampleRate });
  const cross = Math.min(size / 2, Math.round(CROSSFADE_SECONDS * sampleRate), copied);
  out.forEach((channel, side) => {
    for (let i = copied - cross; i < copied; i++) {
      const share = (i - copied + cross) / cross;
      channel[lead + i] = channel[lead + i]! * (1 - share) + rest[side]![i]! * share;
    }
    channel.set(rest[side]!.subarray(copied), lead + copied);
  });
}

/** The longest window that a segment has room for beside its attack; 0 when none fits. */
function windowFor(sourceLength: number, { maxWindow, sampleRate }: SegmentSettings): number {
  const attack = ATTACK_SECONDS * sampleRate;
  let size = maxWindow;
  while (size >= MIN_WINDOW && (size > LONG_WINDOW ? 4 : 1.5) * size + attack > sourceLength) size /= 2;
  return size >= MIN_WINDOW ? size : 0;
}

interface VocodeSettings {
  size: number;
  lastCentre: number;
  /** Up to here the sound is copied: frames around it are written as they are, so that the two meet in phase. */
  copied: number;
  attack: number;
  fill: Fill;
  sampleRate: number;
}

function vocode(
  [left, right]: readonly [Float32Array, Float32Array],
  { sourceStart, length }: Segment,
  { size, lastCentre, copied, attack, fill, sampleRate }: VocodeSettings,
): [Float32Array, Float32Array] {
  const vocoder = vocoderOf(size);
  const half = size / 2;
  const earliest = Math.min(lastCentre - vocoder.step, attack + half);
  const profile = new LevelProfile([left, right], sourceStart, earliest, lastCentre, vocoder, sampleRate);
  const out: [Float32Array, Float32Array] = [new Float32Array(length), new Float32Array(length)];
  const bandGains = new Float64Array(BANDS);
  const range = Math.max(vocoder.step, Math.min(lastCentre - half - attack, Math.round(RING_SECONDS * sampleRate)));
  const centreAt = (time: number) => {
    if (time <= copied) return time;
    if (fill === 'stretch') return copied + ((time - copied) * (lastCentre - copied)) / Math.max(1, length - copied);
    // To and fro over the end, so that noise stays noise.
    const phase = (time - copied) % (2 * range);
    return lastCentre - (phase < range ? phase : 2 * range - phase);
  };
  vocoder.restart();
  // The first frame that reaches into the crossfade.
  const first = copied - Math.round(CROSSFADE_SECONDS * sampleRate) - half + vocoder.step;
  for (let time = first; time < length + half; time += vocoder.step) {
    const centre = Math.round(centreAt(time));
    for (let band = 0; band < BANDS; band++) {
      // A sound dies away in its own time, however long it is made to last.
      const slope = profile.slopes[band]!;
      const change =
        fill === 'ring' && time > copied
          ? profile.at(lastCentre, band) + (slope * (time - copied)) / sampleRate - profile.at(centre, band)
          : (slope * (time - centre)) / sampleRate;
      bandGains[band] = Math.exp(Math.min(MOST_GAIN_NEPERS, change));
    }
    vocoder.add([left, right], sourceStart + centre, out, time - half, bandGains);
  }
  return out;
}

/** Copies from `lead` frames before a start to `length` after it; beyond the source's ends lies silence. */
function copy(
  source: readonly [Float32Array, Float32Array],
  start: number,
  lead: number,
  length: number,
  out: readonly [Float32Array, Float32Array],
): void {
  const from = Math.max(0, start - lead);
  out.forEach((channel, side) => channel.set(source[side]!.subarray(from, start + length), from - start + lead));
}

function fadeOut(out: readonly [Float32Array, Float32Array], end: number, frames: number): void {
  for (const channel of out) {
    for (let i = Math.max(0, end - frames); i < end && i < channel.length; i++) channel[i]! *= (end - i) / frames;
  }
}
