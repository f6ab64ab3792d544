import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setEvents } from '../../../../tests/support/edits.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { homeDistance } from '../../queries/distance.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { homeId } from '../../document/home-id.ts';
import { brokenRule } from '../../document/validate.ts';
import { deal } from './deal.ts';
import { exchangeEventZones, moveEvents, removeEvents } from './events.ts';
import { copyPattern, setPatternLength } from './patterns.ts';
import { goHome, placeEvents, swapSounds, transformEvents } from './transform.ts';

/** A bar of eight eighths, copied from home. */
function table() {
  const { audio, starts } = eightStepLoop();
  const made = loopProject(audio, starts);
  const document = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, made.env));
  const patternId = document.parts[made.partId]!.activePatternId;
  const ids = eventsOf(document, patternId).map(({ id }) => id);
  return { ...made, document, patternId, ids };
}

describe('many strips at once', () => {
  it('a transform changes the chosen ones and leaves the others as they are', () => {
    const { document, env, patternId, ids } = table();
    const args = { patternId, eventIds: ids.slice(0, 2), transform: 'staccato' as const, gridTicks: 240 };
    const after = unwrap(transformEvents(document, args, env));
    expect(brokenRule(after)).toBeNull();
    expect(eventsOf(after, patternId).map(({ lengthTicks }) => Math.round(lengthTicks))).toEqual([
      120, 120, 480, 480, 480, 480, 480, 480,
    ]);
    expect(after.patterns[patternId]!.events[ids[5]!]).toBe(document.patterns[patternId]!.events[ids[5]!]);
    const none = transformEvents(document, { ...args, eventIds: ['gone'] }, env);
    expect(none).toMatchObject({ ok: false, reason: expect.stringContaining('nothing to change') as string });
  });

  it('strips go to other sounds, each the one that is told for its own; the others stay, and so does all that is set', () => {
    const { document, env, patternId, ids } = table();
    const zones = eventsOf(document, patternId).map(({ zoneId }) => zoneId);
    const zoneIds = new Map([
      [zones[0]!, zones[1]!],
      [zones[1]!, zones[2]!],
    ]);
    const after = unwrap(exchangeEventZones(document, { patternId, eventIds: ids.slice(0, 3), zoneIds }, env));
    expect(brokenRule(after)).toBeNull();
    expect(eventsOf(after, patternId).map(({ zoneId }) => zoneId)).toEqual([zones[1], zones[2], ...zones.slice(2)]);
    expect(after.patterns[patternId]!.events[ids[0]!]).toEqual({
      ...document.patterns[patternId]!.events[ids[0]!],
      zoneId: zones[1],
    });
    const gone = new Map([[zones[0]!, 'gone']]);
    expect(exchangeEventZones(document, { patternId, eventIds: ids, zoneIds: gone }, env)).toMatchObject({
      ok: false,
      reason: 'this slice is gone',
    });
  });

  it('strips are put down together; what would begin outside is left out, other parts’ sounds are refused', () => {
    const { document, env, patternId } = table();
    const zoneId = eventsOf(document, patternId)[0]!.zoneId;
    const strip = (positionTicks: number) => ({ zoneId, positionTicks, lengthTicks: 960, values: { velocity: 0.5 } });
    const after = unwrap(placeEvents(document, { patternId, strips: [strip(240), strip(3600), strip(4000)] }, env));
    const placed = eventsOf(after, patternId).filter(({ values }) => values.velocity === 0.5);
    expect(placed.map(({ positionTicks, lengthTicks }) => [positionTicks, lengthTicks])).toEqual([
      [240, 960],
      [3600, 240],
    ]);
    expect(placeEvents(document, { patternId, strips: [{ ...strip(0), zoneId: 'gone' }] }, env).ok).toBe(false);
  });

  it('two sounds change places everywhere, and back', () => {
    const { document, env, patternId } = table();
    const zones = eventsOf(document, patternId).map((event) => event.zoneId);
    const args = { patternId, zoneId: zones[0]!, otherId: zones[3]! };
    const after = unwrap(swapSounds(document, args, env));
    expect(eventsOf(after, patternId).map((event) => event.zoneId)).toEqual(
      zones.map((id, i) => (i === 0 ? zones[3] : i === 3 ? zones[0] : id)),
    );
    expect(unwrap(swapSounds(after, args, env)).patterns[patternId]).toEqual(document.patterns[patternId]);
  });
});

