/** The click: a short tick on every beat, higher on the first of a bar. */

const CLICK_MS = 30;
const BEAT_HZ = 1100;
const BAR_HZ = 1650;

function tick(frequencyHz: number, sampleRate: number): Float32Array {
  const frames = Math.round((CLICK_MS / 1000) * sampleRate);
  return Float32Array.from({ length: frames }, (_, i) => {
    const decay = Math.exp((-6 * i) / frames);
    return Math.sin((2 * Math.PI * frequencyHz * i) / sampleRate) * decay * (1 - i / frames);
  });
}

/** Plays ticks; at most one sounds at a time. */
export class Click {
  private readonly beatTick: Float32Array;
  private readonly barTick: Float32Array;
  private playing: Float32Array | null = null;
  private at = 0;

  constructor(sampleRate: number) {
    this.beatTick = tick(BEAT_HZ, sampleRate);
    this.barTick = tick(BAR_HZ, sampleRate);
  }

  start(isBar: boolean): void {
    this.playing = isBar ? this.barTick : this.beatTick;
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
