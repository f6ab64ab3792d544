import { describe, expect, it } from 'vitest';
import { playedPhrase, writtenDown, type PlayedPress } from './played.ts';

const BAR = 3840;
const press = (onTicks: number, offTicks: number | null = onTicks + 100, zoneId = 'snare'): PlayedPress => ({
  zoneId,
  key: 60,
  onTicks,
  offTicks,
  velocity: 0.7,
});
const phrase = (presses: PlayedPress[], offset = 0, whole: number | null = null) =>
  playedPhrase(presses, BAR, offset, () => ({ wholeTicks: whole, tuneCents: 0 }))!;

describe('what was just played', () => {
  it('lies where it sounded, in as many rounds as were played in one go', () => {
    const kept = phrase([press(4000), press(5000.25), press(8000)]);
    expect(kept.lengthTicks).toBe(2 * BAR);
    expect(kept.strips.map(({ positionTicks, lengthTicks }) => [positionTicks, lengthTicks])).toEqual([
      [160, 100],
      [1160.25, 100],
      [4160, 100],
    ]);
    expect(kept.strips[0]!.values).toEqual({ velocity: 0.7, onKey: true });
  });

  it('a round of rest parts it from what was played before, and so does starting the song anew', () => {
    expect(phrase([press(100), press(2 * BAR + 100), press(2 * BAR + 500)])).toMatchObject({ lengthTicks: BAR });
    expect(phrase([press(9000), press(100), press(500)]).strips).toHaveLength(2);
  });

  it('a press just before the bar line was meant for it', () => {
    const kept = phrase([press(BAR - 60), press(BAR + 960)]);
    expect(kept.lengthTicks).toBe(BAR);
    expect(kept.strips.map(({ positionTicks }) => positionTicks)).toEqual([0, 960]);
  });

  it('follows the part’s offset', () => {
    expect(phrase([press(500)], 480).strips[0]!.positionTicks).toBe(20);
  });

  it('lasts as the key was held, or as long as the sound where that plays whole, up to the end', () => {
    expect(phrase([press(0, 700)]).strips[0]!.lengthTicks).toBe(700);
    expect(phrase([press(0, 10)], 0, 1440).strips[0]!.lengthTicks).toBe(1440);
    expect(phrase([press(3600, 5000)]).strips[0]!.lengthTicks).toBe(240);
    expect(phrase([press(960, null)]).strips[0]!.lengthTicks).toBe(BAR - 960);
  });

  it('a key away from the root is a strip that much higher', () => {
    const kept = playedPhrase([{ ...press(0), key: 67 }], BAR, 0, (_, key) => ({
      wholeTicks: null,
      tuneCents: (key - 60) * 100,
    }))!;
    expect(kept.strips[0]!.values).toEqual({ velocity: 0.7, onKey: true, tuneCents: 700 });
  });

  it('of a long time only the last sixteen rounds are kept', () => {
    const kept = phrase(Array.from({ length: 40 }, (_, round) => press(round * BAR + 10)));
    expect(kept.lengthTicks).toBe(16 * BAR);
    expect(kept.strips).toHaveLength(16);
  });

  it('nothing played gives nothing', () => {
    expect(playedPhrase([], BAR, 0, () => ({ wholeTicks: null, tuneCents: 0 }))).toBeNull();
  });
});

describe('what helpers have played, written down', () => {
  const soundOf = () => ({ wholeTicks: 900, tuneCents: 0 });
  const steps = (count: number, from = 0) =>
    Array.from({ length: count }, (_, step): PlayedPress => ({
      ...press(from + step * 960),
      cents: step * 100,
      lengthTicks: 240,
    }));
  const down = (presses: PlayedPress[], bars: number, nowTicks: number | null) =>
    writtenDown(presses, bars, { barTicks: BAR, offsetTicks: 0, nowTicks }, soundOf)!;

  it('is the last bars that are over, each press past the helpers, as long and as high as it was', () => {
    // Four bars and a beat, while the fifth runs.
    const { strips, lengthTicks } = down(steps(17), 2, 4 * BAR + 1000);
    expect(lengthTicks).toBe(2 * BAR);
    expect(strips.map(({ positionTicks }) => positionTicks)).toEqual(
      Array.from({ length: 8 }, (_, step) => step * 960),
    );
    expect(strips[1]).toMatchObject({
      lengthTicks: 240,
      values: { onKey: true, pastHelpers: true, velocity: 0.7, tuneCents: 900 },
    });
  });

  it('with the bar of the last press where that is over, or the only one', () => {
    expect(down(steps(6), 1, 2 * BAR + 10).strips.map(({ positionTicks }) => positionTicks)).toEqual([0, 960]);
    expect(down(steps(6), 1, null).strips).toHaveLength(2);
    expect(down(steps(3), 1, 2500).strips).toHaveLength(3);
  });

  it('has no empty bars before the first press, whether the song stands or runs', () => {
    expect(down(steps(3), 4, null)).toMatchObject({ lengthTicks: BAR });
    // It began in the third bar of the song, and goes on in the fifth.
    const later = steps(10).map((one) => ({ ...one, onTicks: one.onTicks + 2 * BAR + 480, offTicks: null }));
    const { strips, lengthTicks } = down(later, 8, 4 * BAR + 2000);
    expect(lengthTicks).toBe(2 * BAR);
    expect(strips[0]!.positionTicks).toBe(480);
  });

  it('what rang on whole is as long as it is, and the song started anew begins anew', () => {
    const whole = steps(2).map((one) => ({ ...one, lengthTicks: 0 }));
    expect(down(whole, 1, null).strips[0]!.lengthTicks).toBe(900);
    expect(down([...steps(8), ...steps(2)], 4, 2500).strips).toHaveLength(2);
    expect(writtenDown([], 2, { barTicks: BAR, offsetTicks: 0, nowTicks: null }, soundOf)).toBeNull();
  });
});
