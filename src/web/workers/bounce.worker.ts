/** Renders a plan away from the page: to a file, or only to know how loud it is. */
import { measureMix, type MixLevels } from '#core/analysis/loudness.ts';
import { bounce } from '#core/engine/bounce.ts';
import type { RenderPlan } from '#core/engine/plan/fragments.ts';
import { encodeAudio, type AudioEncoding } from '#core/formats/encode.ts';
import './fast-flac.ts';
import { serve } from './rpc.ts';

export interface BounceRequest {
  plan: RenderPlan;
  lengthTicks: number;
  /** Null: only the levels are wanted. */
  encoding: AudioEncoding | null;
  ringOut: boolean;
}

export interface BounceResult {
  bytes: Uint8Array<ArrayBuffer> | null;
  levels: MixLevels;
}

/** Stretches of the picture of the levels. */
const STRETCHES = 220;
/** Share of the work that rendering is; the rest is measuring and encoding. */
const RENDERING_SHARE = 0.9;

serve<BounceRequest>(async ({ plan, lengthTicks, encoding, ringOut }, job) => {
  const onProgress = (share: number) => job.progress(share * RENDERING_SHARE);
  const audio = await bounce(plan, { lengthTicks, ringOut, onProgress });
  const levels = measureMix(audio, STRETCHES);
  const bytes = encoding === null ? null : await encodeAudio(audio, encoding);
  return { result: { bytes, levels } satisfies BounceResult, transfer: bytes ? [bytes.buffer] : [] };
});
