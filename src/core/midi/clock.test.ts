import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { ClockFollower, steer } from './clock-in.ts';
import { ClockSender, type TimedMessage } from './clock-out.ts';
import { TimeOffset } from './time-offset.ts';

const CLOCK_MS = (tempo: number) => 60_000 / tempo / 24;

describe('the clock that goes out', () => {
  /** A song from `ticks` on at some tempo, looked at now and then. */
  function sent(tempo: (ms: number) => number, forMs: number, fromTicks = 0): TimedMessage[] {
    const sender = new ClockSender();
    const out: TimedMessage[] = [];
    let ticks = fromTicks;
    const random = seededRandom(5);
    for (let ms = 0; ms < forMs;) {
      out.push(...sender.advance({ isPlaying: true, order: 1, ticks, atMs: ms, tempoBpm: tempo(ms) }, ms + 60));
      const step = 5 + 30 * random();
      ticks += (step / 60_000) * tempo(ms) * 960;
      ms += step;
    }
    out.push(...sender.advance({ isPlaying: false, order: 2, ticks, atMs: forMs, tempoBpm: tempo(forMs) }, forMs + 60));
    return out;
  }

  it('is 24 a quarter note, on their places whenever it is looked at, between start and stop', () => {
    const out = sent(() => 120, 10_000);
    expect(out[0]).toEqual({ message: { kind: 'start' }, atMs: 0 });
    expect(out.at(-1)!.message).toEqual({ kind: 'stop' });
    const clocks = out.filter(({ message }) => message.kind === 'clock');
    expect(clocks.length).toBeGreaterThanOrEqual(480);
    clocks.forEach(({ atMs }, place) => expect(Math.abs(atMs - place * CLOCK_MS(120))).toBeLessThan(1e-6));
  });

  it('counted in it waits for the first bar line; in the middle it goes on from the next sixteenth with its position', () => {
    const counted = sent(() => 60, 6000, -3840);
    expect(counted[0]!.message.kind).toBe('start');
    expect(counted[0]!.atMs).toBeCloseTo(4000, 6);
    const middle = sent(() => 120, 1000, 1000);
    expect(middle.slice(0, 3).map(({ message }) => message)).toEqual([
      { kind: 'position', sixteenths: 5 },
      { kind: 'continue' },
      { kind: 'clock' },
    ]);
    expect(middle[0]!.atMs).toBeCloseTo((200 / 960) * 500, 6);
  });

  it('another tempo moves what comes, never back', () => {
    const out = sent((ms) => (ms < 2000 ? 90 : 180), 4000);
    out.slice(1).forEach(({ atMs }, place) => expect(atMs).toBeGreaterThanOrEqual(out[place]!.atMs));
    const late = out.filter(({ message, atMs }) => message.kind === 'clock' && atMs > 2200);
    expect(late[10]!.atMs - late[9]!.atMs).toBeCloseTo(CLOCK_MS(180), 6);
  });
});

