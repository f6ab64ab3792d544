import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setEvents } from '../../../../tests/support/edits.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { eventsOf, eventsOfHand, orderedEvents } from '../../queries/patterns.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { brokenRule } from '../../document/validate.ts';
import { deal, freeSteps } from './deal.ts';
import { breedHands, MAX_HANDS, nameHand, patternOfHand, starHand, takeHand } from './hands.ts';
import { duplicatePart } from './copy-part.ts';
import { setSliceEnds, setSliceRole } from './slices.ts';
import { placeEvent, removeEvents } from './events.ts';
import { copyPattern, setPatternLength } from './patterns.ts';

function table() {
  const { audio, starts } = eightStepLoop();
  const made = loopProject(audio, starts);
  const env = made.env;
  const document = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, env));
  const patternId = document.parts[made.partId]!.activePatternId;
  const ids = eventsOf(document, patternId).map(({ id }) => id);
  const zonesOf = (current: ProjectDocument) =>
    orderedEvents(current.patterns[patternId]!.events).map(({ zoneId }) => zoneId);
  const dealt = (current: ProjectDocument, seed?: number) =>
    unwrap(deal(current, { partId: made.partId, reachPercent: 100, seed }, env));
  return { ...made, document, patternId, ids, zonesOf, dealt };
}

describe('the steps that are free', () => {
  it('are told before dealing: not those that hold, stay by a rule, or are not chosen', () => {
    const { document, env, patternId, partId, ids } = table();
    expect([...freeSteps(document, { partId })]).toEqual(ids);
    const held = unwrap(setEvents(document, { patternId, eventIds: [ids[5]!], settings: { hold: true } }, env));
    expect([...freeSteps(held, { partId })]).toEqual(ids.filter((id) => id !== ids[5]));
    // A bar of eighths: the first beat has two of them.
    expect([...freeSteps(held, { partId, rules: { keepsFirstBeats: true } })]).toEqual([
      ids[2],
      ids[3],
      ids[4],
      ids[6],
      ids[7],
    ]);
    expect([...freeSteps(held, { partId, onlyIds: [ids[4]!, ids[5]!] })]).toEqual([ids[4]]);
    expect(freeSteps(held, { partId: 'gone' }).size).toBe(0);
  });

  it('are those that a deal of all exchanges, and of a home pattern those of its copy', () => {
    const { document, partId, patternId, zonesOf, home } = table();
    const rules = { keepsFirstBeats: true };
    const free = freeSteps(document, { partId, rules });
    const after = unwrap(deal(document, { partId, reachPercent: 100, rules, seed: 5 }, countingEnv()));
    orderedEvents(after.patterns[patternId]!.events).forEach(({ id, zoneId }, place) =>
      expect(zoneId !== zonesOf(document)[place]).toBe(free.has(id)),
    );
    const atHome = {
      ...document,
      parts: { ...document.parts, [partId]: { ...document.parts[partId]!, activePatternId: home } },
    };
    expect(freeSteps(atHome, { partId, rules }).size).toBe(free.size);
  });
});

