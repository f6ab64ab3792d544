/** Stretches slices and rings on their tails, away from the page. */
import { type RenderingSpec } from '#core/engine/plan/renderings.ts';
import { renderSpec } from '#core/engine/plan/render-all.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import type { Material } from '#core/params/choices.ts';
import { retime } from '#core/stretch/retime.ts';
import { serve } from './rpc.ts';

/** With a spec, `audio` holds the slice alone: the spec's frames are counted from its start. */
export type StretchRequest =
  | { spec: RenderingSpec; audio: AudioData }
  /** A whole loop, stretched to `ratio` times its length, for hearing it in time. */
  | { audio: AudioData; attackFrames: readonly number[]; ratio: number; material: Material };

serve<StretchRequest>((request) => {
  const { audio } = request;
  if (!('spec' in request)) {
    const { attackFrames, ratio, material } = request;
    const attacks = attackFrames.map((frame) => ({ frame }));
    const whole = retime(audio, attacks, { mode: 'stretch', ratio, semitones: 0, tail: 'ring', material });
    return Promise.resolve({ result: whole, transfer: whole.channels.map((channel) => channel.buffer) });
  }
  const { spec } = request;
  const rendered = renderSpec(audio, { ...spec, startFrame: 0, endFrame: spec.endFrame - spec.startFrame });
  return Promise.resolve({ result: rendered, transfer: rendered.channels.map((channel) => channel.buffer) });
});
