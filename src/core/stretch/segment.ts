/**
 * One stretch of sound, from an attack to the next, made longer or shorter. The attack itself is always copied, so it
 * sounds as it did; only what lies between attacks changes.
 */
import { BANDS, LevelProfile } from './level-profile.ts';
import { PhaseVocoder } from './phase-vocoder.ts';

/** Left and right; the same array twice for a sound of one channel. */
type Stereo = readonly [left: Float32Array, right: Float32Array];

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
 * Of a segment that has become shorter, `stretch` shortens what follows the attack; the others cut. What would still
 * have rung then is left over by `stretch` and `ring`, for under the next attack. A segment that dies away all by itself
 * is not stretched: it rings.
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
const MAX_KEPT_SECONDS = 0.6;
/** And of what is made shorter no more than this share of the result: the rest still has to pass. */
const MAX_KEPT_OF_RESULT = 0.7;
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
const MAX_GAIN_NEPERS = 1.4;
/**
 * What dies away slower than this (30 dB a second) lasts as long as its segment: notes and chords are ended by what
 * follows them. What dies away faster than that (80 dB a second) was not ended, and rings on.
 */
const SLOW_NEPERS = 30 / 8.686;
const FAST_NEPERS = 80 / 8.686;
/** Softer than this (-30 dB) nothing is worth ringing on. */
const MIN_REMAINDER = 0.03;

const vocoders = new Map<number, PhaseVocoder>();
function vocoderOf(size: number): PhaseVocoder {
  let vocoder = vocoders.get(size);
  if (!vocoder) vocoders.set(size, (vocoder = new PhaseVocoder(size, BANDS)));
  return vocoder;
}

/**
 * Writes a segment to two buffers of `lead + length` zeros; frame `lead` is the attack. What lies before it is copied
 * from the source, for the crossfade with the segment before.
 * @returns what rings on when the segment has become shorter, to be added from `lead` frames before the next attack on;
 * null when nothing does
 */
export function renderSegment(
  source: Stereo,
  segment: Segment,
  lead: number,
  settings: SegmentSettings,
  out: Stereo,
): Stereo | null {
  const { sourceStart, sourceEnd, length } = segment;
  const sourceLength = sourceEnd - sourceStart;
  const { fill, sampleRate } = settings;
  const grows = length > sourceLength;
  const size = windowFor(sourceLength, settings);
  const isPlain = length === sourceLength || size === 0 || (fill !== 'stretch' && fill !== 'ring');
  const stretching = isPlain ? null : measure(source, segment, size, sampleRate);
  // What dies away has its own time: it is not stretched.
  const way = stretching?.profile.diesAway(SLOW_NEPERS) ? 'ring' : fill;
  if (!stretching || (way === 'ring' && !grows)) {
    const end = Math.min(length, sourceLength);
    copy(source, sourceStart, lead, end, out);
    const fade = fill === 'fade' ? FADE_SHARE * sourceLength : END_FADE_SECONDS * sampleRate;
    if (grows) fadeOut(out, lead + end, Math.min(end, Math.round(fade)));
  } else stretchInto(source, segment, lead, { ...settings, fill: way }, stretching, out);
  return stretching && !grows ? renderRest(source, segment, lead, stretching) : null;
}

/** How a segment is read by the phase vocoder; times count from its attack, in frames. */
interface Stretching {
  vocoder: PhaseVocoder;
  profile: LevelProfile;
  /** Up to here all is attack. */
  attack: number;
  /** The last centre whose window does not see the next attack. */
  lastCentre: number;
  sampleRate: number;
}

function measure(source: Stereo, segment: Segment, size: number, sampleRate: number): Stretching {
  const vocoder = vocoderOf(size);
  const lastCentre = segment.sourceEnd - segment.sourceStart - size / 2;
  const attack = Math.max(size / 2, Math.round(ATTACK_SECONDS * sampleRate));
  const earliest = Math.min(lastCentre - vocoder.step, attack + size / 2);
  const profile = new LevelProfile(source, segment.sourceStart, earliest, lastCentre, vocoder, sampleRate);
  return { vocoder, profile, attack, lastCentre, sampleRate };
}