describe('what is dealt is what lies on the table', () => {
  it('a strip that is let go of on a later hand stays free at the next deal', () => {
    const { document, env, patternId, ids, dealt } = table();
    const [first] = ids;
    const held = unwrap(setEvents(document, { patternId, eventIds: [first!], settings: { hold: true } }, env));
    const second = dealt(held);
    const free = unwrap(setEvents(second, { patternId, eventIds: [first!], settings: { hold: false } }, env));
    const third = dealt(free);
    expect(third.patterns[patternId]!.events[first!]!.values.hold).toBeUndefined();
    // With the whole reach no free step keeps its own slice: it took part.
    expect(third.patterns[patternId]!.events[first!]!.zoneId).not.toBe(
      free.patterns[patternId]!.events[first!]!.zoneId,
    );
  });

  it('strips drawn since the first hand stay, removed ones stay away', () => {
    const { document, env, patternId, ids, dealt } = table();
    const first = dealt(document);
    const zoneId = Object.keys(document.zones)[0]!;
    const drawn = unwrap(placeEvent(first, { patternId, zoneId, positionTicks: 3000, lengthTicks: 100 }, env));
    const drawnId = Object.keys(drawn.patterns[patternId]!.events).find((id) => !ids.includes(id))!;
    const edited = unwrap(removeEvents(drawn, { patternId, eventIds: [ids[3]!] }, env));
    const second = dealt(edited);
    const { events } = second.patterns[patternId]!;
    expect(Object.keys(events).sort()).toEqual([...ids.filter((id) => id !== ids[3]), drawnId].sort());
    // The way back: the hand as it was edited, and the one before.
    const { handOrder } = second.patterns[patternId]!;
    const back = unwrap(takeHand(second, { patternId, handId: handOrder[1]! }, env));
    expect(back.patterns[patternId]!.events).toEqual(edited.patterns[patternId]!.events);
    expect(unwrap(takeHand(back, { patternId, handId: handOrder[0]! }, env)).patterns[patternId]!.events).toEqual(
      document.patterns[patternId]!.events,
    );
  });

  it('a shortened pattern keeps what waits beyond its end out of the deal', () => {
    const { document, env, partId, patternId, ids } = table();
    const short = unwrap(setPatternLength(document, { patternId, lengthTicks: 1920 }, env));
    const waiting = ids.slice(4).map((id) => document.patterns[patternId]!.events[id]);
    for (let seed = 1; seed < 30; seed++) {
      const after = unwrap(deal(short, { partId, reachPercent: 100, seed }, env)).patterns[patternId]!;
      expect(ids.slice(4).map((id) => after.events[id])).toEqual(waiting);
      const heard = ids.slice(0, 4).map((id) => after.events[id]!.zoneId);
      const before = ids.slice(0, 4).map((id) => document.patterns[patternId]!.events[id]!.zoneId);
      expect([...heard].sort()).toEqual([...before].sort());
    }
  });

  it('is refused where fewer than two steps are free', () => {
    const { document, env, partId, patternId, ids } = table();
    const held = unwrap(setEvents(document, { patternId, eventIds: ids.slice(1), settings: { hold: true } }, env));
    expect(deal(held, { partId, reachPercent: 100 }, env)).toEqual({
      ok: false,
      reason: 'dealing needs at least two steps that are not held',
    });
  });
});

describe('a hand', () => {
  it('is told by its seed, its settings and the hand it was dealt from', () => {
    const { document, partId, patternId, zonesOf, dealt } = table();
    const first = dealt(document, 7);
    const second = dealt(first, 11);
    const { hands, handId, handOrder } = second.patterns[patternId]!;
    expect(hands[handId!]).toMatchObject({ seed: 11, reachPercent: 100, fromHandId: handOrder[1], isEdited: false });
    const told = hands[handId!]!;
    const args = { partId, reachPercent: told.reachPercent, seed: told.seed, fromHandId: told.fromHandId! };
    expect(zonesOf(unwrap(deal(second, args, countingEnv())))).toEqual(zonesOf(second));
  });

  it('keeps only what differs from the ground', () => {
    const { document, env, partId, patternId } = table();
    const little = unwrap(deal(document, { partId, reachPercent: 25, seed: 3 }, env));
    const pattern = little.patterns[patternId]!;
    expect(Object.keys(pattern.hands[pattern.handId!]!.differs)).toHaveLength(2);
    expect(eventsOfHand(pattern, pattern.handId!)).toEqual(pattern.events);
  });

  it('of the first table stays when there are more hands than are kept', () => {
    const { document, patternId, dealt } = table();
    let current = document;
    for (let deals = 0; deals < MAX_HANDS + 5; deals++) current = dealt(current, deals + 1);
    const { handOrder, hands, ground } = current.patterns[patternId]!;
    expect(handOrder).toHaveLength(MAX_HANDS);
    expect(hands[handOrder[0]!]!.differs).toEqual({});
    expect(ground).toEqual(document.patterns[patternId]!.events);
    expect(brokenRule(current)).toBeNull();
  });

  it('is the same on every machine: ties are told by code units, not by a language', () => {
    const { document, env, partId, patternId } = table();
    const zoneIds = document.parts[partId]!.zoneOrder;
    const event = (id: string, place: number) => ({
      id,
      zoneId: zoneIds[place]!,
      positionTicks: 0,
      lengthTicks: 240,
      values: {},
    });
    // In Swedish "ä" and in Danish "aa" stand last; by code units capitals come first and "-" before all.
    const ids = ['a', 'Z', 'aa', 'b', '-', '_'];
    const events = Object.fromEntries(ids.map((id, place) => [id, event(id, place)]));
    const onTable = (table: typeof events) => ({
      ...document,
      patterns: { [patternId]: { ...document.patterns[patternId]!, events: table } },
    });
    const tied = onTable(events);
    // The strongest is heard last, then sounds, then strips are told apart.
    const ofOneSound = Object.fromEntries(ids.map((id) => [id, { ...event(id, 0) }]));
    expect(eventsOf(onTable(ofOneSound), patternId).map(({ id }) => id)).toEqual(['-', 'Z', '_', 'a', 'aa', 'b']);
    const weakLast = { ...ofOneSound, b: { ...ofOneSound.b!, values: { velocity: 0.5 } } };
    expect(eventsOf(onTable(weakLast), patternId).map(({ id }) => id)).toEqual(['b', '-', 'Z', '_', 'a', 'aa']);
    const shuffledKeys = Object.fromEntries(Object.entries(events).reverse());
    const other = onTable(shuffledKeys);
    const dealtOf = (from: ProjectDocument) =>
      unwrap(deal(from, { partId, reachPercent: 100, seed: 5 }, env)).patterns[patternId]!.events;
    expect(dealtOf(other)).toEqual(dealtOf(tied));
  });
});

