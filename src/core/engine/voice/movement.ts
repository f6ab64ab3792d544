/**
 * What moves in a voice from control step to control step: levels on their way to new settings, glide, wheel, modulators,
 * and the filter that they open and close.
 */
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import { ZONE_ROWS } from '../../params/tables.ts';
import { hashed01 } from '../../units/hash.ts';
import { stepsToReach, movedValue, rowMoves } from '../control/row-moves.ts';
import { modulate, type ModulatorState } from '../control/modulation.ts';
import { controlView } from '../control/modulators.ts';
import type { PartState } from '../part-state.ts';
import { PART } from '../part-state.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import { ZONE, type ZoneState } from '../zone-state.ts';
import { VoiceFilter } from './filter.ts';
import type { VoiceStart } from './start.ts';
import { SHAPE_OFF } from './svf.ts';

const TICKS_PER_QUARTER = 960;
/** What random detuning is drawn from, beside the hit itself. */
const DETUNE_STREAM = 7919;
const STEEP = 1;
/** Cutoffs follow keys around this one. */
const MIDDLE_KEY = 60;

const MOVES = rowMoves(ZONE_ROWS);
/** Shared, for voices are worked out one after another: what moves each setting, and the settings that a voice begins with. */
const moved = new Float64Array(Object.keys(ZONE_ROWS).length);
const begun = new Float64Array(moved.length);
const filtered = { shape: 0, isSteep: false, cutoffHz: 1000, resonance: 0, driveDb: 0 };

export class Movement {
  /** Levels as they stand, without modulators. */
  gainLeft = 0;
  gainRight = 0;
  /** Levels of the next frame, and their change from frame to frame, in moving runs. */
  movedLeft = 0;
  movedRight = 0;
  slopeLeft = 0;
  slopeRight = 0;
  /** What the pitch is off by now, in cents. */
  cents = 0;
  readonly filter = new VoiceFilter();
  readonly view = controlView();
  private zone: ZoneState | null = null;
  private part: PartState | null = null;
  private clock: SongClock | null = null;
  private sampleRate = 44100;
  private eventGain = 1;
  private eventPan = 0;
  private followsWheel = false;
  private rampSteps = 0;
  private mostRampSteps = 1;
  private targetLeft = 0;
  private targetRight = 0;
  private shape = SHAPE_OFF;
  private isSteep = false;
  private cutoffHz = 0;
  private resonance = 0;
  private driveDb = 0;
  private isFirstStep = true;
  /** Its waves that run free hang on the song, not on the key. */
  private hangsOnSong = false;
  private lookedAtFrames = 0;
  /** Of the hit, once and for all. */
  private detuneCents = 0;
  private glideCents = 0;
  private glideFrames = 0;

  start(zone: ZoneState, part: PartState | null, start: VoiceStart): void {
    const { values } = zone;
    this.zone = zone;
    this.part = part;
    this.clock = start.clock;
    this.sampleRate = start.sampleRate;
    this.eventGain = start.gain;
    this.eventPan = start.pan;
    this.followsWheel = start.origin === 'key';
    this.rampSteps = 0;
    this.isFirstStep = true;
    this.hangsOnSong = start.clock?.isRunning ?? false;
    this.lookedAtFrames = 0;
    this.view.voiceQuarters = 0;
    this.filter.reset();
    this.shape = values[ZONE.filter]!;
    this.isSteep = values[ZONE.slope] === STEEP;
    this.cutoffHz = values[ZONE.cutoffHz]!;
    this.resonance = values[ZONE.resonance]!;
    this.driveDb = values[ZONE.driveDb]!;
    const random = values[ZONE.randomCents]!;
    this.detuneCents = random === 0 ? 0 : random * (2 * hashed01(start.seed, DETUNE_STREAM) - 1);
    this.glideCents = start.glideCents;
    this.glideFrames = start.glideFrames;
    this.cents = this.detuneCents + this.glideCents;
    const { view } = this;
    view.velocity = start.velocity;
    view.key = start.key < 0 ? MIDDLE_KEY : start.key;
    view.seed = start.seed;
    view.controls = part?.controls ?? null;
    view.releasedAtSeconds = Infinity;
    view.turns.fill(0);
    this.mostRampSteps = Math.max(1, stepsToReach(MOVES, ZONE.gainDb, start.sampleRate));
    this.aim();
    this.gainLeft = this.targetLeft;
    this.gainRight = this.targetRight;
  }

