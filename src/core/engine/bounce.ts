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
  /** Goes on after the length until all is silent; what still sounds after a minute fades. */
  ringOut?: boolean;
  blockFrames?: number;
  /** Called now and then with 0..1; return false to cancel. May be asynchronous, to let messages in. */
  onProgress?: (share: number) => boolean | Promise<boolean>;
}

const SONG_TEMPO = slotsOf(SONG_ROWS).tempoBpm;
const RING_OUT_SECONDS = 60;
const LAST_FADE_SECONDS = 2;
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
  // With an end, what would go on in the next round fades at it.
  renderer.play(0, options.ringOut ? options.lengthTicks : Infinity);
  // What looks ahead comes later: so much of silence goes before, and is left out.
  const late = renderer.latencyFrames;
  const left = new Float32Array(frames + late);
  const right = new Float32Array(frames + late);
  const report = async (share: number) => {
    if ((await (options.onProgress?.(share) ?? true)) === false)
      throw new AppError('cancelled', 'the bounce was cancelled');
  };
  let lastReport = 0;
  for (let at = 0; at < left.length; at += blockFrames) {
    const count = Math.min(blockFrames, left.length - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    if (at - lastReport >= plan.sampleRate) {
      lastReport = at;
      await report(at / frames);
    }
  }
  const channels = [left.subarray(late), right.subarray(late)] as const;
  if (!options.ringOut) return { sampleRate: plan.sampleRate, channels: [...channels] };
  const tail = renderTail(renderer, plan.sampleRate, blockFrames);
  return { sampleRate: plan.sampleRate, channels: [joined(channels[0], tail.left), joined(channels[1], tail.right)] };
}

function renderTail(renderer: Renderer, sampleRate: number, blockFrames: number) {
  const most = RING_OUT_SECONDS * sampleRate;
  const blocks: { left: Float32Array; right: Float32Array }[] = [];
  renderer.letRingOut();
  let end = 0;
  for (let at = 0; at < most; at += blockFrames) {
    const count = Math.min(blockFrames, most - at);
    const block = { left: new Float32Array(count), right: new Float32Array(count) };
    renderer.process(block.left, block.right, count);
    blocks.push(block);
    let loud = false;
    for (let i = 0; i < count; i++) if (Math.abs(block.left[i]!) + Math.abs(block.right[i]!) > SILENCE) loud = true;
    // Between two echoes it is silent, too.
    if (!loud && renderer.areEffectsAtRest) break;
    if (loud) end = at + count;
  }
  const tail = { left: new Float32Array(end), right: new Float32Array(end) };
  for (const [index, { left, right }] of blocks.entries()) {
    const at = index * blockFrames;
    if (at >= end) break;
    tail.left.set(left.subarray(0, Math.max(0, end - at)), at);
    tail.right.set(right.subarray(0, Math.max(0, end - at)), at);
  }
  if (end === most) fadeEnd(tail, Math.round(LAST_FADE_SECONDS * sampleRate));
  return tail;
}

/** What would sound for ever. */
function fadeEnd({ left, right }: { left: Float32Array; right: Float32Array }, frames: number): void {
  const from = left.length - frames;
  for (let i = 0; i < frames; i++) {
    const share = 1 - (i + 1) / frames;
    left[from + i]! *= share;
    right[from + i]! *= share;
  }
}

function joined(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}