describe('the clock that comes in', () => {
  /** Clocks with noise, evenly spread to both sides. */
  function clocks(tempo: number, count: number, noiseMs: number, fromMs = 0, seed = 3): number[] {
    const random = seededRandom(seed);
    return Array.from({ length: count }, (_, place) => fromMs + place * CLOCK_MS(tempo) + noiseMs * (2 * random() - 1));
  }

  it.each([40, 92.3, 120, 174, 300])(
    'its tempo of %f is found after two beats, with a millisecond of noise',
    (tempo) => {
      const follower = new ClockFollower();
      for (const at of clocks(tempo, 48, 1)) follower.take({ kind: 'clock' }, at);
      expect(follower.tempoBpm! / tempo).toBeCloseTo(1, 2);
      expect(Math.abs(follower.tempoBpm! / tempo - 1)).toBeLessThan(0.003);
      expect(follower.unsteadyMs).toBeGreaterThan(0.3);
      expect(follower.unsteadyMs).toBeLessThan(0.8);
    },
  );

  it('start, stop, position and continue say where its song is', () => {
    const follower = new ClockFollower();
    const times = clocks(120, 200, 0);
    for (const at of times.slice(0, 50)) follower.take({ kind: 'clock' }, at);
    expect(follower.ticksAt(times[49]!)).toBeNull();
    follower.take({ kind: 'start' }, times[50]! - 1);
    for (const at of times.slice(50, 99)) follower.take({ kind: 'clock' }, at);
    expect(follower.ticksAt(times[98]!)).toBeCloseTo(48 * 40, 6);
    follower.take({ kind: 'stop' }, times[98]! + 1);
    expect(follower.ticksAt(times[99]!)).toBeNull();
    follower.take({ kind: 'position', sixteenths: 32 }, times[98]! + 2);
    follower.take({ kind: 'continue' }, times[98]! + 3);
    for (const at of times.slice(99, 130)) follower.take({ kind: 'clock' }, at);
    expect(follower.ticksAt(times[129]!)).toBeCloseTo(32 * 240 + 30 * 40, 6);
  });

  it('clocks that do not come are bridged, and their place is kept', () => {
    const follower = new ClockFollower();
    follower.take({ kind: 'start' }, -1);
    const times = clocks(100, 400, 0.5);
    times.forEach((at, place) => {
      const isLost = (place > 100 && place < 104) || (place > 200 && place < 212) || place % 50 === 9;
      if (!isLost) follower.take({ kind: 'clock' }, at);
    });
    const last = 399 * CLOCK_MS(100);
    expect(Math.abs(follower.ticksAt(last)! - 399 * 40)).toBeLessThan(3);
    expect(follower.missingMs(last + 100)).toBe(0);
    expect(follower.missingMs(last + 2000)).toBeGreaterThan(1900);
    // Gone, it is still known where it would be.
    expect(Math.abs(follower.ticksAt(last + 3000)! - (399 * 40 + 5 * 960))).toBeLessThan(10);
  });

  it('a jump from 40 to 300 is taken up within half a beat, and back', () => {
    const follower = new ClockFollower();
    let at = 0;
    const run = (tempo: number, count: number) => {
      for (let i = 0; i < count; i++) follower.take({ kind: 'clock' }, (at += CLOCK_MS(tempo)));
    };
    run(40, 60);
    expect(follower.tempoBpm).toBeCloseTo(40, 1);
    run(300, 14);
    expect(follower.tempoBpm).toBeCloseTo(300, 0);
    run(40, 14);
    expect(follower.tempoBpm).toBeCloseTo(40, 0);
  });

  it('what it never heard of harms nothing: two at once, times that go back, none at all', () => {
    const follower = new ClockFollower();
    expect(follower.tempoBpm).toBeNull();
    for (const at of [0, 0, 0, 5, 5, 4, 3, 2, 1, 0]) follower.take({ kind: 'clock' }, at);
    expect(follower.tempoBpm! <= 420).toBe(true);
    follower.take({ kind: 'position', sixteenths: 16_383 }, 9);
    expect(Number.isFinite(follower.nextTicks)).toBe(true);
  });

  it('the own song keeps its place within 2 ms over ten minutes, against a clock with a millisecond of noise that also drifts', () => {
    const follower = new ClockFollower();
    const random = seededRandom(11);
    // The other is at 122, and 40 millionths off; it wanders by 0.2 % over minutes.
    const tempoAt = (ms: number) => 122.00488 * (1 + 0.002 * Math.sin(ms / 40_000));
    let [otherTicks, ownTicks, ownTempo, isPlaying] = [0, 0, 120, false];
    let nextClock = 0;
    let worst = 0;
    follower.take({ kind: 'start' }, 0);
    for (let ms = 0; ms < 600_000; ms++) {
      if (otherTicks >= nextClock * 40) {
        follower.take({ kind: 'clock' }, ms + 2 * random() - 1);
        nextClock++;
      }
      if (ms % 28 === 0 && follower.tempoBpm !== null) {
        const wanted = follower.ticksAt(ms)!;
        const way = steer(ownTicks, wanted, follower.tempoBpm);
        if (!isPlaying || way.kind === 'jump') {
          // It begins late by as much as a message takes.
          ownTicks = wanted - 10;
          isPlaying = true;
        } else ownTempo = way.tempoBpm;
      }
      if (ms > 6000) worst = Math.max(worst, (Math.abs(ownTicks - otherTicks) / 960 / tempoAt(ms)) * 60_000);
      otherTicks += (tempoAt(ms) * 960) / 60_000;
      if (isPlaying) ownTicks += (ownTempo * 960) / 60_000;
    }
    expect(worst).toBeLessThan(2);
  });
});

describe('two clocks', () => {
  it('the least distance counts, and it never jumps by as much as a message was late', () => {
    const offset = new TimeOffset();
    const random = seededRandom(2);
    expect(offset.toOwn(5)).toBeNull();
    const seen: number[] = [];
    for (let told = 0; told < 20_000; told += 29) {
      offset.note(told, told + 1000 + 8 * random() ** 2);
      seen.push(offset.toOwn(told)! - told);
    }
    expect(seen.at(-1)!).toBeGreaterThanOrEqual(1000);
    expect(seen.at(-1)!).toBeLessThan(1000.3);
    seen.slice(20).forEach((one, place) => expect(Math.abs(one - seen[place + 19]!)).toBeLessThanOrEqual(0.0201));
  });

  it('is found anew soon after sound has broken off, and not because one look came late', () => {
    const offset = new TimeOffset();
    const random = seededRandom(3);
    let away = 1000;
    for (let told = 0; told < 20_000; told += 29) {
      const isLate = told > 4_000 && told < 4_300;
      if (Math.abs(told - 10_000) < 15) away += 230;
      offset.note(told, told + away + 8 * random() ** 2 + (isLate ? 60 : 0));
      if (told > 4_000 && told < 4_400) expect(offset.toOwn(told)! - told).toBeLessThan(1009);
      if (told > 10_450) expect(Math.abs(offset.toOwn(told)! - told - 1230)).toBeLessThan(8);
    }
  });
});
