import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setEvents } from '../../../../tests/support/edits.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { orderedEvents } from '../../queries/patterns.ts';
import { isHome } from '../../document/home-id.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { brokenRule } from '../../document/validate.ts';
import { deal } from './deal.ts';
import { moveEvents, placeEvent, removeEvents, resizeEvents } from './events.ts';
import { takeHand } from './hands.ts';
import { choosePattern, copyPattern, createPattern, movePattern, removePattern, renamePattern } from './patterns.ts';

function project() {
  const { audio, starts } = eightStepLoop();
  return loopProject(audio, starts);
}

describe('patterns', () => {
  function withCopy() {
    const made = project();
    const document = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, made.env));
    const patternId = document.parts[made.partId]!.activePatternId;
    return {
      ...made,
      document,
      patternId,
      ids: orderedEvents(document.patterns[patternId]!.events).map((event) => event.id),
    };
  }

  it('leave the home pattern alone', () => {
    const { document, env, home } = project();
    const result = setEvents(document, { patternId: home, eventIds: ['x'], settings: { velocity: 0.5 } }, env);
    expect(result).toEqual({ ok: false, reason: 'the home pattern stays as it is: copy it to change it' });
  });

  it('place, move, lengthen, repeat, reverse and remove strips', () => {
    const { document, env, patternId, ids } = withCopy();
    const zoneId = Object.keys(document.zones)[0]!;
    let current = unwrap(placeEvent(document, { patternId, zoneId, positionTicks: 3600, lengthTicks: 9999 }, env));
    const added = orderedEvents(current.patterns[patternId]!.events).at(-1)!;
    expect(added).toMatchObject({ positionTicks: 3600, lengthTicks: 240 });
    current = unwrap(moveEvents(current, { patternId, eventIds: [ids[0]!, ids[1]!], byTicks: -500 }, env));
    expect(current.patterns[patternId]!.events[ids[1]!]!.positionTicks).toBe(480);
    current = unwrap(moveEvents(current, { patternId, eventIds: [ids[0]!, ids[1]!], byTicks: 99_999 }, env));
    expect(current.patterns[patternId]!.events[ids[1]!]!.positionTicks).toBeLessThan(3840);
    current = unwrap(resizeEvents(current, { patternId, eventIds: [ids[2]!], lengthTicks: 120 }, env));
    current = unwrap(
      setEvents(
        current,
        { patternId, eventIds: [ids[2]!], settings: { repeats: 4, reverse: true, velocity: 0.5 } },
        env,
      ),
    );
    expect(current.patterns[patternId]!.events[ids[2]!]).toMatchObject({
      lengthTicks: 120,
      values: { repeats: 4, reverse: true, velocity: 0.5 },
    });
    expect(setEvents(current, { patternId, eventIds: [ids[2]!], settings: { repeats: 33 } }, env).ok).toBe(false);
    expect(setEvents(current, { patternId, eventIds: [ids[2]!], settings: { velocity: 2 } }, env).ok).toBe(false);
    current = unwrap(removeEvents(current, { patternId, eventIds: [ids[2]!] }, env));
    expect(current.patterns[patternId]!.events[ids[2]!]).toBeUndefined();
    expect(brokenRule(current)).toBeNull();
  });

  it('are made, named, chosen and removed', () => {
    const { document, env, partId, home } = project();
    let current = unwrap(createPattern(document, { partId }, env));
    const patternId = current.parts[partId]!.activePatternId;
    current = unwrap(renamePattern(current, { patternId, name: '  fill ' }, env));
    expect(current.patterns[patternId]).toMatchObject({ name: 'fill', events: {}, lengthTicks: 3840 });
    expect(renamePattern(current, { patternId, name: ' ' }, env).ok).toBe(false);
    current = unwrap(choosePattern(current, { partId, patternId: home }, env));
    expect(current.parts[partId]!.activePatternId).toBe(home);
    current = unwrap(removePattern(current, { patternId }, env));
    expect(current.parts[partId]!.patternOrder).toEqual([]);
    expect(removePattern(current, { patternId: home }, env).ok).toBe(false);
  });

  it('are moved among those of their part, as far as there is room', () => {
    const { document, env, partId, home } = project();
    let current = document;
    for (let made = 0; made < 3; made++) current = unwrap(createPattern(current, { partId }, env));
    const [a, b, c] = current.parts[partId]!.patternOrder as [string, string, string];
    current = unwrap(movePattern(current, { patternId: c, by: -2 }, env));
    expect(current.parts[partId]!.patternOrder).toEqual([c, a, b]);
    current = unwrap(movePattern(current, { patternId: a, by: 9 }, env));
    expect(current.parts[partId]!.patternOrder).toEqual([c, b, a]);
    expect(unwrap(movePattern(current, { patternId: a, by: 1 }, env)).parts[partId]!.patternOrder).toEqual([c, b, a]);
    expect(movePattern(current, { patternId: home, by: 1 }, env).ok).toBe(false);
    expect(brokenRule(current)).toBeNull();
  });

  it('are dealt from a seed, and every hand stays reachable with its edits', () => {
    const { document, env, partId, patternId, ids } = withCopy();
    const dealt = unwrap(deal(document, { partId, reachPercent: 100, seed: 7 }, env));
    const table = (d: ProjectDocument) => orderedEvents(d.patterns[patternId]!.events).map((event) => event.zoneId);
    expect(table(dealt)).not.toEqual(table(document));
    const edited = unwrap(setEvents(dealt, { patternId, eventIds: [ids[0]!], settings: { velocity: 0.25 } }, env));
    const again = unwrap(deal(edited, { partId, reachPercent: 100 }, env));
    const { handOrder } = again.patterns[patternId]!;
    expect(handOrder).toHaveLength(3);
    const back = unwrap(takeHand(again, { patternId, handId: handOrder[1]! }, env));
    expect(back.patterns[patternId]!.events[ids[0]!]!.values.velocity).toBe(0.25);
    expect(table(unwrap(takeHand(back, { patternId, handId: handOrder[0]! }, env)))).toEqual(table(document));
    const from = handOrder[0]!;
    const repeated = unwrap(deal(again, { partId, reachPercent: 100, seed: 7, fromHandId: from }, env));
    expect(table(repeated)).toEqual(table(dealt));
    expect(brokenRule(repeated)).toBeNull();
  });

  it('are copied from home before they are dealt, and held steps stay', () => {
    const { document, env, partId, patternId, ids } = withCopy();
    const held = unwrap(setEvents(document, { patternId, eventIds: ids.slice(0, 4), settings: { hold: true } }, env));
    const before = ids.slice(0, 4).map((id) => held.patterns[patternId]!.events[id]!.zoneId);
    const dealt = unwrap(deal(held, { partId, reachPercent: 100 }, env));
    expect(ids.slice(0, 4).map((id) => dealt.patterns[patternId]!.events[id]!.zoneId)).toEqual(before);
    const fresh = project();
    const fromHome = unwrap(deal(fresh.document, { partId: fresh.partId, reachPercent: 50 }, fresh.env));
    expect(isHome(fromHome.parts[fresh.partId]!.activePatternId)).toBe(false);
  });
});

describe('a part full of patterns', () => {
  it('takes 512 of them, and says so at the next', () => {
    const { document, partId, env } = loopProject(eightStepLoop().audio, eightStepLoop().starts);
    let current = document;
    for (let n = 0; n < 512; n++) current = unwrap(createPattern(current, { partId }, env));
    expect(createPattern(current, { partId }, env)).toEqual({
      ok: false,
      reason: 'a part has 512 patterns at most: give some up first',
    });
  });
});
