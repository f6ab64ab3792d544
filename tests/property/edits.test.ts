/** Random edits in random order: whatever is done, slices stay inside their source, ordered, and all can be undone. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addMarker, moveMarker, recut, removeSlices } from '#core/project/commands/cut.ts';
import { lockSlices, mergeSlices, setSliceEnds } from '#core/project/commands/slices.ts';
import type { CommandResult } from '#core/project/commands/command.ts';
import { addBus, addSend, leadTo, removeBus } from '#core/project/commands/channels.ts';
import {
  addEffect,
  copyEffect,
  listenTo,
  moveEffect,
  putChain,
  removeEffect,
  removePath,
} from '#core/project/commands/effects.ts';
import { chainOf } from '#core/project/chain-of.ts';
import { deal } from '#core/project/commands/deal.ts';
import { breedHands, takeHand } from '#core/project/commands/hands.ts';
import { addKit, replaceByKit } from '#core/project/commands/kits.ts';
import { addModulator, setRoute } from '#core/project/commands/modulators.ts';
import { moveEvents, removeEvents, resizeEvents } from '#core/project/commands/events.ts';
import { duplicatePart } from '#core/project/commands/copy-part.ts';
import { removeCut, removePart } from '#core/project/commands/parts.ts';
import { copyPattern, setPatternLength } from '#core/project/commands/patterns.ts';
import { laySwitch } from '#core/project/commands/switches.ts';
import { keepTreatment, putTreatmentOn, removeTreatment } from '#core/project/commands/treatments.ts';
import { copyZone, takeOffKeys } from '#core/project/commands/zones.ts';
import { kitOf } from '#core/project/kit-of.ts';
import { EFFECT_KINDS } from '#core/params/effects.ts';
import { applyDiff, diff, invert } from '#core/document/diff.ts';
import { EMPTY_HISTORY, record, undo } from '#core/document/history.ts';
import { FOLLOWS } from '#core/params/choices.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument } from '#core/document/validate.ts';
import { loopProject } from '../support/documents.ts';
import { eightStepLoop } from '../support/signals.ts';
import { setPart, slicesOfPart, homeOf } from '../support/edits.ts';

const FRAMES = 88_200;
const facts = { role: 'kick' as const, roleConfidence: 1, brightnessHz: 200, midi: null, cents: null };
const anyFrame = fc.integer({ min: -1000, max: FRAMES + 1000 });
const edit = fc.oneof(
  fc.record({ kind: fc.constant('add' as const), frame: anyFrame }),
  fc.record({ kind: fc.constant('move' as const), at: fc.nat(30), frame: anyFrame }),
  fc.record({ kind: fc.constant('remove' as const), at: fc.nat(30) }),
  fc.record({ kind: fc.constant('lock' as const), at: fc.nat(30), locked: fc.boolean() }),
  fc.record({
    kind: fc.constant('recut' as const),
    frames: fc.array(fc.integer({ min: 0, max: FRAMES - 1 }), { maxLength: 20 }),
  }),
  fc.record({ kind: fc.constant('copy' as const) }),
  fc.record({ kind: fc.constant('deal' as const), reachPercent: fc.integer({ min: 0, max: 100 }) }),
  fc.record({ kind: fc.constant('shift' as const), at: fc.nat(30), byTicks: fc.integer({ min: -5000, max: 5000 }) }),
  fc.record({ kind: fc.constant('resize' as const), at: fc.nat(30), lengthTicks: fc.integer({ min: -10, max: 9000 }) }),
  fc.record({ kind: fc.constant('drop' as const), at: fc.nat(30) }),
  fc.record({ kind: fc.constant('end' as const), at: fc.nat(30), frame: fc.option(anyFrame) }),
  fc.record({ kind: fc.constant('merge' as const), at: fc.nat(30) }),
  fc.record({ kind: fc.constant('length' as const), lengthTicks: fc.integer({ min: -100, max: 9000 }) }),
  fc.record({ kind: fc.constant('double' as const) }),
  fc.record({ kind: fc.constant('take hand' as const), at: fc.nat(10) }),
  fc.record({ kind: fc.constant('breed' as const), at: fc.nat(10) }),
  fc.record({ kind: fc.constant('keep treatment' as const) }),
  fc.record({ kind: fc.constant('put treatment on' as const), at: fc.nat(3) }),
  fc.record({ kind: fc.constant('give treatment up' as const), at: fc.nat(3) }),
  fc.record({
    kind: fc.constant('switch' as const),
    at: fc.nat(30),
    key: fc.nat(127),
    does: fc.constantFrom('pattern' as const, 'treatment' as const, 'mute' as const, 'rest' as const, 'deal' as const),
  }),
  fc.record({ kind: fc.constant('add kit' as const) }),
  fc.record({ kind: fc.constant('replace by kit' as const) }),
  fc.record({ kind: fc.constant('take out of part' as const) }),
  fc.record({ kind: fc.constant('send' as const), at: fc.nat(4), to: fc.nat(4) }),
  fc.record({ kind: fc.constant('bus' as const) }),
  fc.record({ kind: fc.constant('lead' as const), at: fc.nat(4), to: fc.nat(4) }),
  fc.record({ kind: fc.constant('no bus' as const), at: fc.nat(4) }),
  fc.record({ kind: fc.constant('move channel' as const), at: fc.nat(4) }),
  fc.record({ kind: fc.constant('move rate' as const), at: fc.nat(4), to: fc.nat(4) }),
  fc.record({ kind: fc.constant('effect' as const), at: fc.nat(20) }),
  fc.record({
    kind: fc.constantFrom(
      'move effect',
      'into path',
      'no path',
      'copy effect',
      'take effect out',
      'listen',
      'put chain',
    ),
    at: fc.nat(6),
    to: fc.nat(6),
  }),
  fc.record({ kind: fc.constant('copy zone' as const), at: fc.nat(30), key: fc.nat(127) }),
  fc.record({ kind: fc.constant('off keys' as const), at: fc.nat(30) }),
  fc.record({ kind: fc.constant('modulate' as const), at: fc.nat(30) }),
  fc.record({ kind: fc.constant('forget part' as const), at: fc.nat(3) }),
  fc.record({
    kind: fc.constant('time' as const),
    settings: fc.record(
      {
        follow: fc.constantFrom(...FOLLOWS.map(({ value }) => value)),
        transposeCents: fc.integer({ min: -6000, max: 6000 }),
        feelPercent: fc.integer({ min: -20, max: 120 }),
        startOffsetTicks: fc.integer({ min: -70_000, max: 70_000 }),
      },
      { requiredKeys: [] },
    ),
  }),
);
type Edit = typeof edit extends fc.Arbitrary<infer T> ? T : never;

const base = () => {
  const { audio, starts } = eightStepLoop();
  return loopProject(audio, starts);
};

function apply(
  document: ProjectDocument,
  partId: string,
  env: ReturnType<typeof base>['env'],
  change: Edit,
): CommandResult {
  const part = document.parts[partId]!;
  const [cutId] = part.cutOrder as [string];
  const placed = slicesOfPart(document, part);
  const sliceAt = (at: number) => placed[at % placed.length]!.slice.id;
  const patternId = part.activePatternId;
  const eventIds = Object.keys(document.patterns[patternId]?.events ?? {});
  const eventAt = (at: number) => eventIds[at % Math.max(1, eventIds.length)] ?? 'none';
  const handAt = (at: number) => {
    const order = document.patterns[patternId]?.handOrder ?? [];
    return order[at % Math.max(1, order.length)] ?? 'none';
  };
  const treatmentAt = (at: number) => part.treatments?.[at % part.treatments.length]?.id ?? 'none';
  const zoneAt = (at: number) => part.zoneOrder[at % part.zoneOrder.length]!;
  const channelIds = Object.keys(document.channels);
  const channelAt = (at: number) => channelIds[at % channelIds.length]!;
  const effectIds = Object.keys(document.effects);
  const effectAt = (at: number) => effectIds[at % Math.max(1, effectIds.length)] ?? 'none';
  switch (change.kind) {
    case 'add':
      return addMarker(document, { cutId, slice: { startFrame: change.frame, strength: 1, ...facts } }, env);
    case 'move':
      return moveMarker(document, { cutId, sliceId: sliceAt(change.at), startFrame: change.frame }, env);
    case 'remove':
      return removeSlices(document, { cutId, sliceIds: [sliceAt(change.at)] }, env);
    case 'lock':
      return lockSlices(document, { cutId, sliceIds: [sliceAt(change.at)], locked: change.locked }, env);
    case 'recut': {
      const frames = [...new Set(change.frames)].sort((a, b) => a - b);
      return recut(
        document,
        { cutId, settings: {}, slices: frames.map((startFrame) => ({ startFrame, strength: 1, ...facts })) },
        env,
      );
    }
    case 'copy':
      return copyPattern(document, { partId, patternId: homeOf(document, partId) }, env);
    case 'deal':
      return deal(document, { partId, reachPercent: change.reachPercent }, env);
    case 'shift':
      return moveEvents(document, { patternId, eventIds: [eventAt(change.at)], byTicks: change.byTicks }, env);
    case 'resize':
      return resizeEvents(
        document,
        { patternId, eventIds: [eventAt(change.at)], lengthTicks: change.lengthTicks },
        env,
      );
    case 'end':
      return setSliceEnds(document, { cutId, ends: { [sliceAt(change.at)]: change.frame } }, env);
    case 'merge':
      return mergeSlices(document, { cutId, sliceIds: [sliceAt(change.at), sliceAt(change.at + 1)] }, env);
    case 'length':
      return setPatternLength(document, { patternId, lengthTicks: change.lengthTicks }, env);
    case 'double':
      return duplicatePart(document, { partId }, env);
    case 'time':
      return setPart(document, { partId, settings: change.settings }, env);
    case 'take hand':
      return takeHand(document, { patternId, handId: handAt(change.at) }, env);
    case 'breed':
      return breedHands(document, { patternId, handId: handAt(change.at), otherId: handAt(change.at + 1) }, env);
    case 'keep treatment':
      return keepTreatment(document, { partId }, env);
    case 'put treatment on':
      return putTreatmentOn(document, { partId, treatmentId: treatmentAt(change.at) }, env);
    case 'give treatment up':
      return removeTreatment(document, { partId, treatmentId: treatmentAt(change.at) }, env);
    case 'switch':
      return laySwitch(
        document,
        {
          partId,
          key: change.key,
          does: change.does,
          patternId: change.does === 'pattern' ? patternId : null,
          treatmentId: treatmentAt(change.at),
          zoneId: zoneAt(change.at),
          whileHeld: false,
        },
        env,
      );
    case 'add kit':
      return addKit(document, { kit: kitOf(document, part, 'kit') }, env);
    case 'replace by kit':
      return replaceByKit(document, { partId, kit: kitOf(document, part, 'kit') }, env);
    case 'take out of part':
      return removeCut(document, { cutId }, env);
    case 'send':
      return addSend(document, { fromChannelId: channelAt(change.at), toChannelId: channelAt(change.to) }, env);
    case 'bus':
      return addBus(document, { name: 'bus' }, env);
    case 'lead':
      return leadTo(document, { channelId: channelAt(change.at), outputId: channelAt(change.to) }, env);
    case 'no bus':
      return removeBus(document, { channelId: channelAt(change.at) }, env);
    case 'effect':
      return addEffect(
        document,
        { channelId: part.channelId, kind: EFFECT_KINDS[change.at % EFFECT_KINDS.length]! },
        env,
      );
    case 'move effect':
      return moveEffect(document, { effectId: effectAt(change.at), place: change.to }, env);
    case 'into path': {
      const forkId = Object.values(document.effects).find(({ kind }) => kind === 'paths')?.id;
      return moveEffect(
        document,
        { effectId: effectAt(change.at), ...(forkId && { forkId }), path: change.to % 5 },
        env,
      );
    }
    case 'no path':
      return removePath(document, { forkId: effectAt(change.at), path: change.to % 3 }, env);
    case 'copy effect':
      return copyEffect(document, { effectId: effectAt(change.at) }, env);
    case 'take effect out':
      return removeEffect(document, { effectId: effectAt(change.at) }, env);
    case 'listen':
      return listenTo(document, { effectId: effectAt(change.at), sideChannelId: channelAt(change.to) }, env);
    case 'put chain': {
      const from = document.channels[channelAt(change.at)]!;
      return putChain(document, { channelId: channelAt(change.to), chain: chainOf(document, from, 'chain') }, env);
    }
    case 'copy zone':
      return copyZone(
        document,
        { zoneId: zoneAt(change.at), keys: { low: change.key, high: change.key, root: change.key } },
        env,
      );
    case 'off keys':
      return takeOffKeys(document, { zoneIds: [zoneAt(change.at)] }, env);
    case 'modulate':
      return addModulator(document, { ownerId: zoneAt(change.at), kind: 'lfo', paramId: 'pan', amount: 0.5 }, env);
    case 'move channel': {
      const target = { kind: 'channel' as const, id: channelAt(change.at) };
      return addModulator(document, { ownerId: partId, kind: 'envelope', target, paramId: 'gainDb', amount: -1 }, env);
    }
    case 'move rate': {
      const ids = Object.keys(document.modulators);
      const at = (place: number) => ids[place % Math.max(1, ids.length)] ?? 'none';
      const target = { kind: 'modulator' as const, id: at(change.to) };
      return setRoute(document, { modulatorId: at(change.at), target, paramId: 'rateHz', amount: 0.5 }, env);
    }
    case 'forget part': {
      const others = document.partOrder.filter((id) => id !== partId);
      return removePart(document, { partId: others[change.at % Math.max(1, others.length)] ?? 'none' }, env);
    }
    case 'drop':
      return removeEvents(document, { patternId, eventIds: [eventAt(change.at)] }, env);
  }
}

describe('any edits', () => {
  it('leave a valid document, with slices inside the source and in order, and undo leads all the way back', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 25 }), (edits) => {
        const { document: first, partId, env } = base();
        let document = first;
        let history = EMPTY_HISTORY;
        for (const change of edits) {
          const result = apply(document, partId, env, change);
          if (!result.ok) {
            expect(result.reason.length).toBeGreaterThan(5);
            continue;
          }
          history = record(history, change.kind, document, result.document);
          document = result.document;
          const placed = slicesOfPart(document, document.parts[partId]!);
          expect(placed.length).toBeGreaterThan(0);
          placed.forEach((at, index) => {
            expect(at.startFrame).toBeGreaterThanOrEqual(0);
            expect(at.endFrame).toBeLessThanOrEqual(FRAMES);
            expect(at.endFrame).toBeGreaterThan(at.startFrame);
            if (index > 0) expect(at.startFrame).toBeGreaterThan(placed[index - 1]!.startFrame);
          });
          expect(() => openDocument(JSON.parse(JSON.stringify(document)))).not.toThrow();
        }
        for (let step = undo(history, document); step; step = undo(history, document)) ({ history, document } = step);
        expect(document).toEqual(first);
      }),
      {
        numRuns: 120,
        // What a hand was put together from has changed under it.
        examples: [
          [
            [
              { kind: 'deal', reachPercent: 0 },
              { kind: 'merge', at: 0 },
              { kind: 'deal', reachPercent: 0 },
            ],
          ],
        ],
      },
    );
  });
});

describe('diffs', () => {
  const json = fc.dictionary(
    fc.string({ minLength: 1, maxLength: 3 }).filter((key) => key !== '__proto__'),
    fc.oneof(
      fc.integer(),
      fc.string({ maxLength: 3 }),
      fc.array(fc.integer(), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.integer()),
    ),
    { maxKeys: 5 },
  );
  it('lead from one document to the other and back', () => {
    fc.assert(
      fc.property(json, json, (a, b) => {
        const changes = diff(a, b);
        expect(applyDiff(a, changes)).toEqual(b);
        expect(applyDiff(b, invert(changes))).toEqual(a);
      }),
    );
  });
});
