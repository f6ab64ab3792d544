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
