/**
 * One stretch of sound, from an attack to the next, made longer or shorter. The attack itself is always copied, so it
 * sounds as it did; only what lies between attacks changes.
 */
import { findLetGo, type LetGo } from './let-go.ts';
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
  /**
   * Frames of the original that pass in a frame of the source, where the source is transposed and what happens inside is
   * to stay in its time; 1 where the source has its own time.
   */
  pace: number;
  /** Frames of the original that pass in a frame of the source, whatever its time: 2 an octave higher. */
  transposed: number;
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
/** After the attack the source is read so many times as fast, or as slowly, until it is where its original would be. */
const CATCH_UP = 2;
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
  const { fill, sampleRate, pace } = settings;
  // Lengths of what was transposed are rounded.
  const grows = length > (pace === 1 ? sourceLength : sourceLength * pace + pace);
  const size = windowFor(sourceLength, settings);
  const isPlain = (length === sourceLength && pace === 1) || size === 0 || (fill !== 'stretch' && fill !== 'ring');
  const stretching = isPlain ? null : measure(source, segment, size, settings);
  // What dies away has its own time: it is not stretched.
  const way = stretching?.letGo === null && stretching.profile.diesAway(SLOW_NEPERS * pace) ? 'ring' : fill;
  if (!stretching || (way === 'ring' && !grows && pace === 1)) {
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
  /** Where a held note is let go; null where none is. */
  letGo: LetGo | null;
  sampleRate: number;
  pace: number;
  transposed: number;
}

function measure(source: Stereo, segment: Segment, size: number, settings: SegmentSettings): Stretching {
  const { sampleRate, pace, transposed } = settings;
  const vocoder = vocoderOf(size);
  const lastCentre = segment.sourceEnd - segment.sourceStart - size / 2;
  // A window that soon moves on, faster than the time, shows no attack again: what it sees of it lies in the copy.
  const attack = Math.max(pace < 1 ? 0 : size / 2, Math.round(attackSeconds(pace) * sampleRate));
  const earliest = Math.min(lastCentre - vocoder.step, attack + size / 2);
  const found = settings.fill === 'stretch' ? findLetGo(source, segment, sampleRate, transposed) : null;
  // So close to the next attack it cannot be told from that.
  const letGo = found && found.frame < lastCentre - vocoder.step ? found : null;
  // How it is let go tells nothing of how it holds.
  const held =
    letGo === null ? lastCentre : Math.max(earliest + vocoder.step, Math.min(lastCentre, letGo.frame - size / 2));
  const profile = new LevelProfile(source, segment.sourceStart, earliest, held, vocoder, sampleRate);
  return { vocoder, profile, attack, lastCentre, letGo, sampleRate, pace, transposed };
}

