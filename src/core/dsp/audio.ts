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

/** Frames looked at to tell whether two channels cancel: every sixteenth. */
const CANCEL_STRIDE = 16;
/** The mean of the channels has lost what they hold when less than this share of their power is left (-13 dB). */
const CANCELLED_SHARE = 0.05;

/**
 * The signal that a sound is read from: the mean of the channels; where they cancel each other (one turned round, as
 * wide effects and miswired leads do) the louder one.
 */
export function mixForReading(audio: AudioData): Float32Array {
  const mono = mixToMono(audio);
  const [left, right] = audio.channels;
  if (!left || !right) return mono;
  let [power, leftPower, rightPower] = [0, 0, 0];
  for (let i = 0; i < mono.length; i += CANCEL_STRIDE) {
    power += mono[i]! ** 2;
    leftPower += left[i]! ** 2;
    rightPower += right[i]! ** 2;
  }
  if (power >= (CANCELLED_SHARE * (leftPower + rightPower)) / 2) return mono;
  return leftPower >= rightPower ? left : right;
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
