/** Renders a plan faster than real time, block by block: nothing is held that nobody keeps. */
import { joined } from '../dsp/joined.ts';
import { slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { AppError } from '../units/errors.ts';
import { framesPerTick } from '../units/time.ts';
import type { AudioData } from '../dsp/audio.ts';
import { TempoMap } from '../order/tempo-map.ts';
import type { StereoBus } from './mix/effects/effect.ts';
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
  /** Channels of which is told, too, what each gives to the one that it is led to. */
  stemIds?: readonly string[];
  /** Called now and then with 0..1; return false to cancel. May be asynchronous, to let messages in. */
  onProgress?: (share: number) => boolean | Promise<boolean>;
}

/** A block of the mix, and of each stem that is asked for, in their order: valid until the next one. */
export type TakeBlock = (mix: StereoBus, stems: readonly StereoBus[]) => void | Promise<void>;

const SONG_TEMPO = slotsOf(SONG_ROWS).tempoBpm;
const RING_OUT_SECONDS = 60;
const LAST_FADE_SECONDS = 2;
const SILENCE = 1e-5;

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
  const { fromTicks = 0, followsOrder = false, lengthTicks, blockFrames = 1024, stemIds = [] } = options;
  const frames = bouncedFrames(plan, options);
  const renderer = new Renderer(plan.sampleRate, MAX_BOUNCED_VOICES);
  renderer.setPlan(plan);
  // With an end, what would go on in the next round fades at it.
  const endTicks = options.ringOut ? fromTicks + lengthTicks : Infinity;
  renderer.play(fromTicks, endTicks, { followsOrder, returnTicks: null });
  const pass = new Pass(renderer, stemIds, blockFrames);
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
  return frames + (await renderTail(renderer, pass, take, report));
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

/** The buffers that blocks are rendered into. */
class Pass {
  private readonly all: StereoBus[];

  constructor(
    private readonly renderer: Renderer,
    stemIds: readonly string[],
    blockFrames: number,
  ) {
    const made = () => ({ left: new Float32Array(blockFrames), right: new Float32Array(blockFrames) });
    this.all = [made(), ...stemIds.map(made)];
    for (const [index, id] of stemIds.entries()) renderer.keepStem(id, this.all[index + 1]!);
  }

  render(count: number): void {
    for (const { left, right } of this.all) {
      left.fill(0, 0, count);
      right.fill(0, 0, count);
    }
    const { left, right } = this.all[0]!;
    this.renderer.process(left.subarray(0, count), right.subarray(0, count), count);
  }

  mix(count: number): StereoBus {
    return upTo(this.all[0]!, count);
  }

  stems(count: number): StereoBus[] {
    return this.all.slice(1).map((one) => upTo(one, count));
  }

  get blockFrames(): number {
    return this.all[0]!.left.length;
  }

  /** Does the block sound anywhere, and up to where? */
  isLoud(count: number): boolean {
    const { left, right } = this.all[0]!;
    for (let i = 0; i < count; i++) if (Math.abs(left[i]!) + Math.abs(right[i]!) > SILENCE) return true;
    return false;
  }

  /** What would sound for ever fades. @param from and to of what the block begins and ends with */
  fade(count: number, from: number, to: number): void {
    for (const { left, right } of this.all) {
      for (let i = 0; i < count; i++) {
        const gain = Math.max(0, from + ((to - from) * i) / count);
        left[i]! *= gain;
        right[i]! *= gain;
      }
    }
  }
}

function upTo({ left, right }: StereoBus, count: number): StereoBus {
  return { left: left.subarray(0, count), right: right.subarray(0, count) };
}

function copied({ left, right }: StereoBus): StereoBus {
  return { left: left.slice(), right: right.slice() };
}

/** Until all is silent. What is silent is held back: it is given only where something comes after it. */
async function renderTail(
  renderer: Renderer,
  pass: Pass,
  take: TakeBlock,
  report: (share: number) => Promise<void>,
): Promise<number> {
  const { sampleRate } = renderer;
  const most = RING_OUT_SECONDS * sampleRate;
  const fadeFrom = most - Math.round(LAST_FADE_SECONDS * sampleRate);
  const levelAt = (at: number) => Math.min(1, (most - at) / (most - fadeFrom));
  renderer.letRingOut();
  let given = 0;
  let held: { mix: StereoBus; stems: StereoBus[] }[] = [];
  for (let at = 0; at < most;) {
    const count = Math.min(pass.blockFrames, at < fadeFrom ? fadeFrom - at : most - at);
    pass.render(count);
    const isLoud = pass.isLoud(count);
    if (at >= fadeFrom) pass.fade(count, levelAt(at), levelAt(at + count));
    at += count;
    // Between two echoes it is silent, too.
    if (!isLoud && renderer.areEffectsAtRest) break;
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
