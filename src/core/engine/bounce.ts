/** Renders a plan faster than real time, block by block: nothing is held that nobody keeps. */
import { joined } from '../dsp/joined.ts';
import { slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { AppError } from '../units/errors.ts';
import { framesPerTick } from '../units/time.ts';
import type { AudioData } from '../dsp/audio.ts';
import { TempoMap } from '../order/tempo-map.ts';
import type { StereoBus } from './mix/effects/effect.ts';
import { BouncePass, type BouncedStem } from './bounce-pass.ts';
import { Renderer } from './renderer.ts';
import type { RenderPlan } from './plan/fragments.ts';
import { MAX_BOUNCED_VOICES } from './voice/pool.ts';

export interface BounceOptions {
  /** From `fromTicks` on, which is 0 where it is left out. */
  lengthTicks: number;
  fromTicks?: number;
  /** Along the running order. */
  followsOrder?: boolean;
  /** Goes on after the length until all is silent; what still sounds after a minute fades. */
  ringOut?: boolean;
  blockFrames?: number;
  /** What is told of, too, beside the mix. */
  stems?: readonly BouncedStem[];
  /** Called now and then with 0..1; return false to cancel. May be asynchronous, to let messages in. */
  onProgress?: (share: number) => boolean | Promise<boolean>;
}

/** A block of the mix, and of each stem that is asked for, in their order: valid until the next one. */
export type TakeBlock = (mix: StereoBus, stems: readonly StereoBus[]) => void | Promise<void>;

const SONG_TEMPO = slotsOf(SONG_ROWS).tempoBpm;
const RING_OUT_SECONDS = 60;
const LAST_FADE_SECONDS = 2;

/** How long a bounce is without its tail, in frames. */
export function bouncedFrames(
  { patch, sampleRate }: Pick<RenderPlan, 'patch' | 'sampleRate'>,
  { fromTicks = 0, followsOrder, lengthTicks }: Pick<BounceOptions, 'fromTicks' | 'followsOrder' | 'lengthTicks'>,
): number {
  if (followsOrder && patch.order) {
    const map = new TempoMap(patch.order.tempos, sampleRate);
    return Math.round(map.framesAt(fromTicks + lengthTicks) - map.framesAt(fromTicks));
  }
  return Math.round(lengthTicks * framesPerTick(patch.song![SONG_TEMPO]!, sampleRate));
}

/**
 * Plays the plan from the song's start into blocks, exactly as the live engine would; where that has 64 voices, a
 * bounce has 256.
 * @returns the frames that were given
 * @throws AppError `cancelled`
 */
export async function bounceInto(plan: RenderPlan, options: BounceOptions, take: TakeBlock): Promise<number> {
  const { fromTicks = 0, followsOrder = false, lengthTicks, blockFrames = 1024, stems = [] } = options;
  const frames = bouncedFrames(plan, options);
  // With an end, what would go on in the next round fades at it.
  const endTicks = options.ringOut ? fromTicks + lengthTicks : Infinity;
  const pass = new BouncePass(stems, blockFrames, () => {
    const renderer = new Renderer(plan.sampleRate, MAX_BOUNCED_VOICES);
    renderer.setPlan(plan);
    renderer.play(fromTicks, endTicks, { followsOrder, returnTicks: null });
    return renderer;
  });
  const { renderer } = pass;
  const report = async (share: number) => {
    if ((await (options.onProgress?.(share) ?? true)) === false)
      throw new AppError('cancelled', 'the bounce was cancelled');
  };
  // What looks ahead comes later: so much of silence goes before, and is left out.
  const late = renderer.latencyFrames;
  const total = frames + late;
  let lastReport = 0;
  for (let at = 0; at < total;) {
    const count = Math.min(blockFrames, at < late ? late - at : total - at);
    pass.render(count);
    if (at >= late) await take(pass.mix(count), pass.stems(count));
    at += count;
    if (at - lastReport >= plan.sampleRate) {
      lastReport = at;
      await report(Math.min(1, at / total));
    }
  }
  if (!options.ringOut) return frames;
  return frames + (await renderTail(pass, take, report));
}

/** {@link bounceInto} memory. */
export async function bounce(plan: RenderPlan, options: BounceOptions): Promise<AudioData> {
  const blocks: { left: Float32Array; right: Float32Array }[] = [];
  await bounceInto(plan, options, ({ left, right }) => {
    blocks.push({ left: left.slice(), right: right.slice() });
  });
  const channels = [joined(blocks.map(({ left }) => left)), joined(blocks.map(({ right }) => right))];
  return { sampleRate: plan.sampleRate, channels };
}

function copied({ left, right }: StereoBus): StereoBus {
  return { left: left.slice(), right: right.slice() };
}

/** Until all is silent. What is silent is held back: it is given only where something comes after it. */
async function renderTail(
  pass: BouncePass,
  take: TakeBlock,
  report: (share: number) => Promise<void>,
): Promise<number> {
  const { sampleRate } = pass.renderer;
  const most = RING_OUT_SECONDS * sampleRate;
  const fadeFrom = most - Math.round(LAST_FADE_SECONDS * sampleRate);
  const levelAt = (at: number) => Math.min(1, (most - at) / (most - fadeFrom));
  pass.letRingOut();
  let given = 0;
  let held: { mix: StereoBus; stems: StereoBus[] }[] = [];
  for (let at = 0; at < most;) {
    const count = Math.min(pass.blockFrames, at < fadeFrom ? fadeFrom - at : most - at);
    pass.render(count);
    const isLoud = pass.isLoud(count);
    if (at >= fadeFrom) pass.fade(count, levelAt(at), levelAt(at + count));
    at += count;
    // Between two echoes it is silent, too.
    if (!isLoud && pass.renderer.areEffectsAtRest) break;
    if (!isLoud) {
      held.push({ mix: copied(pass.mix(count)), stems: pass.stems(count).map(copied) });
      continue;
    }
    for (const { mix, stems } of held) await take(mix, stems);
    held = [];
    await take(pass.mix(count), pass.stems(count));
    given = at;
    if (at % sampleRate < count) await report(1);
  }
  return given;
}
