/** Renders a plan to a WAV file away from the page. */
import { bounce } from '#core/engine/bounce.ts';
import type { RenderPlan } from '#core/engine/plan/fragments.ts';
import { writeWav, type WavEncoding } from '#core/formats/wav-write.ts';
import { serve } from './rpc.ts';

export interface BounceRequest {
  plan: RenderPlan;
  lengthTicks: number;
  encoding: WavEncoding;
  ringOut: boolean;
}

serve<BounceRequest>(async ({ plan, lengthTicks, encoding, ringOut }, job) => {
  const audio = await bounce(plan, { lengthTicks, ringOut, onProgress: job.progress });
  const wav = writeWav(audio, { encoding });
  return { result: wav, transfer: [wav.buffer] };
});