describe('home', () => {
  it('a copy of home is at home; each strip that leaves counts twice: away, and missed there', () => {
    const { document, env, patternId, ids, cutId } = table();
    expect(homeDistance(document, cutId, patternId)).toMatchObject({ share: 0, moved: 0, missing: 0 });
    const moved = unwrap(moveEvents(document, { patternId, eventIds: [ids[2]!], byTicks: 240 }, env));
    const distance = homeDistance(moved, cutId, patternId)!;
    expect(distance).toMatchObject({ moved: 1, missing: 1, share: 2 / 9 });
    expect([...distance.movedIds]).toEqual([ids[2]]);
    const third = eventsOf(document, patternId)[2]!;
    expect(distance.missed.map(({ zoneId, positionTicks }) => [zoneId, positionTicks])).toEqual([
      [third.zoneId, third.positionTicks],
    ]);
    // The third eighth begins at the fifth sixteenth, and has gone to the sixth.
    expect(distance.steps.flatMap((isHome, step) => (isHome ? [] : [step]))).toEqual([4, 5]);
    const turned = unwrap(setEvents(document, { patternId, eventIds: [ids[0]!], settings: { reverse: true } }));
    expect(homeDistance(turned, cutId, patternId)!.moved).toBe(1);
    const fewer = unwrap(removeEvents(document, { patternId, eventIds: [ids[0]!] }, env));
    expect(homeDistance(fewer, cutId, patternId)).toMatchObject({ moved: 0, missing: 1 });
    expect(homeDistance(document, cutId, homeId(cutId))).toBeNull();
  });

  it('a stretch goes home, the rest stays, held strips stay', () => {
    const { document, env, patternId, ids, cutId, partId } = table();
    const held = unwrap(setEvents(document, { patternId, eventIds: [ids[1]!], settings: { hold: true } }));
    const dealt = unwrap(deal(held, { partId, reachPercent: 100, seed: 5 }, env));
    const half = unwrap(goHome(dealt, { patternId, cutId, fromTicks: 0, toTicks: 1920 }, env));
    expect(brokenRule(half)).toBeNull();
    const home = eventsOf(half, homeId(cutId)).map((event) => event.zoneId);
    const after = eventsOf(half, patternId).filter(({ values }) => !values.hold);
    const before = eventsOf(dealt, patternId).filter(({ values }) => !values.hold);
    expect(after.filter(({ positionTicks }) => positionTicks >= 1919)).toEqual(
      before.filter(({ positionTicks }) => positionTicks >= 1919),
    );
    const first = after.filter(({ positionTicks }) => positionTicks < 1919).map((event) => event.zoneId);
    expect(first).toEqual([home[0], home[2], home[3]]);
    expect(half.patterns[patternId]!.events[ids[1]!]).toBeDefined();
  });

  it('in a pattern of two rounds the loop goes round twice', () => {
    const { document, env, patternId, cutId } = table();
    const longer = unwrap(setPatternLength(document, { patternId, lengthTicks: 7680 }, env));
    const home = unwrap(goHome(longer, { patternId, cutId, fromTicks: 0, toTicks: 7680 }, env));
    expect(eventsOf(home, patternId)).toHaveLength(16);
    // Before, the second round was missing as a whole.
    const { missed } = homeDistance(longer, cutId, patternId)!;
    expect(missed).toHaveLength(8);
    expect(Math.min(...missed.map(({ positionTicks }) => positionTicks))).toBeGreaterThanOrEqual(3839);
    expect(homeDistance(home, cutId, patternId)!.share).toBe(0);
  });
});