function stretchInto(
  source: Stereo,
  segment: Segment,
  lead: number,
  { fill, keepShare }: SegmentSettings,
  stretching: Stretching,
  out: Stereo,
): void {
  const { sourceStart, sourceEnd, length } = segment;
  const { vocoder, attack, lastCentre, sampleRate } = stretching;
  const share = Math.min(
    keepShare * (sourceEnd - sourceStart),
    MAX_KEPT_OF_RESULT * length,
    MAX_KEPT_SECONDS * sampleRate,
  );
  const kept = fill === 'ring' ? lastCentre : Math.max(attack, Math.round(share));
  const copied = Math.min(lastCentre, kept, length);
  copy(source, sourceStart, lead, copied, out);
  const stretched = vocode(source, segment, copied, fill, stretching);
  const cross = Math.min(vocoder.size / 2, Math.round(CROSSFADE_SECONDS * sampleRate), copied);
  out.forEach((channel, side) => {
    for (let i = copied - cross; i < copied; i++) {
      const share = (i - copied + cross) / cross;
      channel[lead + i] = channel[lead + i]! * (1 - share) + stretched[side]![i]! * share;
    }
    channel.set(stretched[side]!.subarray(copied), lead + copied);
  });
}

/** The longest window that a segment has room for beside its attack; 0 when none fits. */
function windowFor(sourceLength: number, { maxWindow, sampleRate }: SegmentSettings): number {
  const attack = ATTACK_SECONDS * sampleRate;
  let size = maxWindow;
  while (size >= MIN_WINDOW && (size > LONG_WINDOW ? 4 : 1.5) * size + attack > sourceLength) size /= 2;
  return size >= MIN_WINDOW ? size : 0;
}

/** @param copied up to here the sound is copied: frames around it are written as they are, so that the two meet in phase */
function vocode(
  source: Stereo,
  { sourceStart, length }: Segment,
  copied: number,
  fill: Fill,
  { vocoder, profile, attack, lastCentre, sampleRate }: Stretching,
): Stereo {
  const half = vocoder.size / 2;
  const out = [new Float32Array(length), new Float32Array(length)] as const;
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
      bandGains[band] = Math.exp(Math.min(MAX_GAIN_NEPERS, change));
    }
    vocoder.add(source, sourceStart + centre, out, time - half, bandGains);
  }
  return out;
}

/**
 * What of a sound would still ring when the next attack comes, as it is in the source, from `lead` frames before that
 * attack on; null when nothing does. The next segment, copied, brings what is left of the sound at its own, later place
 * in the source: powers add up, so each band is given as much as is missing.
 */
function renderRest(
  source: Stereo,
  { sourceStart, sourceEnd, length }: Segment,
  lead: number,
  { vocoder, profile, lastCentre, sampleRate }: Stretching,
): Stereo | null {
  const left = sourceEnd - sourceStart - length;
  const gains = profile.slopes.map((slope, band) => {
    const missing = 1 - Math.exp((2 * slope * left) / sampleRate);
    // A short note that holds until it ends later is none that dies away.
    const slower = Math.max(slope, 2 * profile.slopeUntil(length, band));
    const pace = (-slower - SLOW_NEPERS) / (FAST_NEPERS - SLOW_NEPERS);
    return Math.sqrt(missing) * Math.max(0, Math.min(1, pace));
  });
  if (gains.every((gain) => gain < MIN_REMAINDER)) return null;
  const out = [new Float32Array(lead + left), new Float32Array(lead + left)] as const;
  const before = length - lead;
  vocoder.restart();
  for (let centre = before - vocoder.size / 2 + vocoder.step; centre <= lastCentre; centre += vocoder.step) {
    vocoder.add(source, sourceStart + centre, out, centre - vocoder.size / 2 - before, gains);
  }
  for (const channel of out) for (let i = 0; i < lead; i++) channel[i]! *= (i + 0.5) / lead;
  return out;
}

/** Copies from `lead` frames before a start to `length` after it; beyond the source's ends lies silence. */
function copy(source: Stereo, start: number, lead: number, length: number, out: Stereo): void {
  const from = Math.max(0, start - lead);
  out.forEach((channel, side) => channel.set(source[side]!.subarray(from, start + length), from - start + lead));
}

function fadeOut(out: Stereo, end: number, frames: number): void {
  for (const channel of out) {
    for (let i = Math.max(0, end - frames); i < end && i < channel.length; i++) channel[i]! *= (end - i) / frames;
  }
}
