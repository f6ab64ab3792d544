/** One way to move anything: what is led where, how it is reached, and what it costs. */
import { serialize } from 'node:v8';
import { describe, expect, it } from 'vitest';
import { countingEnv, unwrap } from '../../../../tests/support/documents.ts';
import { greatestStep, KeyedPart, RATE, rmsOf } from '../../../../tests/support/keys.ts';
import { firstDifference, noise, sine } from '../../../../tests/support/signals.ts';
import { SEND_ROWS, ZONE_ROWS } from '../../params/tables.ts';
import { addBus, addSend } from '../../project/commands/channels.ts';
import { addEffect } from '../../project/commands/effects.ts';
import { addModulator, setRoute, type Moved } from '../../project/commands/modulators.ts';
import { setValue, type Owner, type Value } from '../../project/commands/values.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { movableBy, movedBy } from '../../queries/targets.ts';
import { PlanCompiler } from '../plan/compile.ts';
import type { ModulatorKind } from '../../params/modulators.ts';
import { movedValue, rowMoves } from './row-moves.ts';

const env = (() => {
  const counting = countingEnv();
  return { ...counting, newId: () => `made-${counting.newId()}` };
})();
const last = (table: Record<string, { id: string }>) => Object.values(table).at(-1)!.id;

/** A part with a tone on a key, and short ways to change its document. */
class MovedPart extends KeyedPart {
  add(kind: ModulatorKind, moved: Moved, ownerId = this.partId): string {
    this.document = unwrap(addModulator(this.document, { ownerId, kind, ...moved }, env));
    return last(this.document.modulators);
  }
  route(modulatorId: string, moved: Moved): string {
    this.document = unwrap(setRoute(this.document, { modulatorId, ...moved }, env));
    return last(this.document.routes);
  }
  set(owner: Owner, param: string, to: Value): void {
    this.document = unwrap(setValue(this.document, { owners: [owner], param, change: { to } }, env));
  }
  get channelId(): string {
    return this.document.parts[this.partId]!.channelId;
  }
}
const moved = () => new MovedPart([sine(1000, 3).map((x) => x * 0.5)]);
const heldFor = (part: MovedPart, frames: number, block = 441) => part.play(frames, [[0, part.press(48)]], block).left;

describe('how far a row is moved', () => {
  const moves = rowMoves(ZONE_ROWS);
  const slot = (id: keyof typeof ZONE_ROWS) => Object.keys(ZONE_ROWS).indexOf(id);
  it.each([
    ['gainDb', -6, 12, 6],
    ['gainDb', 0, 24, 12],
    ['cutoffHz', 1000, 1200, 2000],
    ['cutoffHz', 1000, -4800 * 4, 20],
    ['pan', 0.5, -1, -0.5],
  ] as const)('%s from %d by %d is %d', (id, from, by, expected) => {
    expect(movedValue(moves, slot(id), from, by)).toBeCloseTo(expected, 9);
  });
});