describe('rules and stars', () => {
  it('a hand keeps its rules, and the same seed, rules and table give the same hand', () => {
    const { document, env, patternId, partId } = table();
    const rules = { keepsRoles: true, backwardsPercent: 60 };
    const one = unwrap(deal(document, { partId, reachPercent: 50, seed: 9, rules }, env));
    const { hands, handId, events } = one.patterns[patternId]!;
    expect(hands[handId!]).toMatchObject({ seed: 9, rules });
    const other = unwrap(deal(document, { partId, reachPercent: 50, seed: 9, rules }, env));
    expect(other.patterns[patternId]!.events).toEqual(events);
    expect(brokenRule(one)).toBeNull();
    expect(Object.values(events).some(({ values }) => values.reverse)).toBe(true);
  });

  it('rules that let no step take part are told', () => {
    const { document, env, partId, cutId } = table();
    const sliceIds = Object.keys(document.cuts[cutId]!.slices);
    const kicks = unwrap(setSliceRole(document, { cutId, sliceIds, role: 'kick' }, env));
    expect(deal(kicks, { partId, reachPercent: 50, rules: { keepsKicks: true } }, env)).toEqual({
      ok: false,
      reason: 'these rules let every step stay: let some of them take part',
    });
  });

  it('a starred hand is never pushed out', () => {
    const { document, env, patternId, dealt } = table();
    const first = dealt(document, 1);
    const handId = first.patterns[patternId]!.handId!;
    let current = unwrap(starHand(first, { patternId, handId, starred: true }, env));
    for (let seed = 2; seed < MAX_HANDS + 20; seed++) current = dealt(current, seed);
    const { hands, handOrder } = current.patterns[patternId]!;
    expect(handOrder).toHaveLength(MAX_HANDS);
    expect(hands[handId]?.starred).toBe(true);
    expect(brokenRule(current)).toBeNull();
    const without = unwrap(starHand(current, { patternId, handId, starred: false }, env));
    expect(without.patterns[patternId]!.hands[handId]).not.toHaveProperty('starred');
  });
});

