/** Chorus, flanger, phaser: voices of the sound that sway against it, by short delays or by allpasses. */
import { turn } from '../../../dsp/turns.ts';
import { NOTE_QUARTERS } from '../../../params/effect-rows/common.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { DelayMemory } from './building/delay-memory.ts';
import { noteRound } from './building/note-round.ts';
import { Ramp, Ways } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import { settled } from './building/section.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const SWAY = slotsOf(EFFECT_ROWS.sway);
const [AS_CHORUS, AS_FLANGER, AS_PHASER] = [0, 1, 2] as const;
const MOST_VOICES = 6;
/** Where each voice stands in the round. */
const places = Array.from({ length: MOST_VOICES }, (_, voice) => (2 * Math.PI * voice) / MOST_VOICES);
const PLACE_SINES = Float64Array.from(places, Math.sin);
const PLACE_COSINES = Float64Array.from(places, Math.cos);
/** Delays of chorus and flanger, from the least on, and how far full depth moves them, in ms. */
const CHORUS = { leastMs: 8, mostMs: 14 };
const FLANGER = { leastMs: 0.4, mostMs: 8 };
/** Allpasses of a phaser, and the frequencies between which they sway. */
const STAGES = 6;
const PHASER = { fromHz: 200, toHz: 6000 };

const WAYS = 3;
const depths = scratch();
const feedbacks = scratch();
const spreads = scratch();
const rounds = scratch();
const out = scratch();
const sines = scratch();
const cosines = scratch();
/** Of one voice. */
const distances = scratch();
const got = scratch();
const sums = scratch();
const powers = scratch();
/** Of each way, sample by sample. */
const shares = Array.from({ length: WAYS }, scratch);

/** One side. */
class SwaySide {
  readonly memory: DelayMemory;
  readonly stages = new Float64Array(STAGES);
  /** Of the flanger and of the phaser, what goes round. */
  flanged = 0;
  phased = 0;

  constructor(sampleRate: number) {
    this.memory = new DelayMemory(0.05 * sampleRate);
  }

  reset(): void {
    this.memory.reset();
    this.stages.fill(0);
    this.flanged = this.phased = 0;
  }

  /** Voices that sway, each at a place of its own in the round: read before what comes in is written. */
  chorus(
    into: Float64Array,
    count: number,
    sampleRate: number,
    voices: readonly Float64Array[],
    share: Float64Array,
  ): void {
    const least = (CHORUS.leastMs / 1000) * sampleRate - 1;
    const most = (CHORUS.mostMs / 1000) * sampleRate;
    sums.fill(0, 0, count);
    powers.fill(0, 0, count);
    for (let v = 0; v < MOST_VOICES; v++) {
      const much = voices[v]!;
      if (much[0] === 0 && much[count - 1] === 0) continue;
      // The sine of a sum, of which one part stands.
      const [cosine, sine] = [PLACE_COSINES[v]!, PLACE_SINES[v]!];
      for (let i = 0; i < count; i++) {
        const at = 0.5 + 0.5 * (sines[i]! * cosine + cosines[i]! * sine);
        distances[i] = least + most * depths[i]! * at + 31 * v;
      }
      this.memory.readRun(distances, got, count);
      for (let i = 0; i < count; i++) {
        sums[i]! += much[i]! * got[i]!;
        powers[i]! += much[i]! * much[i]!;
      }
    }
    for (let i = 0; i < count; i++) into[i]! += (share[i]! * sums[i]!) / Math.sqrt(powers[i]!);
  }

  /** Only remembers. */
  keep(input: Float32Array, count: number): void {
    for (let i = 0; i < count; i++) this.memory.write(input[i]!);
    this.flanged = 0;
  }

  /** One voice, which comes back. */
  flange(input: Float32Array, into: Float64Array, count: number, sampleRate: number, share: Float64Array): void {
    let { flanged } = this;
    for (let i = 0; i < count; i++) {
      this.memory.write(input[i]! + feedbacks[i]! * flanged * share[i]!);
      const up = 0.5 + 0.5 * sines[i]!;
      flanged = this.memory.readBetween(((FLANGER.leastMs + FLANGER.mostMs * depths[i]! * up) / 1000) * sampleRate);
      into[i]! += flanged * share[i]!;
    }
    this.flanged = flanged;
  }