/** An attack that is higher is shorter, too. */
function attackSeconds(pace: number): number {
  return ATTACK_SECONDS / Math.max(1, pace);
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
  const { vocoder, attack, lastCentre, letGo, sampleRate, pace } = stretching;
  const soundLength = letGo?.frame ?? sourceEnd - sourceStart;
  const share = Math.min(
    keepShare * soundLength,
    (MAX_KEPT_OF_RESULT * length * soundLength) / (sourceEnd - sourceStart),
    MAX_KEPT_SECONDS * sampleRate,
    // What is copied plays in its own time: no longer than until it is a step of the vocoder away from the original's.
    pace === 1 ? Infinity : (vocoder.step * Math.max(1, pace)) / Math.abs(pace - 1),
  );
  const kept = fill === 'ring' && pace === 1 ? lastCentre : Math.max(attack, Math.round(share));
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
function windowFor(sourceLength: number, { maxWindow, sampleRate, pace }: SegmentSettings): number {
  const attack = attackSeconds(pace) * sampleRate;
  // What is an octave higher needs half the window to be told apart.
  let size = Math.max(MIN_WINDOW, maxWindow / 2 ** Math.round(Math.log2(Math.max(1, pace))));
  while (size >= MIN_WINDOW && (size > LONG_WINDOW ? 4 : 1.5) * size + attack > sourceLength) size /= 2;
  return size >= MIN_WINDOW ? size : 0;
}

/**
 * The source's time of a segment whose note is let go: that comes at its place in the new time, the note fades as fast
 * as the original did, and what is left of the segment is stretched.
 * @param copied up to here the two times are the same
 */
function letGoCourse(
  { frame, fadedFrame }: LetGo,
  sourceLength: number,
  length: number,
  copied: number,
  lastCentre: number,
  transposed: number,
): (time: number) => number {
  const target = (frame * length) / sourceLength;
  const fade = Math.max(0, Math.min(fadedFrame, lastCentre) - frame);
  const faded = Math.min(length, target + fade * transposed);
  return (time) => {
    if (time < target) return copied + ((time - copied) * (frame - copied)) / (target - copied);
    if (time < faded) return frame + (time - target) / transposed;
    return frame + fade + ((time - faded) * (lastCentre - frame - fade)) / Math.max(1, length - faded);
  };
}

/** @param copied up to here the sound is copied: frames around it are written as they are, so that the two meet in phase */
function vocode(
  source: Stereo,
  { sourceStart, sourceEnd, length }: Segment,
  copied: number,
  fill: Fill,
  { vocoder, profile, attack, lastCentre, letGo, sampleRate, pace, transposed }: Stretching,
): Stereo {
  const half = vocoder.size / 2;
  const released = letGo && letGoCourse(letGo, sourceEnd - sourceStart, length, copied, lastCentre, transposed);
  const out = [new Float32Array(length), new Float32Array(length)] as const;
  const bandGains = new Float64Array(BANDS);
  const range = Math.max(vocoder.step, Math.min(lastCentre - half - attack, Math.round(RING_SECONDS * sampleRate)));
  const evenRate = fill === 'stretch' ? (sourceEnd - sourceStart) / Math.max(1, length) : 1 / pace;
  const evenPlace = (time: number) => {
    const behind = evenRate > 1;
    const nearing = copied + (time - copied) * evenRate * (behind ? CATCH_UP : 1 / CATCH_UP);
    return behind ? Math.min(nearing, time * evenRate) : Math.max(nearing, time * evenRate);
  };
  const centreAt = (time: number) => {
    if (time <= copied) return time;
    if (fill === 'stretch') {
      if (released && pace === 1) return released(time);
      if (pace !== 1) return Math.min(lastCentre, evenPlace(time));
      return copied + ((time - copied) * (lastCentre - copied)) / Math.max(1, length - copied);
    }
    const past = (pace === 1 ? time : evenPlace(time)) - lastCentre;
    if (past <= 0) return lastCentre + past;
    // To and fro over the end, so that noise stays noise.
    const phase = past % (2 * range);
    return lastCentre - (phase < range ? phase : 2 * range - phase);
  };
  vocoder.restart();
  // The first frame that reaches into the crossfade.
  const first = copied - Math.round(CROSSFADE_SECONDS * sampleRate) - half + vocoder.step;
  for (let time = first; time < length + half; time += vocoder.step) {
    const centre = Math.round(centreAt(time));
    // Where a sound that has its own time would be read: it dies away in that time, however long it is made to last.
    const own = time <= copied ? centre : time / pace;
    for (let band = 0; band < BANDS; band++) {
      const slope = profile.slopes[band]!;
      const change =
        fill === 'ring' && own > lastCentre
          ? profile.at(lastCentre, band) + (slope * (own - lastCentre)) / sampleRate - profile.at(centre, band)
          : (slope * (own - centre)) / sampleRate;
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
  { vocoder, profile, lastCentre, sampleRate, pace }: Stretching,
): Stereo | null {
  const left = Math.floor((sourceEnd - sourceStart) * pace) - length;
  if (left <= 0) return null;
  const gains = profile.slopes.map((slope, band) => {
    const missing = 1 - Math.exp((2 * (slope / pace) * left) / sampleRate);
    // A short note that holds until it ends later is none that dies away.
    const slower = Math.max(slope, 2 * profile.slopeUntil(length / pace, band)) / pace;
    const haste = (-slower - SLOW_NEPERS) / (FAST_NEPERS - SLOW_NEPERS);
    return Math.sqrt(missing) * Math.max(0, Math.min(1, haste));
  });
  if (gains.every((gain) => gain < MIN_REMAINDER)) return null;
  const out = [new Float32Array(lead + left), new Float32Array(lead + left)] as const;
  const before = length - lead;
  vocoder.restart();
  for (let time = before - vocoder.size / 2 + vocoder.step; time / pace <= lastCentre; time += vocoder.step) {
    vocoder.add(source, sourceStart + Math.round(time / pace), out, time - vocoder.size / 2 - before, gains);
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
