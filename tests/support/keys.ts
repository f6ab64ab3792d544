/** A part on keys, played through the real engine: for tests. */
import type { AudioData } from '#core/dsp/audio.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import type { PartValues, ZoneValues } from '#core/params/tables.ts';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { layZone } from '#core/project/commands/zones.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { countingEnv, loopProject, unwrap, type LoopProject } from './documents.ts';

export const RATE = 44100;

export function withValues(document: ProjectDocument, owner: Owner, values: Record<string, Value>): ProjectDocument {
  return Object.entries(values).reduce(
    (current, [param, to]) => unwrap(setValue(current, { owners: [owner], param, change: { to } }, countingEnv())),
    document,
  );
}

/** A part whose slices lie on keys from 48 on, every one of them with these settings. */
export class KeyedPart {
  document: ProjectDocument;
  readonly partId: string;
  readonly zoneIds: readonly string[];
  private readonly made: LoopProject;

  constructor(channels: Float32Array[], starts: readonly number[] = [0], sampleRate = RATE) {
    this.made = loopProject({ sampleRate, channels } as AudioData, starts, 1);
    this.partId = this.made.partId;
    this.document = this.made.document;
    this.zoneIds = this.document.parts[this.partId]!.zoneOrder;
    this.part({ oneAtATime: false });
  }

  get assets(): LoopProject['assets'] {
    return this.made.assets;
  }

  get cutId(): string {
    return this.made.cutId;
  }

  part(values: Partial<PartValues>): this {
    this.document = withValues(this.document, { kind: 'part', id: this.partId }, values as Record<string, Value>);
    return this;
  }

  zones(values: Partial<ZoneValues>, places?: readonly number[]): this {
    for (const [place, id] of this.zoneIds.entries()) {
      if (places && !places.includes(place)) continue;
      this.document = withValues(this.document, { kind: 'zone', id }, values as Record<string, Value>);
    }
    return this;
  }

  /** The first slice over a range of keys. */
  spread(low: number, high: number, root: number): this {
    this.document = unwrap(
      layZone(this.document, { zoneId: this.zoneIds[0]!, keys: { low, high, root } }, countingEnv()),
    );
    return this;
  }

  renderer(mostVoices?: number): Renderer {
    const renderer = new Renderer(RATE, mostVoices);
    const { assets } = this.made;
    renderer.setPlan(compilePlan(this.document, RATE, { assets, renderings: renderAll(this.document, assets) }));
    return renderer;
  }

  /**
   * Plays frames, with things done at frames on the way.
   * @param deeds by frame, in order
   */
  play(
    frames: number,
    deeds: readonly [frame: number, deed: (renderer: Renderer) => void][],
    block = 128,
    renderer = this.renderer(),
  ): { left: Float32Array; right: Float32Array; renderer: Renderer } {
    const left = new Float32Array(frames);
    const right = new Float32Array(frames);
    let next = 0;
    for (let at = 0; at < frames;) {
      while (next < deeds.length && deeds[next]![0] <= at) deeds[next++]![1](renderer);
      const until = Math.min(frames, deeds[next]?.[0] ?? frames);
      const count = Math.min(block, until - at);
      renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
      at += count;
    }
    return { left, right, renderer };
  }

  press(key: number, velocity = 1, noteId = key): (renderer: Renderer) => void {
    return (renderer) => renderer.noteOn(this.partId, key, velocity, noteId);
  }

  letGo(noteId: number): (renderer: Renderer) => void {
    return (renderer) => renderer.noteOff(noteId);
  }
}

/** Greatest step from one sample to the next in a range. */
export function greatestStep(samples: Float32Array, from = 1, to = samples.length): number {
  let most = Math.abs(samples[0]!);
  for (let i = Math.max(1, from); i < to; i++) most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
  return most;
}

export function peakOf(samples: Float32Array, from = 0, to = samples.length): number {
  let most = 0;
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(samples[i]!));
  return most;
}

export function rmsOf(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i]! * samples[i]!;
  return Math.sqrt(sum / (to - from));
}

/** Frequency by the phase of the tone at two places, given about what it is. */
export function measuredHz(samples: Float32Array, from: number, aboutHz: number): number {
  const span = 8_192;
  const phaseAt = (at: number) => {
    let re = 0;
    let im = 0;
    for (let i = 0; i < span; i++) {
      const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / span);
      const angle = (2 * Math.PI * aboutHz * (at + i)) / RATE;
      re += samples[at + i]! * window * Math.cos(angle);
      im -= samples[at + i]! * window * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  const apart = 4_096;
  let turned = phaseAt(from + apart) - phaseAt(from);
  turned -= 2 * Math.PI * Math.round(turned / (2 * Math.PI));
  return aboutHz + (turned * RATE) / (2 * Math.PI * apart);
}
