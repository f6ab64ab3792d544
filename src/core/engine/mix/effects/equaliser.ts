/** Cuts, shelves and bells in a row. */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { Section } from './building/section.ts';
import { Ways } from './building/ramp.ts';
import type { Effect, StereoBus } from './effect.ts';

const EQ = slotsOf(EFFECT_ROWS.equaliser);
/** Sections of a Butterworth filter of two poles and of four. */
const FLAT_Q = Math.SQRT1_2;
const STEEP_QS = [1 / (2 * Math.cos(Math.PI / 8)), 1 / (2 * Math.cos((3 * Math.PI) / 8))] as const;
const BELLS = [
  [EQ.bell1Hz, EQ.bell1Db, EQ.bell1Q],
  [EQ.bell2Hz, EQ.bell2Db, EQ.bell2Q],
  [EQ.bell3Hz, EQ.bell3Db, EQ.bell3Q],
  [EQ.bell4Hz, EQ.bell4Db, EQ.bell4Q],
] as const;

/** A cut: off, of 12 dB, of 24; one gives way to the other without a step. */
class Cut {
  private readonly gentle: Section;
  private readonly steep: readonly [Section, Section];
  private readonly ways = new Ways(3);
  private readonly soft = { left: new Float32Array(32), right: new Float32Array(32) };
  private readonly hard = { left: new Float32Array(32), right: new Float32Array(32) };

  constructor(
    sampleRate: number,
    private readonly turn: (section: Section, hz: number, q: number) => void,
  ) {
    this.gentle = new Section(sampleRate);
    this.steep = [new Section(sampleRate), new Section(sampleRate)];
  }

  reset(): void {
    this.ways.reset();
    for (const section of [this.gentle, ...this.steep]) section.reset();
  }

  set(way: number, hz: number): void {
    this.ways.aim(way);
    this.turn(this.gentle, hz, FLAT_Q);
    this.turn(this.steep[0], hz, STEEP_QS[0]);
    this.turn(this.steep[1], hz, STEEP_QS[1]);
  }

  process(left: Float32Array, right: Float32Array, count: number): void {
    const { ways, gentle, steep, soft, hard } = this;
    if (ways.only === 0) return;
    for (let i = 0; i < count; i++) {
      soft.left[i] = hard.left[i] = left[i]!;
      soft.right[i] = hard.right[i] = right[i]!;
    }
    gentle.process(soft.left, soft.right, count);
    steep[0].process(hard.left, hard.right, count);
    steep[1].process(hard.left, hard.right, count);
    for (let i = 0; i < count; i++) {
      ways.next();
      const off = ways.shares[0]!;
      const twelve = ways.shares[1]!;
      const more = ways.shares[2]!;
      left[i] = left[i]! * off + soft.left[i]! * twelve + hard.left[i]! * more;
      right[i] = right[i]! * off + soft.right[i]! * twelve + hard.right[i]! * more;
    }
  }
}

export class EqualiserEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 22_050;
  private readonly lowCut: Cut;
  private readonly highCut: Cut;
  private readonly lowShelf: Section;
  private readonly highShelf: Section;
  private readonly bells: readonly Section[];
  /** Sections that do something; one that did goes on until it is reset: what it holds rings on. */
  private readonly isIn = new Uint8Array(2 + BELLS.length);

  constructor(sampleRate: number) {
    this.lowCut = new Cut(sampleRate, (section, hz, q) => section.lowCut(hz, q));
    this.highCut = new Cut(sampleRate, (section, hz, q) => section.highCut(hz, q));
    this.lowShelf = new Section(sampleRate);
    this.highShelf = new Section(sampleRate);
    this.bells = BELLS.map(() => new Section(sampleRate));
  }

  reset(): void {
    for (const one of [this.lowCut, this.highCut, this.lowShelf, this.highShelf, ...this.bells]) one.reset();
    this.isIn.fill(0);
  }

  set(values: Float64Array): void {
    const { isIn } = this;
    this.lowCut.set(values[EQ.lowCut]!, values[EQ.lowCutHz]!);
    this.highCut.set(values[EQ.highCut]!, values[EQ.highCutHz]!);
    this.lowShelf.lowShelf(values[EQ.lowShelfHz]!, FLAT_Q, values[EQ.lowShelfDb]!);
    this.highShelf.highShelf(values[EQ.highShelfHz]!, FLAT_Q, values[EQ.highShelfDb]!);
    if (values[EQ.lowShelfDb] !== 0) isIn[0] = 1;
    if (values[EQ.highShelfDb] !== 0) isIn[1] = 1;
    for (let b = 0; b < BELLS.length; b++) {
      const [hz, gainDb, q] = BELLS[b]!;
      this.bells[b]!.bell(values[hz]!, values[q]!, values[gainDb]!);
      if (values[gainDb] !== 0) isIn[2 + b] = 1;
    }
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    const { isIn } = this;
    this.lowCut.process(left, right, frameCount);
    if (isIn[0]) this.lowShelf.process(left, right, frameCount);
    for (let b = 0; b < BELLS.length; b++) if (isIn[2 + b]) this.bells[b]!.process(left, right, frameCount);
    if (isIn[1]) this.highShelf.process(left, right, frameCount);
    this.highCut.process(left, right, frameCount);
  }
}
