/** Stretches slices and rings on their tails, away from the page. */
import { renderSpec, type RenderingSpec } from '#core/engine/plan/renderings.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { serve } from './rpc.ts';

/** `audio` holds the slice alone: the spec's frames are counted from its start. */
export interface StretchRequest {
  spec: RenderingSpec;
  audio: AudioData;
}

serve<StretchRequest>(({ spec, audio }) => {
  const rendered = renderSpec(audio, { ...spec, startFrame: 0, endFrame: spec.endFrame - spec.startFrame });
  return Promise.resolve({ result: rendered, transfer: rendered.channels.map((channel) => channel.buffer) });
});
