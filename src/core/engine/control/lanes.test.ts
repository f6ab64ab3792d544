/** Lanes and dials in the engine: where they are, what they give, how a step of them is reached, and what they reach. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap, type LoopProject } from '../../../../tests/support/documents.ts';
import { greatestStep } from '../../../../tests/support/keys.ts';
import { LiveSong, planOf } from '../../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../../tests/support/signals.ts';
import type { AudioData } from '../../dsp/audio.ts';
import { homeId } from '../../document/home-id.ts';
import type { LanePoint, ProjectDocument, RouteTarget } from '../../document/schema.ts';
import { lanePoint, laneValue } from '../../lanes/points.ts';
import { shaped } from '../../lanes/changes.ts';
import { addEffect } from '../../project/commands/effects.ts';
import { addLane, copyLane, drawLane, setLaneLength } from '../../project/commands/lanes.ts';
import { putOnMacro, setRange } from '../../project/commands/macros.ts';
import { addModulator } from '../../project/commands/modulators.ts';
import { choosePattern, copyPattern } from '../../project/commands/patterns.ts';
import { setValue, type Owner, type Value } from '../../project/commands/values.ts';
import { lanesOver, settingOfLane } from '../../queries/lanes.ts';
import { macrosOf } from '../../queries/macros.ts';
import { dbToGain } from '../../units/level.ts';
import { Renderer } from '../renderer.ts';
import { CONTROL_FRAMES } from './control-step.ts';

const RATE = 44_100;
/** Two bars of 120 bpm. */
const FRAMES = 2 * 88_200;
const BAR_TICKS = 3840;
const ROUND_TICKS = 2 * BAR_TICKS;

/** A tone that goes round without a seam, as one slice. */
class Moved {
  document: ProjectDocument;
  readonly project: LoopProject;
  readonly env = (() => {
    const counting = countingEnv();
    return { ...counting, newId: () => `made-${counting.newId()}` };
  })();

  constructor() {
    this.project = loopProject(
      { sampleRate: RATE, channels: [sine(1000, 4).map((x) => x * 0.25)] } as AudioData,
      [0],
      2,
    );
    this.document = this.project.document;
  }
  get partId(): string {
    return this.project.partId;
  }
  get homeId(): string {
    return homeId(this.project.cutId);
  }
  get channel(): RouteTarget {
    return { kind: 'channel', id: this.document.parts[this.partId]!.channelId };
  }
  set(owner: Owner, param: string, to: Value): this {
    this.document = unwrap(setValue(this.document, { owners: [owner], param, change: { to } }, this.env));
    return this;
  }
  /** A lane on the part's level, between -24 and 0 dB. @returns its id */
  lane(points: readonly LanePoint[], patternId = this.homeId, target = this.channel, paramId = 'gainDb'): string {
    this.document = unwrap(addLane(this.document, { overId: patternId, target, paramId }, this.env));
    const { id } = lanesOver(this.document, patternId).at(-1)!;
    this.document = unwrap(drawLane(this.document, { laneId: id, points }, this.env));
    return id;
  }
  /** @returns the dial's id */
  dial(target: RouteTarget, paramId: string, from: number, to: number, place = 0): string {
    this.document = unwrap(putOnMacro(this.document, { place, target, paramId }, this.env));
    const routeId = Object.keys(this.document.routes).at(-1)!;
    this.document = unwrap(setRange(this.document, { routeId, from, to }, this.env));
    return macrosOf(this.document).find((one) => one.place === place)!.id;
  }
  play(frames = FRAMES, block = 441, fromTicks = 0): Float32Array {
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf({ ...this.project, document: this.document }));
    renderer.play(fromTicks);
    const left = new Float32Array(frames);
    const right = new Float32Array(frames);
    for (let at = 0; at < frames; at += block) {
      const count = Math.min(block, frames - at);
      renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    }
    return left;
  }
}

/** By how many dB one is louder than the other, at the end of a control step. */
function gainAt(moved: Float32Array, plain: Float32Array, step: number): number | null {
  for (let at = (step + 1) * CONTROL_FRAMES - 1; at > (step + 1) * CONTROL_FRAMES - 12; at--) {
    // At a top of the wave; within a step the gain goes straight from one value to the next.
    if (at === (step + 1) * CONTROL_FRAMES - 1 && Math.abs(plain[at]!) > 0.1) return moved[at]! / plain[at]!;
  }
  return null;
}

