/** Documents that must not come in: each would hang the page, silence the song or hide what is there. */
import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { AppError } from '../units/errors.ts';
import { addSend } from '../project/commands/channels.ts';
import { addEffect } from '../project/commands/effects.ts';
import { deal } from '../project/commands/deal.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import type { ProjectDocument } from './schema.ts';
import { brokenRule, openDocument, problemOfChange } from './validate.ts';

function made() {
  const { audio, starts } = eightStepLoop();
  const { document, partId, cutId, env } = loopProject(audio, starts);
  const dealt = unwrap(deal(document, { partId, reachPercent: 100, seed: 3 }, env));
  const document2 = unwrap(addEffect(dealt, { channelId: dealt.parts[partId]!.channelId, kind: 'filter' }, env));
  return { document: document2, partId, cutId, patternId: document2.parts[partId]!.activePatternId, env };
}

type Json = Record<string, unknown>;
/** The document with the record at a path changed. */
function changed(document: ProjectDocument, path: readonly string[], change: (record: Json) => void): ProjectDocument {
  const copy = structuredClone(document) as unknown as Json;
  change(path.reduce((record, key) => record[key] as Json, copy));
  return copy as unknown as ProjectDocument;
}

/** A key under the first record of a table there. */
function renamed(record: Json, to: string): void {
  const [first] = Object.keys(record);
  const value = record[first!] as Json;
  delete record[first!];
  // An own key, also for names that every object inherits.
  Object.defineProperty(record, to, { value: { ...value, id: to }, enumerable: true, configurable: true });
}