  /** First-order allpasses in a row: `y = a x + x1 - a y1`. */
  phase(input: Float32Array, into: Float64Array, count: number, sampleRate: number, share: Float64Array): void {
    const { stages } = this;
    let { phased } = this;
    for (let i = 0; i < count; i++) {
      const up = 0.5 * sines[i]!;
      const hz = PHASER.fromHz * (PHASER.toHz / PHASER.fromHz) ** (0.5 + up * depths[i]!);
      const t = Math.tan((Math.PI * hz) / sampleRate);
      const a = (t - 1) / (t + 1);
      let value = input[i]! + feedbacks[i]! * phased;
      for (let s = 0; s < STAGES; s++) {
        const out = a * value + stages[s]!;
        stages[s] = value - a * out;
        value = out;
      }
      phased = settled(value);
      into[i]! += phased * share[i]!;
    }
    this.phased = phased;
  }
}

export class SwayEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 22_050;
  private readonly sides: readonly [SwaySide, SwaySide];
  private readonly ways = new Ways(WAYS);
  private readonly depth = new Ramp();
  private readonly feedback = new Ramp();
  private readonly spread = new Ramp();
  private readonly voiceRamps = Array.from({ length: MOST_VOICES }, () => new Ramp());
  private readonly voices = Array.from({ length: MOST_VOICES }, scratch);
  private rateHz = 1;
  private quarters = 0;
  /** What changes of the rate have left behind, in rounds, and the frame that would come next. */
  private shift = 0;
  private lastHz = 1;
  private nextFrame = -1;

  constructor(private readonly sampleRate: number) {
    this.sides = [new SwaySide(sampleRate), new SwaySide(sampleRate)];
  }

  set(values: Float64Array): void {
    this.ways.aim(values[SWAY.way]!);
    this.depth.aim(values[SWAY.depth]!);
    this.feedback.aim(values[SWAY.feedback]!);
    this.spread.aim(values[SWAY.spread]! / 2);
    this.rateHz = values[SWAY.rateHz]!;
    this.quarters = values[SWAY.rateIn] === 0 ? NOTE_QUARTERS[values[SWAY.rateNote]!]! : 0;
    const count = values[SWAY.voices]!;
    this.voiceRamps.forEach((ramp, voice) => ramp.aim(Math.max(0, Math.min(1, count - voice))));
  }

  reset(): void {
    for (const side of this.sides) side.reset();
    for (const ramp of [this.depth, this.feedback, this.spread, ...this.voiceRamps]) ramp.reset();
    this.ways.reset();
    this.shift = 0;
    this.nextFrame = -1;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    this.depth.run(depths, frameCount);
    this.feedback.run(feedbacks, frameCount);
    this.spread.run(spreads, frameCount);
    for (let v = 0; v < MOST_VOICES; v++) this.voiceRamps[v]!.run(this.voices[v]!, frameCount);
    for (let i = 0; i < frameCount; i++) {
      rounds[i] = this.nextRound(moment, i);
      this.ways.next();
      for (let way = 0; way < WAYS; way++) shares[way]![i] = this.ways.shares[way]!;
    }
    this.run(this.sides[0], left, frameCount);
    for (let i = 0; i < frameCount; i++) rounds[i]! += spreads[i]!;
    this.run(this.sides[1], right, frameCount);
  }

  private run(side: SwaySide, samples: Float32Array, count: number): void {
    const { only } = this.ways;
    turn(rounds, sines, cosines, count);
    out.fill(0, 0, count);
    if (only < 0 || only === AS_CHORUS) side.chorus(out, count, this.sampleRate, this.voices, shares[AS_CHORUS]!);
    // The flanger writes what comes back as it goes.
    if (only < 0 || only === AS_FLANGER) side.flange(samples, out, count, this.sampleRate, shares[AS_FLANGER]!);
    else side.keep(samples, count);
    if (only < 0 || only === AS_PHASER) side.phase(samples, out, count, this.sampleRate, shares[AS_PHASER]!);
    for (let i = 0; i < count; i++) samples[i] = out[i]!;
  }

  /** Hangs on the song: the same at every play. Another rate goes on from where the round is. */
  private nextRound(moment: Moment, offset: number): number {
    if (this.quarters > 0) return noteRound(moment, offset, this.quarters);
    const songFrame = moment.songFrame + offset;
    if (songFrame !== this.nextFrame) this.shift = 0;
    else if (this.rateHz !== this.lastHz) this.shift += (songFrame / this.sampleRate) * (this.lastHz - this.rateHz);
    this.lastHz = this.rateHz;
    this.nextFrame = songFrame + 1;
    const rounds = (songFrame / this.sampleRate) * this.rateHz + this.shift;
    return rounds - Math.floor(rounds);
  }
}