  /** The settings of its zone as they are moved when it begins: shared, to be used before the next. */
  valuesAtStart(frame: number): Float64Array {
    const { values } = this.zone!;
    if (!this.zone!.isMoved) return values;
    this.look(0, frame);
    modulate(this.modulators, this.zone!.given, this.view, moved);
    for (let slot = 0; slot < begun.length; slot++) begun[slot] = movedValue(MOVES, slot, values[slot]!, moved[slot]!);
    return begun;
  }

  private get modulators(): readonly ModulatorState[] {
    return this.zone!.modulators;
  }

  /** Works out the levels that the zone's settings and the event give. */
  private aim(): void {
    const zone = this.zone!;
    const pan = zone.values[ZONE.pan]! + this.eventPan;
    this.targetLeft = this.eventGain * (zone.level * panLeftGain(pan));
    this.targetRight = this.eventGain * (zone.level * panRightGain(pan));
  }

  /** Follows settings of its zone that have changed while it sounds. */
  followValues(): void {
    const { values } = this.zone!;
    const { targetLeft, targetRight } = this;
    this.aim();
    const isMoved = targetLeft !== this.targetLeft || targetRight !== this.targetRight;
    const isOther = this.shape !== values[ZONE.filter] || this.cutoffHz !== values[ZONE.cutoffHz];
    const isSlope = this.isSteep !== (values[ZONE.slope] === STEEP) || this.resonance !== values[ZONE.resonance];
    if (isMoved || isOther || isSlope || this.driveDb !== values[ZONE.driveDb]) this.rampSteps = this.mostRampSteps;
    this.isSteep = values[ZONE.slope] === STEEP;
    this.shape = values[ZONE.filter]!;
    if (!this.hasFilter && !this.filter.isActive) {
      this.cutoffHz = values[ZONE.cutoffHz]!;
      this.resonance = values[ZONE.resonance]!;
    }
  }

  /** Goes on from where another voice is. */
  follow(other: Movement): void {
    this.filter.follow(other.filter);
    this.glideCents = other.glideCents;
    this.glideFrames = other.glideFrames;
    this.detuneCents = other.detuneCents;
    this.view.seed = other.view.seed;
    this.view.releasedAtSeconds = other.view.releasedAtSeconds;
    this.view.voiceQuarters = other.view.voiceQuarters;
    this.view.turns.set(other.view.turns);
    this.lookedAtFrames = other.lookedAtFrames;
    this.hangsOnSong = other.hangsOnSong;
  }

  get hasFilter(): boolean {
    return this.shape !== SHAPE_OFF || this.driveDb > 0;
  }

  get isMoving(): boolean {
    return (
      this.rampSteps > 0 ||
      this.hasFilter ||
      this.filter.isActive ||
      this.glideFrames > 0 ||
      this.zone!.isMoved ||
      (this.followsWheel && this.view.controls !== null && this.view.controls.bend !== 0)
    );
  }

  /** Did it stand still up to now? Then it has to be worked out at once, and not at the next step. */
  get hasToBegin(): boolean {
    return this.isFirstStep;
  }

  /** Nothing moves any more: the next time it begins anew. */
  rest(): void {
    this.isFirstStep = true;
    this.cents = this.detuneCents;
  }

