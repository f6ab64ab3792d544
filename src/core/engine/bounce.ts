/** Renders a plan faster than real time. */
import { slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { AppError } from '../units/errors.ts';
import { framesPerTick } from '../units/time.ts';
import type { AudioData } from '../dsp/audio.ts';
import { Renderer } from './renderer.ts';
import type { RenderPlan } from './plan/fragments.ts';
import { MAX_BOUNCED_VOICES } from './voice/pool.ts';

export interface BounceOptions {
  lengthTicks: number;
  /** Goes on after the length until all is silent, 10 s at most. */
  ringOut?: boolean;
  blockFrames?: number;
  /** Called now and then with 0..1; return false to cancel. May be asynchronous, to let messages in. */
  onProgress?: (share: number) => boolean | Promise<boolean>;
}

const SONG_TEMPO = slotsOf(SONG_ROWS).tempoBpm;
const RING_OUT_SECONDS = 10;
const SILENCE = 1e-5;

/**
 * Plays the plan from the song's start into memory, exactly as the live engine would; where that has 64 voices, a
 * bounce has 256.
 * @throws AppError `cancelled`
 */
export async function bounce(plan: RenderPlan, options: BounceOptions): Promise<AudioData> {
  const blockFrames = options.blockFrames ?? 1024;
  const frames = Math.round(options.lengthTicks * framesPerTick(plan.patch.song![SONG_TEMPO]!, plan.sampleRate));
  const renderer = new Renderer(plan.sampleRate, MAX_BOUNCED_VOICES);
  renderer.setPlan(plan);
  renderer.play();
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const report = async (share: number) => {
    if ((await (options.onProgress?.(share) ?? true)) === false)
      throw new AppError('cancelled', 'the bounce was cancelled');
  };
  let lastReport = 0;
  for (let at = 0; at < frames; at += blockFrames) {
    const count = Math.min(blockFrames, frames - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    if (at - lastReport >= plan.sampleRate) {
      lastReport = at;
      await report(at / frames);
    }
  }
  if (!options.ringOut) return { sampleRate: plan.sampleRate, channels: [left, right] };
  const tail = renderTail(renderer, plan.sampleRate, blockFrames);
  return { sampleRate: plan.sampleRate, channels: [joined(left, tail.left), joined(right, tail.right)] };
}

function renderTail(renderer: Renderer, sampleRate: number, blockFrames: number) {
  const left = new Float32Array(RING_OUT_SECONDS * sampleRate);
  const right = new Float32Array(left.length);
  renderer.letRingOut();
  let end = 0;
  for (let at = 0; at < left.length; at += blockFrames) {
    const count = Math.min(blockFrames, left.length - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    let loud = false;
    for (let i = at; i < at + count; i++) if (Math.abs(left[i]!) + Math.abs(right[i]!) > SILENCE) loud = true;
    if (!loud) break;
    end = at + count;
  }
  return { left: left.subarray(0, end), right: right.subarray(0, end) };
}

function joined(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}
