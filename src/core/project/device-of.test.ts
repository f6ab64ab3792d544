import { describe, expect, it } from 'vitest';
import type { MappingTarget, ProjectDocument } from '#core/document/schema.ts';
import { mappedWords } from '#core/queries/mappings.ts';
import { macrosOf } from '#core/queries/macros.ts';
import { DEVICE_KIND } from '#core/shelf/device.ts';
import { openRecord } from '#core/shelf/record-kind.ts';
import { unwrap } from '../../../tests/support/documents.ts';
import { wayProject, type WayProject } from '../../../tests/support/on-the-way.ts';
import { addBus } from './commands/channels.ts';
import { addEffect } from './commands/effects.ts';
import { putOnMacro } from './commands/macros.ts';
import { addMapping } from './commands/mappings.ts';
import { DEVICE_VERSION, generalOf, particularOf, type DeviceHabits, type GeneralMapping } from './device-of.ts';

const DEVICE = 'box';

/** A part with a runner, a filter and, on the third dial, its level. */
function project(names: 'some' | 'others'): WayProject {
  const made = wayProject([['runner']], names === 'some' ? 8 : 4);
  const part = made.document.parts[made.partId]!;
  let document = made.document;
  // Ids of the other project are others.
  if (names === 'others') document = unwrap(addBus(document, { name: 'echo' }, made.env));
  document = unwrap(addEffect(document, { channelId: part.channelId, kind: 'filter' }, made.env));
  const level = { target: { kind: 'channel', id: part.channelId }, paramId: 'gainDb' } as const;
  document = unwrap(putOnMacro(document, { place: 2, ...level }, made.env));
  return { ...made, document };
}

/** One target of each kind there is, each on a controller of its own. */
function targetsOf({ document, partId, helperIds }: WayProject): MappingTarget[] {
  const part = document.parts[partId]!;
  const setting = (owner: string, id: string | null, paramId: string) =>
    ({ kind: 'setting', owner, id, paramId }) as MappingTarget;
  return [
    setting('song', null, 'tempoBpm'),
    setting('channel', 'main', 'gainDb'),
    setting('channel', part.channelId, 'pan'),
    setting('part', partId, 'feelPercent'),
    setting('sounds', partId, 'decayMs'),
    setting('cut', part.cutOrder[0]!, 'sensitivity'),
    setting('effect', document.channels[part.channelId]!.effectOrder[0]!, 'cutoffHz'),
    setting('helper', helperIds[0]!, 'gatePercent'),
    setting('modulator', macrosOf(document)[0]!.id, 'position'),
    { kind: 'action', does: 'deal', id: partId },
  ];
}

function withMappings(made: WayProject, targets: readonly MappingTarget[]): ProjectDocument {
  return targets.reduce(
    (document, target, number) =>
      unwrap(
        addMapping(
          document,
          { device: DEVICE, channel: null, source: { kind: 'control', number }, target, values: { from: 0.25 } },
          made.env,
        ),
      ),
    made.document,
  );
}

const chosenIn = ({ document, partId }: WayProject) => {
  const part = document.parts[partId]!;
  return { part, cutId: part.cutOrder[0]! };
};
const habitsOf = (document: ProjectDocument): GeneralMapping[] =>
  Object.values(document.mappings).flatMap((one) => generalOf(document, one) ?? []);
const record = (mappings: GeneralMapping[]): DeviceHabits => ({
  schemaVersion: DEVICE_VERSION,
  name: DEVICE,
  mappings,
});

describe('what a device moves in every project', () => {
  const [here, there] = [project('some'), project('others')];
  const habits = habitsOf(withMappings(here, targetsOf(here)));

  it('is kept and read, and moves the same in the project that it comes from', () => {
    expect(openRecord(DEVICE_KIND, JSON.parse(JSON.stringify(record(habits))))).toEqual(record(habits));
    const back = habits.map((one) => particularOf(here.document, chosenIn(here), DEVICE, one)!.target);
    // An action is done on whichever part is chosen.
    const [deal, ...settings] = targetsOf(here).reverse();
    expect(back).toEqual([...settings.reverse(), { ...deal, id: null }]);
  });

  it('keeps the name as the device says it', () => {
    const said = { ...record(habits), name: 'box 2 ' };
    expect(openRecord(DEVICE_KIND, said).name).toBe('box 2 ');
  });

  it('moves what stands in the same place of another project, over the same range', () => {
    const found = habits.map((one) => particularOf(there.document, chosenIn(there), DEVICE, one)!);
    expect(found.map(({ target }) => target)).toEqual(
      targetsOf(there).map((target) => (target.kind === 'action' ? { ...target, id: null } : target)),
    );
    expect(found.every(({ values, device }) => values.from === 0.25 && device === DEVICE)).toBe(true);
    expect(found.map(({ target }) => mappedWords(there.document, target))).toContain('dial 3');
  });

  it('moves nothing where a project has no such thing', () => {
    const plain = wayProject([]);
    const left = habits.flatMap((one) => particularOf(plain.document, chosenIn(plain), DEVICE, one) ?? []);
    expect(left).toHaveLength(7);
    const nothing = habits.flatMap(
      (one) => particularOf(plain.document, { part: null, cutId: null }, DEVICE, one) ?? [],
    );
    expect(nothing.map(({ target }) => mappedWords(plain.document, target))).toEqual([
      'tempo: the song',
      'level: the mix',
      'deal',
    ]);
  });

  it('is nothing that belongs to one project alone: a slice, a bus, a range of keys', () => {
    const { document, partId } = there;
    const bus = Object.values(document.channels).find(({ kind }) => kind === 'bus')!;
    const own = withMappings(there, [
      { kind: 'setting', owner: 'zone', id: document.parts[partId]!.zoneOrder[1]!, paramId: 'gainDb' },
      { kind: 'setting', owner: 'channel', id: bus.id, paramId: 'gainDb' },
    ]);
    const keys = { kind: 'keys', low: 0, high: 59 } as const;
    const range = { device: DEVICE, channel: null, source: keys, target: { kind: 'part', id: partId, shiftKeys: 0 } };
    expect(habitsOf(unwrap(addMapping(own, range as never, there.env)))).toEqual([]);
  });

  it.each([
    ['no name', { name: '' }, 'name'],
    ['nothing', { mappings: [] }, 'mappings'],
    [
      'a dial too far',
      { mappings: [{ ...habits[0]!, target: { kind: 'setting', owner: { of: 'dial', place: 64 }, paramId: 'x' } }] },
      'place',
    ],
    ['an unknown deed', { mappings: [{ ...habits[0]!, target: { kind: 'action', does: 'explode' } }] }, 'does'],
    ['a newer one', { schemaVersion: 9 }, 'newer version'],
  ])('is refused with %s', (_what, change, words) => {
    expect(() => openRecord(DEVICE_KIND, { ...record(habits), ...change })).toThrow(words);
  });
});
