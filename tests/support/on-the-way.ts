/** A part with helpers before its keys, and what the engine presses by way of them. */
import type { HelperKind } from '#core/params/helpers.ts';
import { bounce } from '#core/engine/bounce.ts';
import { PlanCompiler, compilePlan } from '#core/engine/plan/compile.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { addHelper } from '#core/project/commands/helpers.ts';
import { layPattern } from '#core/project/commands/patterns.ts';
import { setValue, type Value } from '#core/project/commands/values.ts';
import type { PatternEvent, ProjectDocument } from '#core/document/schema.ts';
import { loopProject, unwrap, type LoopProject } from './documents.ts';
import { setPart, setSong } from './edits.ts';
import { noise } from './signals.ts';

export const RATE = 44100;
export const LOW_KEY = 48;
type Settings = Record<string, Value>;

export interface WayProject extends LoopProject {
  helperIds: string[];
}

/** Sounds on keys from 48 on, many at once, with helpers before them. */
export function wayProject(helpers: readonly [HelperKind, Settings?][], slices = 8): WayProject {
  const step = Math.floor(88_200 / slices);
  const starts = Array.from({ length: slices }, (_, place) => place * step);
  const made = loopProject({ sampleRate: RATE, channels: [noise(step * slices, 5).map((x) => x * 0.2)] }, starts);
  let document = unwrap(setPart(made.document, { partId: made.partId, settings: { oneAtATime: false } }));
  document = unwrap(setSong(document, { tempoBpm: 120 }));
  for (const [kind, settings = {}] of helpers) {
    const place = document.parts[made.partId]!.helperOrder.length;
    document = unwrap(addHelper(document, { partId: made.partId, kind, place }, made.env));
    document = withHelper(document, document.parts[made.partId]!.helperOrder.at(-1)!, settings);
  }
  return { ...made, document, helperIds: document.parts[made.partId]!.helperOrder };
}

export function withHelper(document: ProjectDocument, id: string, settings: Settings): ProjectDocument {
  return Object.entries(settings).reduce(
    (current, [param, to]) =>
      unwrap(
        setValue(
          current,
          { owners: [{ kind: 'helper', id }], param, change: { to } },
          { newId: () => '', newSeed: () => 1 },
        ),
      ),
    document,
  );
}

/** The document with a pattern of these strips put on; those that mean their keys pass the helpers. */
export function withStrips(
  made: LoopProject,
  lengthTicks: number,
  strips: Omit<PatternEvent, 'id'>[],
): ProjectDocument {
  return unwrap(layPattern(made.document, { partId: made.partId, name: 'held', lengthTicks, strips }, made.env));
}

export interface Struck {
  frame: number;
  key: number;
  velocity: number;
  cents: number;
  zoneId: string;
}

/** The engine with one hand and one who changes things, block after block. */
export class WayRig {
  readonly renderer: Renderer;
  readonly struck: Struck[] = [];
  /** Frames on which helpers let go. */
  readonly ended: number[] = [];
  readonly out: Float32Array[] = [];
  private readonly compiler = new PlanCompiler();
  private noteId = 0;

  constructor(
    private readonly made: LoopProject,
    private document = made.document,
    private readonly blockFrames = 128,
    mostVoices?: number,
  ) {
    this.renderer = new Renderer(RATE, mostVoices);
    this.renderer.setPlan(compilePlan(document, RATE, { assets: made.assets }));
    this.compiler.update(document, { assets: made.assets });
  }

  change(document: ProjectDocument): void {
    this.document = document;
    const patch = this.compiler.update(document, { assets: this.made.assets });
    if (patch) this.renderer.applyPatch(patch);
  }

  get now(): ProjectDocument {
    return this.document;
  }

  press(key: number, frame = this.renderer.frame, velocity = 0.5): number {
    const noteId = this.noteId++;
    this.renderer.addNote({ kind: 'on', noteId, partId: this.made.partId, key, velocity, frame });
    return noteId;
  }

  letGo(noteId: number, frame = this.renderer.frame): void {
    this.renderer.addNote({ kind: 'off', noteId, partId: '', key: -1, velocity: 0, frame });
  }

  /** Renders up to a frame of the engine. */
  runTo(frame: number): this {
    while (this.renderer.frame < frame) {
      const count = Math.min(this.blockFrames, frame - this.renderer.frame);
      const left = new Float32Array(count);
      this.renderer.process(left, new Float32Array(count), count);
      this.out.push(left);
      for (const { kind, origin, frame: at, key, velocity, cents, zoneId } of this.renderer.log.takeAll()) {
        if (origin !== 'helper') continue;
        if (kind === 'on') this.struck.push({ frame: at, key, velocity, cents, zoneId });
        else this.ended.push(at);
      }
    }
    return this;
  }

  get keys(): number[] {
    return this.struck.map(({ key }) => key);
  }

  get frames(): number[] {
    return this.struck.map(({ frame }) => frame);
  }

  get left(): Float32Array {
    const all = new Float32Array(this.out.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const block of this.out) {
      all.set(block, at);
      at += block.length;
    }
    return all;
  }
}

/** The left side of a bounce. */
export async function bounced(made: LoopProject, document: ProjectDocument, lengthTicks: number, blockFrames: number) {
  const plan = compilePlan(document, RATE, { assets: made.assets });
  const { channels } = await bounce(plan, { lengthTicks, blockFrames });
  return channels[0]!;
}