describe('a document from outside', () => {
  it('that is sound comes in', () => {
    const { document } = made();
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
    expect(problemOfChange(document, { ...document, name: 'other' })).toBeNull();
  });

  const numbers: [what: string, path: (m: ReturnType<typeof made>) => string[], key: string, values: unknown[]][] = [
    ['pattern length', (m) => ['patterns', m.patternId], 'lengthTicks', [1e300, 1e-300, 0, -1, null, 'long']],
    ['loop start', (m) => ['cuts', m.cutId, 'loop'], 'startFrame', [-1, 0.5, 1e300]],
    ['loop bars', (m) => ['cuts', m.cutId, 'loop'], 'bars', [0, 1e9, 1.5]],
    ['bar line', (m) => ['cuts', m.cutId, 'loop'], 'barFrames', [[], [500], [-1], [0.5], 'even', { 0: 500 }]],
    ['frames of a source', () => ['sources', 'source-a'], 'frames', [0, -5, 1e300, 0.1]],
    ['rate of a source', () => ['sources', 'source-a'], 'sampleRate', [0, 1, 999, 1e300]],
    ['tempo', () => ['song', 'values'], 'tempoBpm', [0, -1, 1e300, 'fast']],
    ['step of a grid', (m) => ['cuts', m.cutId, 'values'], 'stepTicks', [1e-300, 0, 1e300]],
    ['a level', (m) => ['parts', m.partId, 'values'], 'stopFadeMs', [1e300, -1]],
    ['an unknown setting', (m) => ['parts', m.partId, 'values'], 'sparkle', [1]],
  ];
  it.each(numbers)('with an insane %s is refused, whole or as a change', (_what, path, key, values) => {
    const m = made();
    for (const value of values) {
      const bad = changed(m.document, path(m), (record) => (record[key] = value));
      expect(() => openDocument(bad)).toThrow(AppError);
      expect(problemOfChange(m.document, bad)).not.toBeNull();
    }
  });

  it('with events beyond all sense is refused', () => {
    const m = made();
    const [eventId] = Object.keys(m.document.patterns[m.patternId]!.events);
    for (const [key, value] of [
      ['positionTicks', 1e300],
      ['positionTicks', -1],
      ['lengthTicks', 0],
      ['lengthTicks', 1e300],
    ] as const) {
      const bad = changed(m.document, ['patterns', m.patternId, 'events', eventId!], (event) => (event[key] = value));
      expect(() => openDocument(bad)).toThrow(AppError);
      expect(problemOfChange(m.document, bad)).not.toBeNull();
    }
  });

  it.each(['constructor', 'toString', 'hasOwnProperty', 'a b', '../x', ''])(
    'with the id "%s" anywhere is refused',
    (id) => {
      const m = made();
      const tables = [['sources'], ['parts'], ['zones'], ['patterns'], ['cuts', m.cutId, 'slices']];
      for (const path of [...tables, ['patterns', m.patternId, 'hands'], ['patterns', m.patternId, 'events']]) {
        const bad = changed(m.document, path, (table) => renamed(table, id));
        expect(() => openDocument(bad)).toThrow(AppError);
        expect(problemOfChange(m.document, bad)).not.toBeNull();
      }
    },
  );

  it('that names what every object has, and nobody has put there, is refused', () => {
    const m = made();
    for (const id of ['constructor', 'toString', 'valueOf']) {
      const cases: [string[], string, unknown][] = [
        [['parts', m.partId], 'activePatternId', id],
        [['parts', m.partId], 'channelId', id],
        [['patterns', m.patternId], 'handId', id],
        [['cuts', m.cutId], 'sourceId', id],
      ];
      for (const [path, key, value] of cases) {
        const bad = changed(m.document, path, (record) => (record[key] = value));
        expect(() => openDocument(bad)).toThrow(AppError);
        expect(problemOfChange(m.document, bad)).not.toBeNull();
      }
    }
  });

  it('whose records stand under other keys than their ids is refused', () => {
    const m = made();
    for (const path of [
      ['sources'],
      ['cuts'],
      ['zones'],
      ['channels'],
      ['effects'],
      ['patterns'],
      ['cuts', m.cutId, 'slices'],
      ['patterns', m.patternId, 'events'],
      ['patterns', m.patternId, 'hands'],
    ]) {
      const bad = changed(m.document, path, (table) => {
        const [first] = Object.keys(table);
        (table[first!] as Json).id = 'another';
      });
      expect(brokenRule(bad) ?? problemOfChange(m.document, bad)).not.toBeNull();
      expect(() => openDocument(bad)).toThrow(AppError);
      expect(problemOfChange(m.document, bad)).not.toBeNull();
    }
  });

  it('with a hand that plays a zone that is not there, or slices beyond the sound, is refused', () => {
    const m = made();
    const { hands, handId } = m.document.patterns[m.patternId]!;
    const [eventId] = Object.keys(hands[handId!]!.differs);
    const cases: [string[], string, unknown][] = [
      [['patterns', m.patternId, 'hands', handId!, 'differs', eventId!], 'zoneId', 'nowhere'],
      [['cuts', m.cutId, 'slices', Object.keys(m.document.cuts[m.cutId]!.slices)[7]!], 'startFrame', 90_000],
      [['cuts', m.cutId, 'slices', Object.keys(m.document.cuts[m.cutId]!.slices)[7]!], 'endFrame', 90_000],
      [['sources', 'source-a'], 'frames', 40_000],
      [['zones', Object.keys(m.document.zones)[0]!, 'plays'], 'sliceId', 'nowhere'],
    ];
    for (const [path, key, value] of cases) {
      const bad = changed(m.document, path, (record) => (record[key] = value));
      expect(() => openDocument(bad)).toThrow(AppError);
      expect(problemOfChange(m.document, bad)).not.toBeNull();
    }
  });

  it('whose channels send in a circle is refused', () => {
    const { document, partId, env } = made();
    const two = unwrap(duplicatePart(document, { partId }, env));
    const [a, b] = two.partOrder.map((id) => two.parts[id]!.channelId);
    const there = unwrap(addSend(two, { fromChannelId: a!, toChannelId: b! }, env));
    const send = { id: 'back', fromChannelId: b!, toChannelId: a!, values: {} };
    const back = { ...there, sends: { ...there.sends, back: send } };
    expect(problemOfChange(there, back)).toContain('would lead back');
    expect(() => openDocument(back)).toThrow('would lead back');
  });

  it('whose effect listens to a channel that hears it is refused', () => {
    const { document, partId, env } = made();
    const two = unwrap(duplicatePart(document, { partId }, env));
    const [a, b] = two.partOrder.map((id) => two.parts[id]!.channelId);
    const sends = unwrap(addSend(two, { fromChannelId: a!, toChannelId: b! }, env));
    const [effectId] = two.channels[a!]!.effectOrder;
    const ring = changed(sends, ['effects', effectId!], (effect) => (effect.sideChannelId = b));
    expect(problemOfChange(sends, ring)).toContain('would lead back');
    const own = changed(sends, ['effects', effectId!], (effect) => (effect.sideChannelId = a));
    expect(problemOfChange(sends, own)).toBeNull();
    expect(addSend(sends, { fromChannelId: b!, toChannelId: a! }, env)).toMatchObject({ ok: false });
    expect(addSend(sends, { fromChannelId: a!, toChannelId: a! }, env)).toMatchObject({ ok: false });
  });

  it('with a chain of buses as long as it may be is looked through, a longer one refused', () => {
    const { document } = made();
    const chain = { ...document.channels };
    const bus = (n: number, outputId: string | null) => ({
      id: `chain-${n}`,
      kind: 'bus' as const,
      outputId,
      values: {},
      effectOrder: [],
    });
    for (let n = 0; n < 590; n++) chain[`chain-${n}`] = bus(n, n < 589 ? `chain-${n + 1}` : null);
    expect(problemOfChange(document, { ...document, channels: chain })).toBeNull();
    const closed = { ...chain, 'chain-589': bus(589, 'chain-0') };
    expect(problemOfChange(document, { ...document, channels: closed })).toContain('lead back');
    const many = { ...chain };
    for (let n = 590; n < 8000; n++) many[`chain-${n}`] = bus(n, null);
    expect(problemOfChange(document, { ...document, channels: many })).toContain('600 channels');
  });

  it.each([
    ['events', (m: ReturnType<typeof made>) => ['patterns', m.patternId], 'events'],
    ['hands', (m: ReturnType<typeof made>) => ['patterns', m.patternId], 'hands'],
    ['ground', (m: ReturnType<typeof made>) => ['patterns', m.patternId], 'ground'],
    [
      'what differs in a hand',
      (m: ReturnType<typeof made>) => [
        'patterns',
        m.patternId,
        'hands',
        m.document.patterns[m.patternId]!.handOrder[0]!,
      ],
      'differs',
    ],
    ['slices', (m: ReturnType<typeof made>) => ['cuts', m.cutId], 'slices'],
    ['values', () => ['song'], 'values'],
    ['zones', () => [], 'zones'],
    ['sources', () => [], 'sources'],
  ] as const)('with a list in place of %s is refused, whole or as a change', (_what, path, key) => {
    const m = made();
    const bad = changed(m.document, path(m), (record) => (record[key] = []));
    expect(problemOfChange(m.document, bad)).not.toBeNull();
    expect(() => openDocument(bad)).toThrow(AppError);
  });
});