describe('a modulator moved by another', () => {
  it('changes its rate without a jump in its course', () => {
    const part = moved();
    const wave = part.add('lfo', { paramId: 'gainDb', amount: 0.25 });
    part.set({ kind: 'modulator', id: wave }, 'rateHz', 5);
    const other = part.add('lfo', { target: { kind: 'modulator', id: wave }, paramId: 'rateHz', amount: 0.5 });
    part.set({ kind: 'modulator', id: other }, 'rateHz', 0.7);
    const left = heldFor(part, 2 * RATE);
    const level = Array.from({ length: 190 }, (_, n) => 20 * Math.log10(rmsOf(left, n * 441, n * 441 + 441)));
    // At 20 Hz, the fastest, it moves by 7.5 dB in these 10 ms; a jump would be of up to 12.
    for (let n = 1; n < level.length; n++) expect(Math.abs(level[n]! - level[n - 1]!)).toBeLessThan(8);
    // Rounds: of the integral of 5 Hz times 2^(2 sin), over two seconds.
    let rounds = 0;
    for (let t = 0; t < 2; t += 1e-4) rounds += 1e-4 * 5 * 2 ** (2 * Math.sin(2 * Math.PI * 0.7 * t));
    const tops = level.filter((at, n) => n > 0 && at > level[n - 1]! && at >= (level[n + 1] ?? -99) && at > -8);
    expect(Math.abs(tops.length - rounds)).toBeLessThan(1.5);
  });

  it('or an amount that is moved, sounds the same at any size of the blocks', () => {
    const part = moved();
    const wave = part.add('lfo', { paramId: 'tuneCents', amount: 0.1 });
    const [routeId] = Object.keys(part.document.routes);
    const envelope = part.add('envelope', { target: { kind: 'route', id: routeId! }, paramId: 'amount', amount: 1 });
    part.set({ kind: 'modulator', id: envelope }, 'decayMs', 400);
    part.route(envelope, { target: { kind: 'modulator', id: wave }, paramId: 'rateHz', amount: 0.3 });
    const whole = heldFor(part, 40_000, 40_000);
    for (const block of [1, 128, 333]) expect(firstDifference(heldFor(part, 40_000, block), whole)).toBe(-1);
    part.set({ kind: 'route', id: last(part.document.routes) }, 'amount', 0);
    expect(firstDifference(heldFor(part, 40_000), whole)).toBeGreaterThan(0);
  });

  it('is refused in a ring, and beside its own owner, in words', () => {
    const part = moved();
    const a = part.add('lfo', { paramId: 'pan', amount: 1 });
    const b = part.add('lfo', { target: { kind: 'modulator', id: a }, paramId: 'rateHz', amount: 1 });
    const back = { modulatorId: a, target: { kind: 'modulator', id: b }, paramId: 'rateHz', amount: 1 } as const;
    expect(setRoute(part.document, back, env)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('moved by'),
    });
    const zoneId = part.zoneIds[0]!;
    const own = { ownerId: zoneId, kind: 'lfo', paramId: 'rateHz', amount: 1 } as const;
    const refusals = [
      addModulator(part.document, { ...own, target: { kind: 'modulator', id: a } }, env),
      addModulator(part.document, { ...own, target: { kind: 'channel', id: part.channelId }, paramId: 'gainDb' }, env),
      addModulator(part.document, { ...own, paramId: 'answer' }, env),
      addModulator(part.document, { ...own, paramId: 'voices' }, env),
    ];
    expect(refusals.map((result) => (result.ok ? '' : result.reason))).toEqual([
      'only what moves the same sounds can be moved by it',
      'what moves a single sound moves nothing beside it: let it move all of the part',
      'play cannot be moved',
      'voices cannot be moved',
    ]);
  });
});

