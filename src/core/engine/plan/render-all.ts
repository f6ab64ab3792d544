/** Makes the renderings that a document wants. Apart from what names them: the page leaves the making to workers. */
import type { AudioData } from '../../dsp/audio.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { retimeSlice } from '../../stretch/retime.ts';
import type { Rendering, Renderings, RenderingSpec } from './renderings.ts';
import { wantedRenderings } from './wanted-renderings.ts';

/** Makes one rendering. */
export function renderSpec(audio: AudioData, spec: RenderingSpec): AudioData {
  return retimeSlice(audio, spec);
}

/** All that a document wants, made at once: for bouncing, the command line and tests. */
export function renderAll(document: ProjectDocument, assets: ReadonlyMap<string, AudioData>): Renderings {
  const made = new Map<string, Rendering>();
  for (const spec of wantedRenderings(document)) {
    const audio = assets.get(spec.sourceId);
    if (audio) made.set(spec.key, { spec, audio: renderSpec(audio, spec) });
  }
  return { version: made.size, find: (spec) => made.get(spec.key) };
}
