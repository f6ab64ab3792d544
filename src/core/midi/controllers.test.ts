import { describe, expect, it } from 'vitest';
import { ZONE_ROWS, SONG_ROWS } from '../params/tables.ts';
import { shareOf, valueAt } from '../params/ways.ts';
import { MidiReader, type MidiMessage } from './messages.ts';
import {
  centredTurn,
  ControllerPairs,
  mappedShare,
  meantShare,
  PickUp,
  placeTold,
  shareTold,
  signedTurn,
  tellPlace,
} from './controllers.ts';

describe('controllers', () => {
  it('two controllers 32 apart are one of 14 bits; the coarse one puts the fine one to 0', () => {
    const pairs = new ControllerPairs();
    expect(pairs.take(0, 7, 127)).toBe(7);
    expect(pairs.take(0, 39, 127)).toBe(7);
    expect(pairs.fineShare(0, 7)).toBe(1);
    pairs.take(0, 7, 64);
    expect(pairs.fineShare(0, 7)).toBe((64 * 128) / 16_383);
    pairs.take(1, 39, 5);
    expect(pairs.fineShare(0, 7)).toBe((64 * 128) / 16_383);
    expect(pairs.take(0, 74, 3)).toBe(74);
  });

  it('turns are told as signed numbers, or around 64', () => {
    expect([1, 63, 127, 65].map(signedTurn)).toEqual([1, 63, -1, -63]);
    expect([65, 127, 63, 0, 64].map(centredTurn)).toEqual([1, 63, -1, -64, 0]);
  });

  it('goes over its range either way round, and bent', () => {
    expect(mappedShare({ from: 0.2, to: 0.8, bend: 0 }, 0.5)).toBeCloseTo(0.5, 12);
    expect([0, 1].map((share) => mappedShare({ from: 1, to: 0.5, bend: 0.5 }, share))).toEqual([1, 0.5]);
    expect(mappedShare({ from: 0, to: 1, bend: 0.5 }, 0.5)).toBeGreaterThan(0.85);
  });

  it.each([
    { from: 0, to: 1, bend: 0 },
    { from: 0.9, to: 0.1, bend: 0.7 },
    { from: 0.2, to: 0.6, bend: -1 },
  ])('is told where the setting stands, over any range: $from to $to, bent by $bend', (range) => {
    for (const share of [0, 0.02, 0.37, 0.5, 0.99, 1])
      expect(meantShare(range, mappedShare(range, share))).toBeCloseTo(share, 9);
    // Outside its range it stands at the nearer end; where it moves nothing it stands nowhere.
    expect([
      meantShare(range, range.from - (range.to - range.from)),
      meantShare({ ...range, to: range.from }, 0.5),
    ]).toEqual([0, null]);
  });

  it('tells a pair as it reads one: coarse first, and fine alone where the coarse half stays', () => {
    const reader = new MidiReader();
    const pairs = new ControllerPairs();
    let before: number | undefined;
    const counts = [0.5, 0.5001, 0.75, 0, 1].map((share) => {
      const place = placeTold(share, true);
      const told = tellPlace(3, 7, place, true, before);
      before = place;
      for (const bytes of told)
        for (const message of reader.read(bytes) as (MidiMessage & { kind: 'control' })[])
          pairs.take(message.channel, message.control, message.value);
      expect(pairs.fineShare(3, 7)).toBe(shareTold(place, true));
      expect(shareTold(place, true)).toBeCloseTo(share, 4);
      return told.length;
    });
    expect(counts).toEqual([2, 1, 2, 2, 2]);
    expect(tellPlace(3, 7, placeTold(0.5, false), false, undefined)).toEqual([[0xb3, 7, 64]]);
  });

  it('takes over where it meets the setting, by passing it or by coming to it, and again after somebody else moved that', () => {
    const dial = new PickUp();
    expect([0.1, 0.3, 0.45].map((at) => dial.follows(at, 0.5))).toEqual([false, false, false]);
    expect(dial.follows(0.55, 0.5)).toBe(true);
    expect(dial.follows(0.9, 0.55)).toBe(true);
    // Set to 0.2 by hand: it is let alone until it is met.
    expect(dial.follows(0.95, 0.2)).toBe(false);
    expect(dial.follows(0.21, 0.2)).toBe(true);
    // Steps of a device are no smaller than 1/127: near enough is met.
    expect(new PickUp().follows(64 / 127, 0.5)).toBe(true);
  });

  it('is met from the first on where the device turns its dials by itself', () => {
    const [turned, other] = [new PickUp(), new PickUp()];
    turned.turnedTo(0.2);
    expect([turned.follows(0.3, 0.2), other.follows(0.3, 0.2)]).toEqual([true, false]);
    // Not for a hand that comes from elsewhere.
    const held = new PickUp();
    held.turnedTo(0.8);
    expect([held.follows(0.1, 0.8), held.follows(0.2, 0.8)]).toEqual([false, false]);
  });
});

describe('ways of settings', () => {
  it('go evenly, by equal factors, from choice to choice, on from the middle', () => {
    expect(valueAt(ZONE_ROWS.gainDb, 0.5)).toBe(-24);
    expect(valueAt(ZONE_ROWS.cutoffHz, 0.5)).toBeCloseTo(Math.sqrt(ZONE_ROWS.cutoffHz.min * ZONE_ROWS.cutoffHz.max), 0);
    expect(valueAt(SONG_ROWS.clickSound, 0.99)).toBe('noise');
    expect([0.49, 0.5].map((share) => valueAt(SONG_ROWS.clickOn, share))).toEqual([false, true]);
    expect(valueAt(SONG_ROWS.beatsPerBar, 0.4)).toBe(7);
  });

  it('a value stands where it was put', () => {
    for (const [id, row] of Object.entries({ ...ZONE_ROWS, ...SONG_ROWS })) {
      for (const share of [0, 0.25, 0.5, 0.8, 1]) {
        const value = valueAt(row, share);
        const back = valueAt(row, shareOf(row, value));
        if (typeof value === 'number' && row.kind === 'number') expect(back, id).toBeCloseTo(value, 2);
        else expect(back, id).toBe(value);
      }
    }
  });
});