describe('what moves what a part is heard through', () => {
  it('an envelope brings the channel up with each hit, and lets it fall', () => {
    const part = moved();
    part.set({ kind: 'channel', id: part.channelId }, 'gainDb', -24);
    const target = { kind: 'channel', id: part.channelId } as const;
    const envelope = part.add('envelope', { target, paramId: 'gainDb', amount: 1 });
    part.set({ kind: 'modulator', id: envelope }, 'decayMs', 300);
    const press = part.press(48);
    const { left } = part.play(2 * RATE, [
      [10_000, press],
      [50_000, press],
    ]);
    const db = (at: number) => 20 * Math.log10(rmsOf(left, at, at + 800) / (0.5 * Math.SQRT1_2));
    expect(db(10_100)).toBeGreaterThan(-1.5);
    expect(db(30_000)).toBeCloseTo(-24, 0);
    expect(db(50_100)).toBeGreaterThan(-1.5);
    expect(greatestStep(left, 10_200, 49_900)).toBeLessThan(0.5 * 0.1425 * 1.05);
  });

  it.each([441, 1, 1000])('an effect, a send and a bus are moved the same at blocks of %d as in one', (block) => {
    const part = moved();
    const { channelId } = part;
    part.document = unwrap(addEffect(part.document, { channelId, kind: 'filter' }, env));
    const effect = last(part.document.effects);
    part.document = unwrap(addBus(part.document, { name: 'room' }, env));
    const bus = last(part.document.channels);
    part.document = unwrap(addSend(part.document, { fromChannelId: channelId, toChannelId: bus }, env));
    part.set({ kind: 'effect', id: effect }, 'cutoffHz', 900);
    const wave = part.add('lfo', { target: { kind: 'effect', id: effect }, paramId: 'cutoffHz', amount: 0.4 });
    part.route(wave, { target: { kind: 'send', id: last(part.document.sends) }, paramId: 'gainDb', amount: -0.5 });
    part.route(wave, { target: { kind: 'channel', id: bus }, paramId: 'pan', amount: 1 });
    const played = (size: number) => part.play(20_000, [[100, part.press(48)]], size);
    const whole = played(20_000);
    const other = played(block);
    expect(firstDifference(other.left, whole.left)).toBe(-1);
    expect(firstDifference(other.right, whole.right)).toBe(-1);
    expect(firstDifference(whole.left, whole.right)).toBeGreaterThan(0);
  });

  it('comes back to where it is set when it is moved no more', () => {
    const part = moved();
    const target = { kind: 'channel', id: part.channelId } as const;
    part.add('lfo', { target, paramId: 'pan', amount: 1 });
    const renderer = part.renderer();
    const compiler = new PlanCompiler();
    const inputs = { assets: part.assets };
    renderer.applyPatch(compiler.update(part.document, inputs)!);
    renderer.noteOn(part.partId, 48, 1);
    const render = (count: number) => {
      const out = { left: new Float32Array(count), right: new Float32Array(count) };
      renderer.process(out.left, out.right, count);
      return out;
    };
    const { left, right } = render(6_000);
    expect(firstDifference(left, right)).toBeGreaterThan(0);
    const [modulatorId] = Object.keys(part.document.modulators);
    const { [modulatorId!]: _gone, ...modulators } = part.document.modulators;
    renderer.applyPatch(compiler.update({ ...part.document, modulators, routes: {} }, inputs)!);
    render(1_000);
    const after = render(4_000);
    expect(firstDifference(after.left, after.right)).toBe(-1);
  });
});

describe('at the start of a sound', () => {
  it('strength moves its decay: a soft hit is shorter', () => {
    const part = moved().zones({ sustain: 0, decayMs: 200, velocityShare: 0 }) as MovedPart;
    part.add('velocity', { paramId: 'decayMs', amount: 0.4 });
    const ends = [0.1, 1].map((velocity) => {
      const { left } = part.play(RATE * 2, [[0, part.press(48, velocity)]]);
      return left.findLastIndex((value) => Math.abs(value) > 1e-3) / RATE;
    });
    expect(ends[0]).toBeCloseTo(0.28, 1);
    expect(ends[1]).toBeCloseTo(1, 1);
  });

  it('a route follows its source with a bend, and within what it may reach', () => {
    const part = moved().zones({ velocityShare: 0 }) as MovedPart;
    part.add('velocity', { paramId: 'gainDb', amount: -1 });
    const route = { kind: 'route', id: last(part.document.routes) } as const;
    const db = (velocity: number) => {
      const { left } = part.play(9_000, [[0, part.press(48, velocity)]]);
      return 20 * Math.log10(rmsOf(left, 2_000, 8_000) / (0.5 * Math.SQRT1_2));
    };
    expect([db(0.25), db(1)].map((x) => Math.round(x))).toEqual([-6, -24]);
    part.set(route, 'most', 0.5);
    expect([db(0.25), db(1)].map((x) => Math.round(x))).toEqual([-6, -12]);
    part.set(route, 'bend', 1);
    // 1 - e^-2 of the way, which is more than a half.
    expect(Math.round(db(0.25))).toBe(-12);
  });
});