describe('a lane', () => {
  const LINE = [lanePoint(0, 1), lanePoint(1500, 0.25), lanePoint(5000, 0.75, { bend: 0.4 }), lanePoint(7000, 0)];

  it('is where it was drawn at every control step, also in the second round', () => {
    const part = new Moved();
    const plain = part.play(2 * FRAMES);
    part.lane(LINE);
    const moved = part.play(2 * FRAMES);
    let looked = 0;
    for (let step = 0; step < (2 * FRAMES) / CONTROL_FRAMES; step++) {
      const gain = gainAt(moved, plain, step);
      const ticks = ((step * CONTROL_FRAMES) / RATE) * 1920;
      const inRound = ticks % ROUND_TICKS;
      // The second round begins with a step, which takes as long as the level's smoothing.
      if (gain === null || (ticks > 100 && inRound < 30)) continue;
      looked++;
      expect(20 * Math.log10(gain)).toBeCloseTo(24 * (laneValue(LINE, inRound) - 1), 2);
    }
    expect(looked).toBeGreaterThan(1000);
  });

  it.each([1, 127, 128, 4096])('sounds the same in blocks of %d', (block) => {
    const part = new Moved();
    part.lane(LINE);
    part.lane(shaped('pulse', 240, ROUND_TICKS), part.homeId, part.channel, 'pan');
    const frames = block === 1 ? 30_000 : FRAMES;
    expect(firstDifference(part.play(frames, block), part.play(frames, 441))).toBe(-1);
  });

  it('reaches a step within the time of its setting, and by no greater step than the tone has', () => {
    const part = new Moved();
    const tone = greatestStep(part.play());
    const laneId = part.lane([lanePoint(0, 1, { stays: true }), lanePoint(1920, 0, { stays: true })]);
    const moved = part.play();
    expect(greatestStep(moved)).toBeLessThan(tone * 1.15);
    const quiet = moved.subarray(44_100 + 600, 2 * 44_100);
    expect(Math.max(...quiet.map(Math.abs))).toBeCloseTo(0.25 * dbToGain(-24), 3);
    // Drawn otherwise while it sounds, it goes there as softly.
    const song = new LiveSong(part.document, part.project.assets);
    song.renderer.play();
    song.next(44_100);
    song.edit(unwrap(drawLane(part.document, { laneId, points: [lanePoint(0, 0.1)] }, part.env)));
    expect(greatestStep(song.next(44_100))).toBeLessThan(tone * 1.15);
  });

  it('of a length of its own drifts against its pattern', () => {
    const part = new Moved();
    const points = [lanePoint(0, 1), lanePoint(2879, 0)];
    const laneId = part.lane(points);
    part.document = unwrap(setLaneLength(part.document, { laneId, lengthTicks: 2880 }, part.env));
    const plain = new Moved().play(2 * FRAMES);
    const moved = part.play(2 * FRAMES);
    for (let step = 0; step < (2 * FRAMES) / CONTROL_FRAMES; step += 7) {
      const gain = gainAt(moved, plain, step);
      const ticks = (((step * CONTROL_FRAMES) / RATE) * 1920) % 2880;
      if (gain !== null && ticks > 40)
        expect(20 * Math.log10(gain)).toBeCloseTo(24 * (laneValue(points, ticks) - 1), 1);
    }
  });

  it('moves only while its pattern plays, and comes along when that is copied', () => {
    const part = new Moved();
    const plain = part.play();
    const laneId = part.lane([lanePoint(0, 0)]);
    part.document = unwrap(copyPattern(part.document, { partId: part.partId, patternId: part.homeId }, part.env));
    const copyId = part.document.parts[part.partId]!.activePatternId;
    expect(lanesOver(part.document, copyId)).toHaveLength(1);
    expect(part.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-24), 5);
    const { id } = lanesOver(part.document, copyId)[0]!;
    part.set({ kind: 'modulator', id }, 'isOn', false);
    expect(firstDifference(part.play(), plain)).toBe(-1);
    part.document = unwrap(choosePattern(part.document, { partId: part.partId, patternId: part.homeId }, part.env));
    expect(part.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-24), 5);
    // Taken over by another pattern while it sounds, it lets go without a step.
    const tone = greatestStep(plain);
    const song = new LiveSong(part.document, part.project.assets);
    song.renderer.play();
    song.next(60_000);
    song.edit(unwrap(choosePattern(part.document, { partId: part.partId, patternId: copyId }, part.env)));
    const over = song.next(FRAMES);
    expect(Math.max(...over.subarray(FRAMES - 20_000).map(Math.abs))).toBeCloseTo(0.25, 3);
    expect(greatestStep(over)).toBeLessThan(tone * 1.15);
    expect(part.document.modulators[laneId]).toBeDefined();
  });

  it('moves the sounds of its part, an effect, and a dial', () => {
    const plain = new Moved().play();
    const sounds = new Moved();
    sounds.lane([lanePoint(0, 0)], sounds.homeId, { kind: 'zone', id: null });
    expect(sounds.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-24), 4);

    const viaDial = new Moved();
    const dialId = viaDial.dial(viaDial.channel, 'gainDb', 0, -0.5);
    viaDial.lane([lanePoint(0, 1)], viaDial.homeId, { kind: 'modulator', id: dialId }, 'position');
    expect(viaDial.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-12), 4);

    const effect = new Moved();
    const { channelId } = effect.document.parts[effect.partId]!;
    effect.document = unwrap(addEffect(effect.document, { channelId, kind: 'width' }, effect.env));
    const effectId = effect.document.channels[channelId]!.effectOrder[0]!;
    const laneId = effect.lane([lanePoint(0, 0)], effect.homeId, { kind: 'effect', id: effectId }, 'wet');
    expect(settingOfLane(effect.document, { id: laneId })!.target).toEqual({ kind: 'effect', id: effectId });
    expect(effect.play()[50_000]).toBeCloseTo(plain[50_000]!, 6);
  });

  it('with ten thousand points, and one of a sixteenth under 64 bars, play', () => {
    const part = new Moved();
    const many = Array.from({ length: 10_000 }, (_, i) => lanePoint((i * ROUND_TICKS) / 10_000, (i * 7919) % 2));
    part.lane(many);
    const brief = part.lane([lanePoint(0, 0), lanePoint(15, 1)], part.homeId, part.channel, 'pan');
    part.document = unwrap(setLaneLength(part.document, { laneId: brief, lengthTicks: 15 }, part.env));
    const heard = part.play();
    expect(heard.every(Number.isFinite)).toBe(true);
    expect(greatestStep(heard)).toBeLessThan(0.1);
  });

  it('is copied to another setting with its length', () => {
    const part = new Moved();
    const laneId = part.lane(LINE);
    part.document = unwrap(setLaneLength(part.document, { laneId, lengthTicks: 960 }, part.env));
    part.document = unwrap(copyLane(part.document, { laneId, target: part.channel, paramId: 'pan' }, part.env));
    const [, copy] = lanesOver(part.document, part.homeId);
    expect(copy).toMatchObject({ lengthTicks: 960, points: LINE });
    expect(addLane(part.document, { overId: part.homeId, target: part.channel, paramId: 'pan' }, part.env).ok).toBe(
      false,
    );
  });
});

