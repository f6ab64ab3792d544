/** A loop under construction: sounds placed on musical time, tails wrapped round to the start as in a real loop. */
import type { AudioData } from '#core/dsp/audio.ts';
import { resampleFine } from '#core/dsp/fine-resample.ts';
import { panLeftGain, panRightGain } from '#core/units/level.ts';
import { transposeRatio } from '#core/units/pitch.ts';
import { seededRandom, type Random } from '#core/units/random.ts';
import { loopLengthFrames } from '#core/units/time.ts';

export const SAMPLE_RATE = 44100;

export interface LoopSettings {
  tempoBpm: number;
  bars: number;
  beatsPerBar?: number;
  /** Percent of an eighth at which the second sixteenth falls; 50 is straight. */
  swing?: number;
  /** How far a player strays, in milliseconds either way. */
  looseMs?: number;
  seed: number;
}

export interface Placement {
  /** Position in sixteenths from the loop's start; fractions are allowed. */
  step: number;
  level: number;
  pan?: number;
  semitones?: number;
}

export class LoopBuilder {
  readonly random: Random;
  private readonly left: Float32Array;
  private readonly right: Float32Array;
  private readonly framesPerStep: number;
  private readonly settings: LoopSettings;

  constructor(settings: LoopSettings) {
    this.settings = settings;
    const frames = Math.round(
      loopLengthFrames(settings.bars, settings.beatsPerBar ?? 4, settings.tempoBpm, SAMPLE_RATE),
    );
    this.left = new Float32Array(frames);
    this.right = new Float32Array(frames);
    this.framesPerStep = frames / (settings.bars * (settings.beatsPerBar ?? 4) * 4);
    this.random = seededRandom(settings.seed);
  }

  /** Seconds that a number of sixteenths lasts. */
  stepSeconds(steps: number): number {
    return (steps * this.framesPerStep) / SAMPLE_RATE;
  }

  add(sound: Float32Array, { step, level, pan = 0, semitones = 0 }: Placement): void {
    const played = semitones === 0 ? sound : retuned(sound, transposeRatio(semitones));
    const { swing = 50, looseMs = 0 } = this.settings;
    const pair = Math.floor(step / 2) * 2;
    const swung = step % 2 === 1 ? pair + (swing / 100) * 2 : step;
    const stray = step === 0 ? 0 : (this.random() * 2 - 1) * (looseMs / 1000) * SAMPLE_RATE;
    const start = Math.max(0, Math.round(swung * this.framesPerStep + stray));
    const [gainLeft, gainRight] = [panLeftGain(pan), panRightGain(pan)];
    const frames = this.left.length;
    for (let i = 0; i < played.length; i++) {
      const at = (start + i) % frames;
      this.left[at]! += played[i]! * level * gainLeft;
      this.right[at]! += played[i]! * level * gainRight;
    }
  }

  /** The loop at a peak of -1 dB. */
  finish(): AudioData {
    let peak = 1e-9;
    for (let i = 0; i < this.left.length; i++) peak = Math.max(peak, Math.abs(this.left[i]!), Math.abs(this.right[i]!));
    const gain = 0.89 / peak;
    for (const channel of [this.left, this.right]) for (let i = 0; i < channel.length; i++) channel[i]! *= gain;
    return { sampleRate: SAMPLE_RATE, channels: [this.left, this.right] };
  }
}

function retuned(sound: Float32Array, ratio: number): Float32Array {
  return resampleFine(sound, ratio, Math.round(sound.length / ratio), 'steep');
}