describe('what a change costs', () => {
  it('a drag of a wave that moves 128 sounds compiles nothing, and sends one value', () => {
    const part = new MovedPart(
      [noise(128 * 700, 3)],
      Array.from({ length: 128 }, (_, n) => n * 700),
    );
    part.add('lfo', { paramId: 'cutoffHz', amount: 0.3 });
    const [modulatorId] = Object.keys(part.document.modulators);
    const [routeId] = Object.keys(part.document.routes);
    const compiler = new PlanCompiler();
    const inputs = { assets: part.assets };
    const renderer = part.renderer();
    compiler.update(part.document, inputs);
    const { compiledCount } = compiler;
    const times = { page: [] as number[], audio: [] as number[] };
    let bytes = 0;
    for (let n = 0; n < 40; n++) {
      const owner: Owner = n % 2 ? { kind: 'modulator', id: modulatorId! } : { kind: 'route', id: routeId! };
      part.set(owner, n % 2 ? 'rateHz' : 'amount', 0.5 + n / 100);
      const from = performance.now();
      const patch = compiler.update(part.document, inputs)!;
      times.page.push(performance.now() - from);
      expect(Object.entries(patch).filter(([, list]) => Array.isArray(list) && list.length > 0)).toHaveLength(1);
      expect(patch.values).toHaveLength(1);
      bytes = Math.max(bytes, serialize(patch).length);
      const before = performance.now();
      renderer.applyPatch(patch);
      times.audio.push(performance.now() - before);
    }
    expect(compiler.compiledCount).toBe(compiledCount);
    expect(bytes).toBeLessThan(1_000);
    const median = (list: number[]) => list.toSorted((a, b) => a - b)[20]!;
    expect(median(times.page)).toBeLessThan(8);
    expect(median(times.audio)).toBeLessThan(0.5);
  });

  it('a curve that is drawn anew sends that modulator alone', () => {
    const part = moved();
    part.add('curve', { paramId: 'pan', amount: 1 });
    const compiler = new PlanCompiler();
    compiler.update(part.document, { assets: part.assets });
    const [id] = Object.keys(part.document.modulators);
    const points = [
      { at: 0, value: -1 },
      { at: 1, value: 1 },
    ];
    const modulators = { [id!]: { ...part.document.modulators[id!]!, points } };
    const patch = compiler.update({ ...part.document, modulators }, { assets: part.assets })!;
    expect(Object.entries(patch).flatMap(([name, list]) => (Array.isArray(list) && list.length ? [name] : []))).toEqual(
      ['modulators'],
    );
  });
});

describe('what a modulator may move, in words', () => {
  it('names its own sounds, other modulators, and what the part is heard through', () => {
    const part = moved();
    const wave = part.add('lfo', { paramId: 'pan', amount: 1 });
    part.add('lfo', { paramId: 'gainDb', amount: 1 });
    const { channelId } = part;
    part.document = unwrap(addBus(part.document, { name: 'room' }, env));
    const toChannelId = last(part.document.channels);
    part.document = unwrap(addSend(part.document, { fromChannelId: channelId, toChannelId }, env));
    const document: ProjectDocument = part.document;
    const words = movableBy(document, document.modulators[wave]!).map((one) => one.words);
    for (const expected of [
      'cutoff',
      'decay',
      'rate: wave 2',
      'amount: wave 2 on level',
      'level: all of it',
      `${SEND_ROWS.gainDb.label}: send to room`,
      'pan: room',
      'level: the mix',
    ]) {
      expect(words).toContain(expected);
    }
    expect(new Set(words).size).toBe(words.length);
    expect(Object.values(document.routes).map((route) => movedBy(document, route)!.words)).toEqual(['pan', 'level']);
  });
});