describe('a dial', () => {
  it('moves settings over ranges of their own, either way round', () => {
    const part = new Moved();
    const plain = part.play();
    const id = part.dial(part.channel, 'gainDb', -0.5, -0.25);
    part.dial({ kind: 'sounds', id: part.partId }, 'gainDb', 0, -0.25);
    for (const position of [0, 0.5, 1]) {
      part.set({ kind: 'modulator', id }, 'position', position);
      expect(part.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-12 + 6 * position - 6 * position), 4);
    }
    const zoneId = part.document.parts[part.partId]!.zoneOrder[0]!;
    part.dial({ kind: 'zone', id: zoneId }, 'gainDb', 0, -0.25);
    expect(part.play()[50_000]).toBeCloseTo(plain[50_000]! * dbToGain(-18), 4);
  });

  it('turned while it sounds is reached without a step, and is then what it would be bounced as', () => {
    const part = new Moved();
    const tone = greatestStep(part.play());
    const id = part.dial(part.channel, 'gainDb', 0, -1);
    part.dial({ kind: 'sounds', id: part.partId }, 'cutoffHz', 0, -0.2);
    const song = new LiveSong(part.document, part.project.assets);
    song.renderer.play();
    song.next(44_100);
    part.set({ kind: 'modulator', id }, 'position', 1);
    const patch = song.edit(part.document)!;
    expect(patch.values).toHaveLength(1);
    expect(song.compiler.compiledCount).toBeLessThan(10);
    expect(greatestStep(song.next(44_100))).toBeLessThan(tone * 1.15);
    song.renderer.play();
    const left = song.next(FRAMES);
    const bounced = part.play();
    // Both are played once what rang on before has faded.
    expect(firstDifference(left.subarray(2_000), bounced.subarray(2_000))).toBe(-1);
  });

  it('is moved by what moves a part, and moves what moves a part', () => {
    const part = new Moved();
    const plain = part.play();
    const id = part.dial(part.channel, 'gainDb', 0, -1);
    const { partId: ownerId, env } = part;
    part.document = unwrap(
      addModulator(
        part.document,
        { ownerId, kind: 'lfo', target: { kind: 'modulator', id }, paramId: 'position', amount: 1 },
        env,
      ),
    );
    const waveId = Object.keys(part.document.modulators).at(-1)!;
    part.set({ kind: 'modulator', id: waveId }, 'rateHz', 1).set({ kind: 'modulator', id: waveId }, 'restarts', false);
    const frame = Math.round(RATE / 4 / CONTROL_FRAMES) * CONTROL_FRAMES + CONTROL_FRAMES - 1;
    expect(Math.abs(part.play()[frame]! / plain[frame]!)).toBeCloseTo(dbToGain(-24), 2);
    // A second dial slows the wave down; a ring is refused.
    const slower = part.dial({ kind: 'modulator', id: waveId }, 'rateHz', 0, -0.25, 1);
    part.set({ kind: 'modulator', id: slower }, 'position', 1);
    const later = Math.round(RATE / 2 / CONTROL_FRAMES) * CONTROL_FRAMES + CONTROL_FRAMES - 1;
    expect(Math.abs(part.play()[later]! / plain[later]!)).toBeCloseTo(dbToGain(-24), 2);
    const ring = putOnMacro(
      part.document,
      { place: 0, target: { kind: 'modulator', id: waveId }, paramId: 'rateHz' },
      env,
    );
    expect(ring.ok).toBe(false);
  });
});
