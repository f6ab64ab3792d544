/** What an edit costs: only what it changes is compiled and sent. */
import { describe, expect, it } from 'vitest';
import { serialize } from 'node:v8';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setEvents, setPart, setSong, setZones } from '../../../../tests/support/edits.ts';
import { LiveSong } from '../../../../tests/support/playing.ts';
import { eightStepLoop, firstDifference } from '../../../../tests/support/signals.ts';
import { addSend } from '../../project/commands/channels.ts';
import { addEffect } from '../../project/commands/effects.ts';
import { moveEvents, placeEvent, removeEvents } from '../../project/commands/events.ts';
import { duplicatePart } from '../../project/commands/copy-part.ts';
import { renamePart } from '../../project/commands/parts.ts';
import { copyPattern } from '../../project/commands/patterns.ts';
import { setValue } from '../../project/commands/values.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { seededRandom } from '../../units/random.ts';
import { compilePlan, PlanCompiler } from './compile.ts';
import { splicePattern, type PlanPatch } from './fragments.ts';

const RATE = 44100;

function song() {
  const { audio, starts } = eightStepLoop();
  const made = loopProject(audio, starts);
  const counting = countingEnv();
  const env = { ...counting, newId: () => `new-${counting.newId()}` };
  const copied = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, env));
  const document = unwrap(duplicatePart(copied, { partId: made.partId }, env));
  const patternId = document.parts[made.partId]!.activePatternId;
  const compiler = new PlanCompiler();
  const inputs = { assets: made.assets };
  compiler.update(document, inputs);
  return { ...made, env, document, patternId, compiler, inputs };
}

/** What a patch holds, by counts; empty lists left out. */
function counts(patch: PlanPatch | null): Record<string, number> {
  if (!patch) return {};
  const lists = Object.entries(patch).filter(([, list]) => Array.isArray(list) && list.length > 0);
  return Object.fromEntries(lists.map(([name, list]) => [name, (list as unknown[]).length]));
}

