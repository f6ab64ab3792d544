/** The click: a short tick on every beat, higher on the first of a bar. */
import { CLICK_SOUNDS, type ClickSound } from '../params/choices.ts';
import { seededRandom } from '../units/random.ts';

const CLICK_MS = 30;
const BEAT_HZ = 1100;
const BAR_HZ = 1650;

/** One tick: a plain tone, a wooden block (two tones out of tune that die at once), or a hiss. */
export function clickTick(sound: ClickSound, isBar: boolean, sampleRate: number): Float32Array {
  const frames = Math.round((CLICK_MS / 1000) * sampleRate);
  const frequencyHz = isBar ? BAR_HZ : BEAT_HZ;
  const random = seededRandom(isBar ? 2 : 1);
  const sine = (hz: number, i: number) => Math.sin((2 * Math.PI * hz * i) / sampleRate);
  const wave: Record<ClickSound, (i: number) => number> = {
    tick: (i) => sine(frequencyHz, i),
    block: (i) => (0.6 * sine(frequencyHz * 0.8, i) + 0.6 * sine(frequencyHz * 2.16, i)) * Math.exp((-9 * i) / frames),
    noise: (i) => (random() * 2 - 1) * Math.exp(((isBar ? -4 : -10) * i) / frames),
  };
  return Float32Array.from(
    { length: frames },
    (_, i) => wave[sound](i) * Math.exp((-6 * i) / frames) * (1 - i / frames),
  );
}

/** Plays ticks; at most one sounds at a time. */
export class Click {
  /** By the sounds' places in CLICK_SOUNDS. */
  private readonly ticks: readonly { beat: Float32Array; bar: Float32Array }[];
  private playing: Float32Array | null = null;
  private at = 0;

  constructor(sampleRate: number) {
    this.ticks = CLICK_SOUNDS.map((sound) => ({
      beat: clickTick(sound, false, sampleRate),
      bar: clickTick(sound, true, sampleRate),
    }));
  }

  /** @param sound its place in CLICK_SOUNDS */
  start(sound: number, isBar: boolean): void {
    const ticks = this.ticks[sound]!;
    this.playing = isBar ? ticks.bar : ticks.beat;
    this.at = 0;
  }

  stop(): void {
    this.playing = null;
  }

  render(left: Float32Array, right: Float32Array, offset: number, count: number, gain: number): void {
    const samples = this.playing;
    if (!samples) return;
    const end = Math.min(count, samples.length - this.at);
    for (let i = 0; i < end; i++) {
      const value = samples[this.at + i]! * gain;
      left[offset + i]! += value;
      right[offset + i]! += value;
    }
    this.at += end;
    if (this.at >= samples.length) this.playing = null;
  }
}
