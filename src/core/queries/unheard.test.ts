/** Which strip is heard of several on one step: what is said is what the engine plays. */
import { describe, expect, it } from 'vitest';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { setEvents } from '../../../tests/support/edits.ts';
import { KeyedPart, rmsOf } from '../../../tests/support/keys.ts';
import { sine } from '../../../tests/support/signals.ts';
import { placeEvent } from '../project/commands/events.ts';
import { layPattern } from '../project/commands/patterns.ts';
import { eventsOf } from './patterns.ts';
import { unheardStrips } from './unheard.ts';

/** Two tones, a strip each on the first step; which is the stronger. */
function twoOnOneStep(velocities: readonly [number, number]) {
  const low = sine(200, 0.5);
  const high = sine(3000, 0.5);
  const both = new Float32Array(low.length * 2);
  both.set(low);
  both.set(high, low.length);
  const part = new KeyedPart([both], [0, low.length]).part({ oneAtATime: true });
  const env = {
    ...countingEnv(),
    newId: (
      (n) => () =>
        `s${++n}`
    )(0),
  };
  const { partId } = part;
  part.document = unwrap(layPattern(part.document, { partId, name: 'two', lengthTicks: 3840, strips: [] }, env));
  const patternId = part.document.parts[partId]!.activePatternId;
  part.zoneIds.forEach((zoneId, n) => {
    const placed = { patternId, zoneId, positionTicks: 0, lengthTicks: 960 };
    part.document = unwrap(placeEvent(part.document, placed, env));
    const id = eventsOf(part.document, patternId).find((event) => event.zoneId === zoneId)!.id;
    const settings = { velocity: velocities[n]! };
    part.document = unwrap(setEvents(part.document, { patternId, eventIds: [id], settings }, env));
  });
  return { part, patternId };
}

const unheardZones = ({ part, patternId }: ReturnType<typeof twoOnOneStep>) => {
  const { document, partId } = part;
  const ids = unheardStrips(document, document.parts[partId]!, patternId);
  return eventsOf(document, patternId).flatMap(({ id, zoneId }) => (ids.has(id) ? [part.zoneIds.indexOf(zoneId)] : []));
};

/** Zero crossings tell which of the tones sounds. */
function heardTone({ part }: ReturnType<typeof twoOnOneStep>): number {
  const renderer = part.renderer();
  renderer.play();
  const left = new Float32Array(12_000);
  renderer.process(left, new Float32Array(12_000), 12_000);
  expect(rmsOf(left, 2_000, 12_000)).toBeGreaterThan(0.01);
  let crossings = 0;
  for (let i = 2_001; i < 12_000; i++) if (left[i - 1]! < 0 && left[i]! >= 0) crossings++;
  return crossings > 300 ? 1 : 0;
}

describe('two strips on one step of a part that plays one at a time', () => {
  it.each([
    [[1, 0.5], 0],
    [[0.5, 1], 1],
  ] as const)('strengths %o: the stronger is heard, and the other one is said to be not', (velocities, heard) => {
    const made = twoOnOneStep(velocities);
    expect(unheardZones(made)).toEqual([1 - heard]);
    expect(heardTone(made)).toBe(heard);
  });

  it('equally strong: always the same sound, however often they were written', () => {
    const first = twoOnOneStep([1, 1]);
    expect(unheardZones(first)).toHaveLength(1);
    expect(heardTone(first)).toBe(1 - unheardZones(first)[0]!);
  });

  it('both are heard where the part plays as many as there are, and where the later one comes by chance', () => {
    const made = twoOnOneStep([0.5, 1]);
    const [weak, strong] = eventsOf(made.part.document, made.patternId);
    const settings = { chancePercent: 50 };
    const args = { patternId: made.patternId, eventIds: [strong!.id], settings };
    const { part } = made;
    const byChance = unwrap(setEvents(part.document, args, countingEnv()));
    expect(unheardStrips(byChance, byChance.parts[part.partId]!, made.patternId).size).toBe(0);
    expect(weak!.values.velocity).toBe(0.5);
    part.part({ oneAtATime: false });
    expect(unheardZones(made)).toEqual([]);
  });
});
