/**
 * What an edit of a large project costs, from the command to the audio thread and to the disk, and what voices cost.
 * Prints the tables of docs/engine.md: medians of many runs, in one thread.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { addModulator } from '#core/project/commands/modulators.ts';
import { moveEvents } from '#core/project/commands/events.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { diff } from '#core/document/diff.ts';
import { EMPTY_HISTORY, record, undo } from '#core/document/history.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument, problemOfChange } from '#core/document/validate.ts';
import { PlanCompiler, compilePlan } from '#core/engine/plan/compile.ts';
import type { PlanPatch } from '#core/engine/plan/fragments.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { openDatabase } from '../src/server/db/open.ts';
import { ProjectService } from '../src/server/services/projects.ts';
import { done, env, largeProject, SLICES, type LargeProject } from './large-project.ts';

const RATE = 44100;
const BLOCK = 128;
const RUNS = 60;

function median(times: readonly number[]): number {
  return times.toSorted((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

function milliseconds(times: readonly number[]): string {
  return `${median(times).toFixed(2)} ms`;
}

function timed<T>(times: number[], run: () => T): T {
  const from = performance.now();
  const result = run();
  times.push(performance.now() - from);
  return result;
}

interface Live {
  document: ProjectDocument;
  compiler: PlanCompiler;
  renderer: Renderer;
  inputs: { assets: LargeProject['assets'] };
}

function live({ document, assets }: LargeProject): Live {
  const compiler = new PlanCompiler();
  const renderer = new Renderer(RATE);
  const inputs = { assets };
  const patch = compiler.update(document, inputs)!;
  for (const source of compiler.sources.values()) renderer.addSource(source);
  renderer.applyPatch(patch);
  renderer.play(0);
  return { document, compiler, renderer, inputs };
}

/** One event's velocity, another one each time. */
function editEvent(document: ProjectDocument, run: number): ProjectDocument {
  const part = document.parts[document.partOrder[run % document.partOrder.length]!]!;
  const patternId = part.activePatternId;
  const ids = Object.keys(document.patterns[patternId]!.events);
  const owner: Owner = { kind: 'event', patternId, id: ids[(run * 97) % ids.length]! };
  const result = setValue(document, { owners: [owner], param: 'velocity', change: { to: (run % 100) / 100 } }, env);
  if (!result.ok) throw new Error(result.reason);
  const problem = problemOfChange(document, result.document);
  if (problem) throw new Error(problem);
  return result.document;
}

function editTable(project: LargeProject): [string, string][] {
  const song = live(project);
  const page: number[] = [];
  const thread: number[] = [];
  let bytes = 0;
  const block = new Float32Array(BLOCK);
  for (let run = 0; run < RUNS; run++) {
    const message = timed(page, () => {
      const before = song.document;
      song.document = editEvent(before, run);
      record(EMPTY_HISTORY, 'edit', before, song.document);
      return serialize(song.compiler.update(song.document, song.inputs));
    });
    bytes = Math.max(bytes, message.length);
    const patch = deserialize(message) as PlanPatch;
    timed(thread, () => song.renderer.applyPatch(patch));
    song.renderer.process(block, new Float32Array(BLOCK), BLOCK);
  }
  return [
    ['one event edited: command, check, undo step, plan, message', milliseconds(page)],
    ['its message', `${(bytes / 1024).toFixed(1)} kB`],
    ['its work in the audio thread', milliseconds(thread)],
  ];
}

function dragTable(project: LargeProject): [string, string][] {
  const song = live(project);
  const part = song.document.parts[song.document.partOrder[0]!]!;
  const owner: Owner = { kind: 'channel', id: part.channelId };
  const times: number[] = [];
  const compiled = song.compiler.compiledCount;
  for (let run = 0; run < 180; run++) {
    timed(times, () => {
      const before = song.document;
      const to = -20 + run / 10;
      const result = setValue(before, { owners: [owner], param: 'gainDb', change: { to } }, env);
      if (!result.ok || problemOfChange(before, result.document)) throw new Error('refused');
      song.document = result.document;
      song.renderer.applyPatch(structuredClone(song.compiler.update(song.document, song.inputs)!));
    });
  }
  return [
    ['a level dragged for 3 s: the longest of 180 moves', `${Math.max(...times).toFixed(2)} ms`],
    ['fragments compiled meanwhile', String(song.compiler.compiledCount - compiled)],
  ];
}

