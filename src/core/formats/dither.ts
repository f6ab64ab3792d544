/**
 * Rounding to 16 bit without its distortion: triangular noise of two steps from end to end is added before (S. P. Lipshitz,
 * R. A. Wannamaker and J. Vanderkooy, "Quantization and Dither: A Theoretical Survey", JAES 40, 1992).
 */
import type { AudioData } from '../dsp/audio.ts';
import { seededRandom } from '../units/random.ts';

/** The same samples always give the same bytes. */
const SEED = 1;
const STEPS = 32_768;

/** Audio on steps of 16 bit; the very same where it lies on them already. Silence stays silence. */
export function dithered16(audio: AudioData): AudioData {
  return new Dither16().of(audio);
}

/** The same of what comes piece by piece: what lies on steps stays as it is up to the first piece that does not. */
export class Dither16 {
  private readonly random = seededRandom(SEED);
  private isExact = true;

  of(audio: AudioData): AudioData {
    const { random } = this;
    this.isExact &&= audio.channels.every((channel) => channel.every((sample) => Number.isInteger(sample * STEPS)));
    if (this.isExact) return audio;
    const rounded = (sample: number) => (sample === 0 ? 0 : Math.round(sample * STEPS + random() - random()) / STEPS);
    return { ...audio, channels: audio.channels.map((channel) => channel.map(rounded)) };
  }
}
