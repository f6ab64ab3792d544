/** A groove as ticks, to hear it without a loop. */
import type { AudioData } from '../dsp/audio.ts';
import { addSamples } from '../dsp/mixing.ts';
import { framesPerTick } from '../units/time.ts';
import { clickTick } from './click.ts';

export interface TickedGroove {
  stepTicks: number;
  /** Shifts in steps, below 0 early; accents against the mean, 0..2. */
  steps: readonly { shift: number; accent: number }[];
}

/** Of a tick with an accent of 1. */
const GAIN = 0.4;

/** One round: a tick a step, where it falls and as loud as it is; a first step that comes early ends the round. */
export function grooveTicks({ stepTicks, steps }: TickedGroove, tempoBpm: number, sampleRate: number): AudioData {
  const stepFrames = stepTicks * framesPerTick(tempoBpm, sampleRate);
  const frames = Math.round(steps.length * stepFrames);
  const channel = new Float32Array(frames);
  const tick = clickTick('tick', false, sampleRate);
  steps.forEach(({ shift, accent }, step) => {
    const at = Math.round((step + shift) * stepFrames);
    for (const place of [at, at - frames, at + frames]) addSamples(channel, place, tick, GAIN * accent);
  });
  return { sampleRate, channels: [channel] };
}