describe('a plan in fragments', () => {
  it('is whole at first, and nothing when nothing has changed', () => {
    const { document, inputs } = song();
    const compiler = new PlanCompiler();
    expect(compiler.update(document, inputs)).toMatchObject({ isWhole: true });
    expect(compiler.update(document, inputs)).toBeNull();
  });

  it('of one edited event sends that event, of its pattern alone', () => {
    const { document, patternId, env, compiler, inputs } = song();
    const [first, second] = eventsOf(document, patternId);
    const edited = unwrap(setEvents(document, { patternId, eventIds: [second!.id], settings: { velocity: 0.5 } }, env));
    const patch = compiler.update(edited, inputs)!;
    expect(counts(patch)).toEqual({ splices: 1 });
    expect(patch.splices[0]).toMatchObject({ id: patternId, at: 1, removed: 1 });
    expect([...patch.splices[0]!.events.velocity]).toEqual([0.5]);
    const moved = unwrap(moveEvents(edited, { patternId, eventIds: [first!.id], byTicks: 600 }, env));
    // The first event is the second now: both places are others.
    expect(compiler.update(moved, inputs)!.splices[0]).toMatchObject({ at: 0, removed: 2 });
    expect(serialize(patch).length).toBeLessThan(2_000);
  });

  it.each<[string, (d: ProjectDocument, partId: string) => ProjectDocument, Record<string, number>]>([
    ['a level', (d, partId) => unwrap(setPart(d, { partId, settings: { gainDb: -3 } })), { values: 1 }],
    ['feel', (d, partId) => unwrap(setPart(d, { partId, settings: { feelPercent: 40 } })), { values: 1 }],
    ['swing of the song', (d) => unwrap(setSong(d, { swingPercent: 60 })), { values: 1 }],
    ['a name', (d, partId) => unwrap(renamePart(d, { partId, name: 'other' }, countingEnv())), {}],
  ])('of %s sends a value, or nothing, and compiles no fragment', (_what, edit, expected) => {
    const { document, partId, compiler, inputs } = song();
    const compiled = compiler.compiledCount;
    expect(counts(compiler.update(edit(document, partId), inputs))).toEqual(expected);
    expect(compiler.compiledCount).toBe(compiled);
  });

  it('of a setting of all slices sends a value for each', () => {
    const { document, partId, cutId, compiler, inputs } = song();
    const sliceIds = Object.keys(document.cuts[cutId]!.slices);
    const edited = unwrap(setZones(document, { partId, sliceIds, sound: { gainDb: -6 } }));
    expect(counts(compiler.update(edited, inputs))).toEqual({ values: 8 });
  });

  it('of a part that is taken away names what is gone', () => {
    const { document, partId, compiler, inputs } = song();
    const compiler2 = new PlanCompiler();
    compiler2.update(document, inputs);
    const part = document.parts[document.partOrder[1]!]!;
    const rest = {
      ...document,
      partOrder: [partId],
      parts: { [partId]: document.parts[partId]! },
      channels: Object.fromEntries(Object.entries(document.channels).filter(([id]) => id !== part.channelId)),
    };
    const patch = compiler.update(rest, inputs)!;
    const kinds = new Set(patch.removed.map(({ kind }) => kind));
    expect([...kinds].sort()).toEqual(['channels', 'parts', 'patterns', 'zones']);
  });

  it('sends an effect and a send of a channel as that channel alone', () => {
    const { document, partId, env, compiler, inputs } = song();
    const [a, b] = document.partOrder.map((id) => document.parts[id]!.channelId);
    const filtered = unwrap(addEffect(document, { channelId: a!, kind: 'filter' }, env));
    expect(counts(compiler.update(filtered, inputs))).toEqual({ channels: 1 });
    const sent = unwrap(addSend(filtered, { fromChannelId: a!, toChannelId: b! }, env));
    const patch = compiler.update(sent, inputs)!;
    expect(counts(patch)).toEqual({ channels: 1 });
    const [send] = patch.channels[0]!.sends;
    expect(send!.toChannelId).toBe(b);
    const owners = [{ kind: 'send', id: send!.id }] as const;
    const turned = unwrap(setValue(sent, { owners, param: 'gainDb', change: { to: -6 } }, env));
    expect(compiler.update(turned, inputs)!.values).toEqual([{ kind: 'send', id: send!.id, slot: 0, value: -6 }]);
    expect(document.parts[partId]!.channelId).toBe(a);
  });

  it('stays the same however it was come by: 60 random edits in patches against a plan from scratch', () => {
    const { document: made, patternId, env, assets } = song();
    const random = seededRandom(20);
    const zoneIds = Object.keys(made.zones).filter((id) => made.zones[id]!.partId === made.patterns[patternId]!.partId);
    let document = made;
    const compiler = new PlanCompiler();
    const pattern = () => compiler.update(document, { assets });
    let live = pattern()!.patterns.find(({ id }) => id === patternId)!;
    for (let step = 0; step < 60; step++) {
      const ids = eventsOf(document, patternId).map(({ id }) => id);
      const some = ids.filter(() => random() < 0.3);
      const kind = Math.floor(random() * 4);
      if (kind === 0 || some.length === 0) {
        const zoneId = zoneIds[Math.floor(random() * zoneIds.length)]!;
        const positionTicks = Math.floor(random() * 3800);
        document = unwrap(placeEvent(document, { patternId, zoneId, positionTicks, lengthTicks: 100 }, env));
      } else if (kind === 1) {
        document = unwrap(
          moveEvents(document, { patternId, eventIds: some, byTicks: Math.floor(random() * 500) - 250 }, env),
        );
      } else if (kind === 2) {
        const repeats = 1 + Math.floor(random() * 3);
        document = unwrap(setEvents(document, { patternId, eventIds: some, settings: { repeats } }, env));
      } else if (ids.length > 3)
        document = unwrap(removeEvents(document, { patternId, eventIds: some.slice(0, 2) }, env));
      for (const splice of pattern()?.splices ?? []) if (splice.id === patternId) live = splicePattern(live, splice);
      const fresh = compilePlan(document, RATE, { assets }).patch.patterns.find(({ id }) => id === patternId)!;
      const named = (fragment: typeof fresh) => [...fragment.events.zone].map((place) => fragment.zoneIds[place]);
      expect(named(live)).toEqual(named(fresh));
      for (const column of ['positionTicks', 'lengthTicks', 'velocity', 'flags', 'seed'] as const) {
        expect([...live.events[column]]).toEqual([...fresh.events[column]]);
      }
    }
  });

  it('sounds the same after many edits in patches as one that was compiled at once', () => {
    const { document: made, partId, cutId, assets, env, patternId } = song();
    const sliceIds = Object.keys(made.cuts[cutId]!.slices);
    const edited = new LiveSong(made, assets);
    let document = made;
    const edits: ((d: ProjectDocument) => ProjectDocument)[] = [
      (d) => unwrap(setZones(d, { partId, sliceIds: sliceIds.slice(2, 5), sound: { tuneCents: 300, pan: -0.4 } })),
      (d) => unwrap(setPart(d, { partId, settings: { gainDb: -4, oneAtATime: false, feelPercent: 50 } })),
      (d) =>
        unwrap(setEvents(d, { patternId, eventIds: [eventsOf(d, patternId)[3]!.id], settings: { repeats: 3 } }, env)),
      (d) => unwrap(addEffect(d, { channelId: d.parts[partId]!.channelId, kind: 'filter' }, env)),
      (d) => unwrap(setSong(d, { tempoBpm: 111, swingPercent: 58 })),
    ];
    for (const edit of edits) edited.edit((document = edit(document)));
    const fresh = new LiveSong(document, assets);
    // Levels that were turned arrive within 256 frames.
    edited.next(1_000);
    fresh.next(1_000);
    edited.renderer.play();
    fresh.renderer.play();
    expect(firstDifference(edited.next(2 * RATE), fresh.next(2 * RATE))).toBe(-1);
  });
});
