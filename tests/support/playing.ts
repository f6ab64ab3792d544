/** Plays documents through the real engine, for tests. */
import type { AudioData } from '#core/dsp/audio.ts';
import { compilePlan, PlanCompiler } from '#core/engine/plan/compile.ts';
import type { PlanPatch, RenderPlan } from '#core/engine/plan/fragments.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { loopProject, unwrap, type LoopProject } from './documents.ts';
import { setPart, setSong, type PartSettings } from './edits.ts';
import { burstLoop } from './signals.ts';

const RATE = 44100;

/** Settings of the part, and perhaps of the song's tempo. */
export function set(project: LoopProject, settings: PartSettings, tempoBpm?: number): LoopProject {
  const document = unwrap(setPart(project.document, { partId: project.partId, settings }, project.env));
  return {
    ...project,
    document: tempoBpm ? unwrap(setSong(document, { tempoBpm })) : document,
  };
}

/** The plan with all its renderings. */
export function planOf({ document, assets }: Pick<LoopProject, 'document' | 'assets'>, sampleRate = RATE): RenderPlan {
  return compilePlan(document, sampleRate, { assets, renderings: renderAll(document, assets) });
}

/** Plays from a position in ticks, in blocks that do not divide anything. */
export function play(
  plan: RenderPlan,
  frames: number,
  fromTicks = 0,
  between?: (renderer: Renderer, at: number) => void,
) {
  const renderer = new Renderer(RATE);
  renderer.setPlan(plan);
  renderer.play(fromTicks);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += 441) {
    between?.(renderer, at);
    const count = Math.min(441, frames - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
  }
  return left;
}

/** Frames where sound begins after `quiet` frames of none. */
export function entries(samples: Float32Array, quiet = 2_000): number[] {
  const found: number[] = [];
  let silent = quiet;
  samples.forEach((sample, index) => {
    if (Math.abs(sample) > 1e-3) {
      if (silent >= quiet) found.push(index);
      silent = 0;
    } else silent++;
  });
  return found;
}

/** Eight short bursts in a bar of 120 bpm. */
export function shortBursts(): LoopProject {
  const starts = Array.from({ length: 8 }, (_, step) => step * 11_025);
  const audio = burstLoop(88_200, starts, RATE, 1);
  for (const [index, sample] of audio.channels[0]!.entries()) {
    if (index % 11_025 > 3_000) audio.channels[0]![index] = 0 * sample;
  }
  return loopProject(audio, starts);
}

/** Frequency by zero crossings. */
export function pitchHz(samples: Float32Array, from: number, to: number): number {
  let crossings = 0;
  for (let i = from; i < to; i++) if (samples[i - 1]! < 0 && samples[i]! >= 0) crossings++;
  return (crossings / (to - from)) * RATE;
}

/** Sum of squares. */
export function energy(samples: Float32Array, from: number, to: number): number {
  return samples.subarray(from, to).reduce((sum, value) => sum + value * value, 0);
}

/** A song that plays while its document is edited: each edit reaches the engine as the page sends it, in patches. */
export class LiveSong {
  readonly renderer = new Renderer(RATE);
  readonly compiler = new PlanCompiler();
  private readonly sent = new Set<string>();

  constructor(
    public document: ProjectDocument,
    readonly assets: ReadonlyMap<string, AudioData>,
  ) {
    this.edit(document);
  }

  /**
   * Sends what has changed; renderings are those of `rendered`, the document's own if not given.
   * @param waitsOf how this part sounds is heard from where another pattern would take over
   */
  edit(document: ProjectDocument, rendered: ProjectDocument = document, waitsOf?: string): PlanPatch | null {
    this.document = document;
    const { assets } = this;
    const patch = this.compiler.update(document, { assets, renderings: renderAll(rendered, assets) });
    for (const source of this.compiler.sources.values()) {
      if (!this.sent.has(source.id)) this.renderer.addSource(source);
      this.sent.add(source.id);
    }
    if (patch) this.renderer.applyPatch(structuredClone(patch), waitsOf);
    return patch;
  }

  /** The next frames of the left side, in blocks that do not divide anything. */
  next(frames: number): Float32Array {
    const left = new Float32Array(frames);
    const right = new Float32Array(frames);
    for (let at = 0; at < frames; at += 441) {
      const count = Math.min(441, frames - at);
      this.renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    }
    return left;
  }

  get sounding(): [partId: string, zoneId: string, sourceFrame: number][] {
    const list: [string, string, number][] = [];
    this.renderer.eachSounding((...one) => list.push(one));
    return list;
  }
}