describe('hands of a pattern', () => {
  /** Two hands that share no step. */
  function twoHands() {
    const made = table();
    const first = made.dealt(made.document, 3);
    const second = made.dealt(first, 4);
    const { handOrder } = second.patterns[made.patternId]!;
    return { ...made, current: second, one: handOrder[1]!, other: handOrder[2]! };
  }

  it('are bred into a third, each step as in the one or the other; the same seed breeds the same', () => {
    const { current, env, patternId, one, other } = twoHands();
    const args = { patternId, handId: one, otherId: other, seed: 12 };
    const bred = unwrap(breedHands(current, args, env));
    const pattern = bred.patterns[patternId]!;
    const [a, b] = [eventsOfHand(pattern, one), eventsOfHand(pattern, other)];
    const from = Object.values(pattern.events).map((event) => {
      expect([a[event.id]!.zoneId, b[event.id]!.zoneId]).toContain(event.zoneId);
      return event.zoneId === b[event.id]!.zoneId;
    });
    expect(from.filter(Boolean).length).toBeGreaterThan(0);
    expect(from.filter(Boolean).length).toBeLessThan(from.length);
    expect(pattern.hands[pattern.handId!]).toMatchObject({ seed: 12, fromHandId: one, withHandId: other });
    expect(unwrap(breedHands(current, args, env)).patterns[patternId]!.events).toEqual(pattern.events);
    expect(brokenRule(bred)).toBeNull();
    expect(unwrap(breedHands(current, { ...args, otherPercent: 100 }, env)).patterns[patternId]!.events).toEqual(b);
    expect(breedHands(current, { ...args, otherId: one }, env).ok).toBe(false);
  });

  it('have names, and become patterns of their own', () => {
    const { current, env, partId, patternId, one } = twoHands();
    const named = unwrap(nameHand(current, { patternId, handId: one, name: '  late ferry ' }, env));
    expect(named.patterns[patternId]!.hands[one]!.name).toBe('late ferry');
    const made = unwrap(patternOfHand(named, { patternId, handId: one }, env));
    const own = made.patterns[made.parts[partId]!.activePatternId]!;
    expect(own).toMatchObject({ name: 'late ferry', hands: {}, handId: null });
    const plays = (events: readonly { zoneId: string; positionTicks: number }[]) =>
      events.map(({ zoneId, positionTicks }) => [zoneId, positionTicks]);
    expect(plays(orderedEvents(own.events))).toEqual(
      plays(orderedEvents(eventsOfHand(named.patterns[patternId]!, one))),
    );
    expect(brokenRule(made)).toBeNull();
    const plain = unwrap(nameHand(named, { patternId, handId: one, name: '' }, env));
    expect(plain.patterns[patternId]!.hands[one]).not.toHaveProperty('name');
  });

  it('of chosen strips alone remember which; what cannot be drawn is told', () => {
    const { document, env, partId, patternId, ids } = table();
    const onlyIds = ids.slice(0, 3);
    const dealt = unwrap(deal(document, { partId, reachPercent: 100, seed: 8, onlyIds }, env));
    const { hands, handId, events } = dealt.patterns[patternId]!;
    expect(hands[handId!]!.onlyIds).toEqual(onlyIds);
    for (const id of ids.slice(3)) expect(events[id]).toEqual(document.patterns[patternId]!.events[id]);
    const starred = deal(document, { partId, reachPercent: 50, rules: { sounds: 'starred' } }, env);
    expect(starred).toMatchObject({ ok: false, reason: expect.stringContaining('no hand') as string });
    const one = deal(document, { partId, reachPercent: 50, onlyIds: [ids[0]!] }, env);
    expect(one).toMatchObject({ ok: false, reason: expect.stringContaining('nothing to exchange with') as string });
    const drawn = deal(document, { partId, reachPercent: 100, onlyIds: [ids[0]!], rules: { sounds: 'any' } }, env);
    expect(drawn.ok).toBe(true);
  });
});

describe('sounds of other parts', () => {
  /** Two parts of one loop, cut alike. */
  function twoParts() {
    const made = table();
    const document = unwrap(duplicatePart(made.document, { partId: made.partId }, made.env));
    const otherId = document.partOrder[1]!;
    // Another stretch of the source than any slice of the first part.
    const [cutId] = document.parts[otherId]!.cutOrder;
    const slices = Object.keys(document.cuts[cutId!]!.slices);
    const ends = Object.fromEntries(slices.map((id) => [id, document.cuts[cutId!]!.slices[id]!.startFrame + 2000]));
    return { ...made, document: unwrap(setSliceEnds(document, { cutId: cutId!, ends }, made.env)), otherId };
  }

  it('come in when they are drawn, each once, on a key; the same seed draws the same again', () => {
    const { document, env, partId, patternId } = twoParts();
    const before = document.parts[partId]!.zoneOrder.length;
    const rules = { sounds: 'any' as const, admitsOthers: true };
    const args = { partId, reachPercent: 100, rules, seed: 5 };
    const once = unwrap(deal(document, args, env));
    expect(brokenRule(once)).toBeNull();
    const part = once.parts[partId]!;
    const lent = part.zoneOrder.slice(before);
    const played = Object.values(once.patterns[patternId]!.events).map(({ zoneId }) => zoneId);
    expect(lent.length).toBeGreaterThan(0);
    for (const id of lent) expect(played).toContain(id);
    expect(lent.every((id) => once.zones[id]!.keys !== null)).toBe(true);
    const from = once.patterns[patternId]!.handOrder[0]!;
    const again = unwrap(deal(once, { ...args, fromHandId: from }, env));
    expect(again.parts[partId]!.zoneOrder).toEqual(part.zoneOrder);
    expect(again.patterns[patternId]!.events).toEqual(once.patterns[patternId]!.events);
    const without = unwrap(deal(document, { ...args, rules: { sounds: 'any' } }, env));
    expect(without.parts[partId]!.zoneOrder).toHaveLength(before);
  });
});