function undoTable(project: LargeProject): [string, string][] {
  const song = live(project);
  const times: number[] = [];
  for (let run = 0; run < 7; run++) {
    const before = song.document;
    const { activePatternId } = before.parts[before.partOrder[run]!]!;
    const eventIds = Object.keys(before.patterns[activePatternId]!.events).slice(0, 5000);
    const after = done(before, moveEvents, { patternId: activePatternId, eventIds, byTicks: -10 + 20 * 1.5 });
    const history = record(EMPTY_HISTORY, 'move', before, after);
    song.compiler.update(after, song.inputs);
    timed(times, () => {
      song.document = undo(history, after)!.document;
      structuredClone(song.compiler.update(song.document, song.inputs));
    });
  }
  return [['5,000 moved events taken back, to the posted message', milliseconds(times)]];
}

function saveTable(project: LargeProject): [string, string][] {
  const folder = mkdtempSync(join(tmpdir(), 'yappa-bench-'));
  const { db, close } = openDatabase(join(folder, 'bench.sqlite'));
  try {
    const service = new ProjectService(db);
    let document = openDocument(project.document);
    const { id } = service.insert(document);
    const times: number[] = [];
    service.load(id);
    for (let run = 0; run < RUNS; run++) {
      const after = editEvent(document, run);
      const changes = JSON.parse(JSON.stringify(diff(document, after))) as ReturnType<typeof diff>;
      timed(times, () => service.save(id, { saveId: `save-${run}`, baseRevision: run + 1, label: 'edit', changes }));
      document = after;
    }
    return [['its save on the server', `${milliseconds(times)}, at most ${Math.max(...times).toFixed(1)} ms`]];
  } finally {
    close();
    rmSync(folder, { recursive: true });
  }
}

/** Share of a core that 64 sounding voices take. */
function voiceLoad(isShaped: boolean, tuneCents = 0): string {
  const { document: made, assets } = largeProject(1, 1);
  let document = made;
  const part = document.parts[document.partOrder[0]!]!;
  const owners = part.zoneOrder.map((id): Owner => ({ kind: 'zone', id }));
  const set = (owner: Owner[], param: string, to: string | number | boolean) => {
    const result = setValue(document, { owners: owner, param, change: { to } }, env);
    if (!result.ok) throw new Error(result.reason);
    document = result.document;
  };
  set([{ kind: 'part', id: part.id }], 'oneAtATime', false);
  if (tuneCents !== 0) set(owners, 'tuneCents', tuneCents);
  if (isShaped) {
    set(owners, 'filter', 'low');
    set(owners, 'cutoffHz', 2000);
    for (const zoneId of part.zoneOrder) {
      for (const paramId of ['cutoffHz', 'pan'] as const) {
        document = done(document, addModulator, { ownerId: zoneId, kind: 'lfo', paramId, amount: 0.5 });
      }
    }
  }
  // Long sounds: each of the zones plays two seconds.
  const plan = compilePlan(document, RATE, { assets });
  for (const zone of plan.patch.zones) {
    zone.sound.startFrame = 0;
    zone.sound.endFrame = zone.sound.naturalEndFrame = 6 * RATE;
  }
  const loads: number[] = [];
  const left = new Float32Array(BLOCK);
  const right = new Float32Array(BLOCK);
  for (let run = 0; run < 5; run++) {
    const renderer = new Renderer(RATE);
    renderer.setPlan(plan);
    for (const zoneId of part.zoneOrder) renderer.playZone(zoneId, 0.5);
    let sounding = 0;
    renderer.process(left, right, BLOCK);
    renderer.eachSounding(() => sounding++);
    if (sounding !== SLICES) throw new Error(`${sounding} voices sound, not ${SLICES}`);
    const blocks = Math.floor((2 * RATE) / BLOCK);
    const from = performance.now();
    for (let block = 0; block < blocks; block++) renderer.process(left, right, BLOCK);
    loads.push((performance.now() - from) / ((blocks * BLOCK * 1000) / RATE));
  }
  return `${(100 * median(loads)).toFixed(1)}% of a core`;
}

/** Prints the tables. */
export function benchEngine(): Promise<void> {
  process.stderr.write('building a project of 16 parts with 80,000 events …\n');
  const project = largeProject(16, 5000);
  const rows: [string, string][] = [
    ...editTable(project),
    ...dragTable(project),
    ...undoTable(project),
    ...saveTable(project),
    ['64 voices with a filter and two modulators each', voiceLoad(true)],
    ['64 voices with a filter and two modulators each, seven semitones up', voiceLoad(true, 700)],
    ['64 voices with a filter and two modulators each, an octave up', voiceLoad(true, 1200)],
    ['64 plain voices', voiceLoad(false)],
  ];
  process.stdout.write('| 16 parts, 80,000 events | |\n| --- | --- |\n');
  for (const [what, value] of rows) process.stdout.write(`| ${what} | ${value} |\n`);
  return Promise.resolve();
}
