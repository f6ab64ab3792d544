/**
 * Paths side by side: the sound goes through each of two to four rows of effects, which join again, all together at their
 * levels or one after another. A path that takes less time than the others waits for them.
 */
import { MOST_PATHS, NOTHING_DB } from '../../../params/effect-rows/paths.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { CONTROL_FRAMES } from '../../control/control-step.ts';
import type { EffectFragment } from '../../plan/fragments.ts';
import { EffectRow } from '../effect-row.ts';
import type { EffectSlot } from '../slot.ts';
import { Wait } from '../wait.ts';
import { Ramp } from './building/ramp.ts';
import { shareOfPlace } from './building/share-of-place.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const PATHS = slotsOf(EFFECT_ROWS.paths);
const LEVELS = [PATHS.level1, PATHS.level2, PATHS.level3, PATHS.level4];
/** The first of the choices of `count`. */
const FEWEST = 2;
const TOGETHER = 0;

const stepBus = () => ({ left: new Float32Array(CONTROL_FRAMES), right: new Float32Array(CONTROL_FRAMES) });

interface Path {
  row: EffectRow<EffectSlot>;
  wait: Wait;
  level: Ramp;
}

export class PathsEffect implements Effect {
  readonly rows: readonly EffectRow<EffectSlot>[];
  private readonly paths: readonly Path[];
  private readonly input = stepBus();
  private readonly bus = stepBus();

  /** @param makeSlot of an effect in a path */
  constructor(makeSlot: (fragment: EffectFragment) => EffectSlot) {
    this.paths = Array.from({ length: MOST_PATHS }, () => ({
      row: new EffectRow(makeSlot),
      wait: new Wait(),
      level: new Ramp(),
    }));
    this.rows = this.paths.map(({ row }) => row);
  }

  takePaths(fragments: readonly (readonly EffectFragment[])[]): void {
    this.paths.forEach(({ row }, place) => {
      const isNew = row.isEmpty;
      row.take(fragments[place] ?? []);
      // Nothing went through it differently until now, or it comes in together with all paths.
      if (isNew && !this.isHeard) row.arrive();
    });
    const latest = this.latencyFrames;
    for (const { row, wait } of this.paths) wait.aim(latest - row.latencyFrames, !this.isHeard);
  }

  /** Has any path been set to a level yet? */
  private isHeard = false;

  get latencyFrames(): number {
    return this.mostOf(latencyOf);
  }

  get runInFrames(): number {
    return this.mostOf(runInOf);
  }

  get restFrames(): number {
    return this.mostOf(restOf);
  }

  private mostOf(framesOf: (row: EffectRow<EffectSlot>) => number): number {
    let most = 0;
    for (let p = 0; p < this.rows.length; p++) most = Math.max(most, framesOf(this.rows[p]!));
    return most;
  }

  get isPassive(): boolean {
    return this.rows.every((row) => row.isAtRest);
  }

  set(values: Float64Array): void {
    const count = values[PATHS.count]! + FEWEST;
    const at = values[PATHS.which]! * (count - 1);
    for (let p = 0; p < MOST_PATHS; p++) {
      const levelDb = values[LEVELS[p]!]!;
      const together = levelDb <= NOTHING_DB ? 0 : dbToGain(levelDb);
      const level = values[PATHS.joins] === TOGETHER ? together : shareOfPlace(p, at);
      this.paths[p]!.level.aim(p < count ? level : 0);
    }
    this.isHeard = true;
  }

  reset(): void {
    for (let p = 0; p < MOST_PATHS; p++) {
      const { row, wait, level } = this.paths[p]!;
      row.restart();
      wait.reset();
      level.reset();
    }
    this.isHeard = false;
  }

  process(wet: StereoBus, count: number, moment: Moment): void {
    const { input, bus, paths } = this;
    copy(wet, input, count);
    wet.left.fill(0, 0, count);
    wet.right.fill(0, 0, count);
    for (let p = 0; p < MOST_PATHS; p++) {
      const { row, wait, level } = paths[p]!;
      if (row.isEmpty && level.now === 0 && !level.isMoving && !wait.isNeeded) continue;
      copy(input, bus, count);
      row.process(bus, 0, count, moment);
      wait.run(bus, 0, count);
      for (let i = 0; i < count; i++) {
        const gain = level.next();
        wet.left[i]! += bus.left[i]! * gain;
        wet.right[i]! += bus.right[i]! * gain;
      }
    }
  }
}

const latencyOf = (row: EffectRow<EffectSlot>): number => row.latencyFrames;
const runInOf = (row: EffectRow<EffectSlot>): number => row.runInFrames;
const restOf = (row: EffectRow<EffectSlot>): number => row.restFrames;

function copy(from: StereoBus, to: StereoBus, count: number): void {
  for (let i = 0; i < count; i++) {
    to.left[i] = from.left[i]!;
    to.right[i] = from.right[i]!;
  }
}
