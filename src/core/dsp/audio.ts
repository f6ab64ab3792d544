/** Audio in memory: one array of samples a channel, all of one length. */
export interface AudioData {
  /** Frames a second, 8000 to 192000. */
  sampleRate: number;
  /** Samples in -1..1 (float sources may exceed it); one or two channels. */
  channels: Float32Array[];
}

/** Length in frames. */
export function frameCount(audio: AudioData): number {
  return audio.channels[0]?.length ?? 0;
}

/** Length in seconds. */
export function durationSeconds(audio: AudioData): number {
  return frameCount(audio) / audio.sampleRate;
}

/** The mean of the channels as one array (the only channel itself, not a copy, when there is just one). */
export function mixToMono(audio: AudioData): Float32Array {
  const [first, second] = audio.channels;
  if (!first) return new Float32Array(0);
  if (!second) return first;
  const out = new Float32Array(first.length);
  for (let i = 0; i < out.length; i++) out[i] = (first[i]! + second[i]!) / 2;
  return out;
}

/** Places looked at to tell whether two channels cancel: every sixteenth frame and the two after it. */
const CANCEL_STRIDE = 16;
/** The mean of the channels has lost what they hold when less than this share of their power is left (-13 dB) … */
const CANCELLED_SHARE = 0.05;
/** … or of the power of their treble (-8 dB; of two sounds that have nothing to do with each other half of it stays). */
const CANCELLED_TREBLE_SHARE = 0.15;

/**
 * The signal that a sound is read from: the mean of the channels; where they cancel each other (one turned round, as
 * wide effects and miswired leads do), or where their treble does (hats that were made wide), the louder one.
 */
export function mixForReading(audio: AudioData): Float32Array {
  const mono = mixToMono(audio);
  const [left, right] = audio.channels;
  if (!left || !right) return mono;
  const all = powersOf(mono);
  const [inLeft, inRight] = [powersOf(left), powersOf(right)];
  const isWhole = all.power >= (CANCELLED_SHARE * (inLeft.power + inRight.power)) / 2;
  const hasTreble = all.treble >= (CANCELLED_TREBLE_SHARE * (inLeft.treble + inRight.treble)) / 2;
  if (isWhole && hasTreble) return mono;
  return inLeft.power >= inRight.power ? left : right;
}

/** Sums of squares: of samples, and of their second differences, in which 10 kHz weighs 40 dB more than 1 kHz. */
function powersOf(samples: Float32Array): { power: number; treble: number } {
  let power = 0;
  let treble = 0;
  for (let i = 0; i < samples.length; i += CANCEL_STRIDE) {
    const sample = samples[i]!;
    power += sample * sample;
    if (i + 2 >= samples.length) break;
    const bend = sample - 2 * samples[i + 1]! + samples[i + 2]!;
    treble += bend * bend;
  }
  return { power, treble };
}

/** Largest absolute sample of all channels between two frames. */
export function peakLevel(audio: AudioData, startFrame = 0, endFrame = frameCount(audio)): number {
  let peak = 0;
  for (const channel of audio.channels) {
    for (let i = startFrame; i < endFrame; i++) {
      const level = Math.abs(channel[i]!);
      if (level > peak) peak = level;
    }
  }
  return peak;
}
