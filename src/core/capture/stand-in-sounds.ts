/** Sounds of the stand-in drum box, worked out. */
import { seededRandom } from '../units/random.ts';

export const BOX_SOUNDS = ['kick', 'rim', 'snare', 'clap', 'hat', 'block', 'tom', 'open'] as const;
export type BoxSound = (typeof BOX_SOUNDS)[number];

interface Recipe {
  seconds: number;
  decay: number;
  /** Of the tone, and how far it falls. */
  hertz: number;
  fall: number;
  tone: number;
  noise: number;
  /** Only what is high of the noise. */
  isHigh: boolean;
  /** Struck several times in a row. */
  bursts: number;
}
const plain: Recipe = { seconds: 0.5, decay: 0.08, hertz: 200, fall: 0, tone: 1, noise: 0, isHigh: false, bursts: 1 };
const RECIPES: Readonly<Record<BoxSound, Recipe>> = {
  kick: { ...plain, seconds: 0.6, decay: 0.12, hertz: 48, fall: 140, noise: 0.05 },
  rim: { ...plain, seconds: 0.15, decay: 0.012, hertz: 1750, noise: 0.3 },
  snare: { ...plain, seconds: 0.4, decay: 0.07, hertz: 190, fall: 60, tone: 0.5, noise: 0.7 },
  clap: { ...plain, seconds: 0.4, decay: 0.05, tone: 0, noise: 1, isHigh: true, bursts: 3 },
  hat: { ...plain, seconds: 0.15, decay: 0.018, tone: 0, noise: 1, isHigh: true },
  block: { ...plain, seconds: 0.2, decay: 0.03, hertz: 820 },
  tom: { ...plain, seconds: 0.7, decay: 0.16, hertz: 98, fall: 50 },
  open: { ...plain, seconds: 0.9, decay: 0.2, tone: 0, noise: 0.8, isHigh: true },
};
const BURST_SECONDS = 0.011;

/** One of its sounds as it is struck hardest; mono, within about -1..1. */
export function boxSound(name: BoxSound, sampleRate: number): Float32Array<ArrayBuffer> {
  const { seconds, decay, hertz, fall, tone, noise, isHigh, bursts } = RECIPES[name];
  const random = seededRandom(Math.round(hertz) + bursts);
  let before = 0;
  let phase = 0;
  return Float32Array.from({ length: Math.round(seconds * sampleRate) }, (_, i) => {
    const t = i / sampleRate;
    const burst = Math.min(bursts - 1, Math.floor(t / BURST_SECONDS));
    const since = t - burst * BURST_SECONDS;
    const white = 2 * random() - 1;
    const coloured = isHigh ? (white - before) * 0.6 : white;
    before = white;
    phase += (2 * Math.PI * (hertz + fall * Math.exp(-t * 35))) / sampleRate;
    const envelope = Math.exp(-since / (burst < bursts - 1 ? 0.005 : decay)) * Math.min(1, since / 0.0006);
    return (tone * Math.sin(phase) + noise * coloured) * envelope;
  });
}

/** Its noise: even, with a mean square of a third. */
export function boxNoise(frames: number): Float32Array<ArrayBuffer> {
  const random = seededRandom(77);
  return Float32Array.from({ length: frames }, () => 2 * random() - 1);
}
