/** Sounds of the demo on the steps of 16 bit, rounded: their names are what their bytes are, and stay. */
import type { AudioData } from '#core/dsp/audio.ts';

export function rounded16(audio: AudioData): AudioData {
  const onStep = (sample: number) => Math.max(-32_768, Math.min(32_767, Math.round(sample * 32_768))) / 32_768;
  return { ...audio, channels: audio.channels.map((channel) => channel.map(onStep)) };
}