  private look(ageFrames: number, frame: number): void {
    const { view, sampleRate, clock } = this;
    view.sinceSeconds = (ageFrames - this.lookedAtFrames) / sampleRate;
    view.voiceSeconds = ageFrames / sampleRate;
    // Step by step, so that another tempo goes on from where the last one has come to.
    view.voiceQuarters += ((ageFrames - this.lookedAtFrames) / sampleRate) * ((clock?.tempoBpm ?? 120) / 60);
    this.lookedAtFrames = ageFrames;
    const isOfSong = this.hangsOnSong && clock !== null;
    view.songSeconds = isOfSong ? (frame - clock.zeroFrame) / sampleRate : view.voiceSeconds;
    view.songQuarters = isOfSong ? clock.ticksAt(frame) / TICKS_PER_QUARTER : view.voiceQuarters;
  }

  /**
   * Works out what moves for the control step that a frame lies in.
   * @param ageFrames since the voice began
   * @param framesToNext until the next step
   */
  control(ageFrames: number, frame: number, framesToNext: number): void {
    const zone = this.zone!;
    const { values } = zone;
    const { modulators } = this;
    if (this.rampSteps > 0) {
      this.gainLeft += (this.targetLeft - this.gainLeft) / this.rampSteps;
      this.gainRight += (this.targetRight - this.gainRight) / this.rampSteps;
      this.cutoffHz *= (values[ZONE.cutoffHz]! / this.cutoffHz) ** (1 / this.rampSteps);
      this.resonance += (values[ZONE.resonance]! - this.resonance) / this.rampSteps;
      this.driveDb += (values[ZONE.driveDb]! - this.driveDb) / this.rampSteps;
      this.rampSteps--;
    }
    let left = this.gainLeft;
    let right = this.gainRight;
    let cutoffCents = values[ZONE.velocityCutoffCents]! * (this.view.velocity - 1);
    let { resonance, driveDb } = this;
    let cents = this.detuneCents + this.glidedCents(framesToNext) + this.wheelCents();
    const byKey = values[ZONE.cutoffKeyShare]!;
    if (byKey !== 0) cutoffCents += byKey * (this.view.key - MIDDLE_KEY) * 100;
    if (zone.isMoved) {
      this.look(ageFrames, frame);
      modulate(modulators, zone.given, this.view, moved);
      const gainDb = moved[ZONE.gainDb]!;
      const level = gainDb === 0 ? 1 : dbToGain(gainDb);
      if (moved[ZONE.pan] === 0) {
        left *= level;
        right *= level;
      } else {
        const pan = values[ZONE.pan]! + this.eventPan + moved[ZONE.pan]!;
        const gain = this.eventGain * zone.level * level;
        left = gain * panLeftGain(pan);
        right = gain * panRightGain(pan);
      }
      cents += moved[ZONE.tuneCents]!;
      cutoffCents += moved[ZONE.cutoffHz]!;
      resonance += moved[ZONE.resonance]!;
      driveDb += moved[ZONE.driveDb]!;
    }
    this.cents = cents;
    if (this.hasFilter || driveDb > 0 || this.filter.isActive) {
      filtered.shape = this.shape;
      filtered.isSteep = this.isSteep;
      filtered.cutoffHz = cutoffCents === 0 ? this.cutoffHz : this.cutoffHz * 2 ** (cutoffCents / 1200);
      filtered.resonance = resonance;
      filtered.driveDb = driveDb;
      this.filter.set(filtered, this.sampleRate);
    }
    if (this.isFirstStep) {
      this.movedLeft = left;
      this.movedRight = right;
      this.isFirstStep = false;
    }
    this.slopeLeft = (left - this.movedLeft) / framesToNext;
    this.slopeRight = (right - this.movedRight) / framesToNext;
  }

  /** What is left of the glide, which goes on by so many frames. */
  private glidedCents(frames: number): number {
    if (this.glideFrames <= 0) return 0;
    const { glideCents } = this;
    this.glideCents -= glideCents * Math.min(1, frames / this.glideFrames);
    this.glideFrames = Math.max(0, this.glideFrames - frames);
    return glideCents;
  }

  private wheelCents(): number {
    const { controls } = this.view;
    return this.followsWheel && controls ? controls.bend * (this.part?.values[PART.bendCents] ?? 0) : 0;
  }
}
