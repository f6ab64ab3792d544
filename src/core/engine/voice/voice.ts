/**
 * One sounding zone: a reader of samples, a level envelope, a filter, and what moves them. Voices are made once and used
 * again; nothing here allocates while sound runs. What stands still is played in long runs; what moves, in control steps
 * on the absolute grid of frames, so that the size of the blocks changes nothing.
 */
import { SINC_RUN } from '../../dsp/sinc.ts';
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import { transposeRatio } from '../../units/pitch.ts';
import type { PartState } from '../part-state.ts';
import { ZONE, type ZoneState } from '../zone-state.ts';
import { Envelope } from './envelope.ts';
import { CONTROL_FRAMES, modulate, type Modulation } from './modulation.ts';
import { SampleReader } from './reader.ts';
import { fadeInOf, fadeOutOf, type Origin, type VoiceStart } from './start.ts';
import { SHAPE_OFF, StereoFilter } from './svf.ts';

/** Control steps in which a level that was set is reached: 256 frames. */
const RAMP_STEPS = 8;

const GATE = 1;
const msToFrames = (ms: number, sampleRate: number) => Math.round((ms / 1000) * sampleRate);

export class Voice {
  active = false;
  zone: ZoneState | null = null;
  part: PartState | null = null;
  origin: Origin = 'pattern';
  noteId = -1;
  /** Order of starting, to find the oldest. */
  serial = 0;
  playsRemainder = false;
  /** Already fading out after a stop. */
  stopping = false;
  stopAtTicks = Infinity;
  /** What the event brought: level, pan, tuning. */
  eventGain = 1;
  eventPan = 0;
  eventCents = 0;

  readonly reader = new SampleReader();
  readonly envelope = new Envelope();
  private readonly filter = new StereoFilter();
  private sampleRate = 44100;
  private songTempoBpm = 120;
  /** A remainder comes after the slice's own end. */
  private hasRemainder = false;
  /** Output frames played and to play, and the absolute frame of age 0. */
  private ageFrames = 0;
  private lengthFrames = 0;
  private birthFrame = 0;
  /** A last sample that is heard once more, so that the next slice joins. */
  private repeatedFrames = 0;
  private gainLeft = 0;
  private gainRight = 0;
  private fadeInFrames = 0;
  private fadeOutFrames = 0;
  private releaseFrames = 1;
  private isGated = false;
  /** Frames of the stop's fade that remain, and its whole length. */
  private stopLeftFrames = 0;
  private stopFrames = 0;
  /** Age at which it is stopped. */
  private stopAgeFrames = Infinity;
  private stopFadeFrames = 1;
  /** What moves: levels on their way, and the state of the last control step. */
  private rampSteps = 0;
  private targetLeft = 0;
  private targetRight = 0;
  private shape = SHAPE_OFF;
  private cutoffHz = 0;
  private resonance = 0;
  private slopeLeft = 0;
  private slopeRight = 0;
  private movedLeft = 0;
  private movedRight = 0;
  private isFirstStep = true;

  /** Begins a zone; `serial` grows with every start. */
  start(zone: ZoneState, part: PartState | null, start: VoiceStart, serial: number): void {
    const { sound, values } = zone;
    const source = zone.source!;
    this.active = true;
    this.zone = zone;
    this.part = part;
    this.origin = start.origin;
    this.noteId = start.noteId;
    this.isGated = values[ZONE.answer] === GATE && start.noteId >= 0;
    this.serial = serial;
    this.sampleRate = start.sampleRate;
    this.songTempoBpm = start.songTempoBpm;
    const natural = zone.increment(start.sampleRate, start.songTempoBpm, start.tuneCents);
    const increment = natural * zone.partTune;
    const length = source.channels[0]!.length;
    const naturalEnd = Math.min(sound.naturalEndFrame, length);
    const last = start.playsRemainder && !start.reverse ? Math.min(sound.endFrame, length) : naturalEnd;
    this.reader.start(source, increment, { startFrame: sound.startFrame, endFrame: last, bodyEnd: naturalEnd }, start);
    this.hasRemainder = sound.hasRemainder && start.playsRemainder && !start.reverse;
    this.ageFrames = 0;
    this.birthFrame = start.frame;
    this.lengthFrames = Math.max(1, Math.floor((last - sound.startFrame) / increment) + Math.min(0, start.joinFrames));
    this.repeatedFrames = Math.max(0, start.joinFrames);
    this.eventGain = start.gain;
    this.eventPan = start.pan;
    this.eventCents = start.tuneCents;
    this.playsRemainder = start.playsRemainder;
    this.fadeInFrames = start.joinsPrevious ? 0 : fadeInOf(this.reader, zone, start);
    const bodyFrames = Math.max(1, (naturalEnd - sound.startFrame) / natural);
    this.fadeOutFrames = start.joinsNext ? 0 : fadeOutOf(zone, start, bodyFrames);
    this.envelope.start(
      msToFrames(values[ZONE.attackMs]!, start.sampleRate),
      msToFrames(values[ZONE.decayMs]!, start.sampleRate),
      values[ZONE.sustain]!,
    );
    this.releaseFrames = Math.max(1, msToFrames(values[ZONE.releaseMs]!, start.sampleRate));
    this.stopping = false;
    this.stopLeftFrames = 0;
    this.stopFrames = 0;
    this.stopAtTicks = start.stopAtTicks;
    this.stopAgeFrames = start.stopAtFrame - start.frame;
    this.stopFadeFrames = start.stopFadeFrames;
    this.rampSteps = 0;
    this.isFirstStep = true;
    this.filter.reset();
    this.shape = values[ZONE.filter]!;
    this.cutoffHz = values[ZONE.cutoffHz]!;
    this.resonance = values[ZONE.resonance]!;
    this.aimLevels(zone);
    this.gainLeft = this.targetLeft;
    this.gainRight = this.targetRight;
  }

  /** Works out the levels that the zone's settings and the event give. */
  private aimLevels(zone: ZoneState): void {
    const pan = zone.values[ZONE.pan]! + this.eventPan;
    this.targetLeft = this.eventGain * (zone.level * panLeftGain(pan));
    this.targetRight = this.eventGain * (zone.level * panRightGain(pan));
  }

  /** Follows settings of its zone that have changed while it sounds. */
  followValues(): void {
    const zone = this.zone!;
    const { values } = zone;
    const { targetLeft, targetRight } = this;
    this.aimLevels(zone);
    const isMoved = targetLeft !== this.targetLeft || targetRight !== this.targetRight;
    if (isMoved || this.shape !== values[ZONE.filter] || this.cutoffHz !== values[ZONE.cutoffHz]) {
      this.rampSteps = RAMP_STEPS;
    }
    this.shape = values[ZONE.filter]!;
    this.resonance = values[ZONE.resonance]!;
    this.retune(zone.increment(this.sampleRate, this.songTempoBpm, this.eventCents) * zone.partTune);
  }

  /** Fades out within `fadeFrames` from now on; a faster fade that runs already goes on. */
  stop(fadeFrames: number): void {
    const fade = Math.max(1, fadeFrames);
    if (this.stopping && this.stopLeftFrames <= fade) return;
    const level = this.stopping ? this.stopLeftFrames / this.stopFrames : 1;
    this.stopping = true;
    this.stopFrames = Math.max(1, Math.round(fade / level));
    this.stopLeftFrames = fade;
  }

  /** It is stopped at another frame: the tempo has changed. */
  stopAt(frame: number): void {
    this.stopAgeFrames = Math.max(this.ageFrames, frame - this.birthFrame);
  }

  /** The song stands elsewhere now: its end stays where it is in time. */
  forgetTicks(): void {
    this.stopAtTicks = Infinity;
  }

  /** Goes on at the song's new tempo. */
  setTempo(songTempoBpm: number): void {
    this.songTempoBpm = songTempoBpm;
  }

  /** Follows its zone: the same samples at another speed. */
  follow(): void {
    const zone = this.zone!;
    this.retune(zone.increment(this.sampleRate, this.songTempoBpm, this.eventCents) * zone.partTune);
  }

  /** Plays on at another increment, from where it is. */
  private retune(increment: number): void {
    if (!this.reader.retune(increment)) return;
    this.lengthFrames = this.ageFrames + this.reader.framesLeft;
    this.fadeOutFrames = Math.min(this.fadeOutFrames, Math.max(1, this.lengthFrames - this.ageFrames));
    this.repeatedFrames = 0;
  }

  /** Begins further on, as if `gone` output frames had been played, fading in within `fadeFrames`; or is over by then. */
  skip(gone: number, fadeFrames: number): void {
    if (gone >= this.lengthFrames) {
      this.active = false;
      return;
    }
    this.reader.skip(gone);
    this.lengthFrames -= gone;
    this.fadeInFrames = fadeFrames;
  }

  /** Has it played this share of its slice, and a remainder to come? */
  hasOnlyRemainder(share: number): boolean {
    return this.hasRemainder && this.reader.playedShare >= share;
  }

  /** Does it play these samples? */
  plays(sourceId: string | undefined): boolean {
    return this.reader.sourceId === sourceId;
  }

  /**
   * Output frames of another voice of the same slice that would have brought it to where this one is.
   * @param byShare the other is stretched: the same share of the slice, not the same distance from its start, unless
   * both sound alike for most of their length (a hit that dies away is not stretched)
   */
  framesTo(other: Voice, byShare: boolean): number {
    return this.reader.framesTo(other.reader, byShare, other.lengthFrames);
  }

  /** Takes over from another voice: its envelope, its filter, and when it was to be stopped. */
  takeOver(other: Voice): void {
    this.envelope.follow(other.envelope);
    this.filter.follow(other.filter);
    this.stopAtTicks = other.stopAtTicks;
    this.stopAgeFrames =
      other.stopAgeFrames === Infinity ? Infinity : Math.max(1, other.stopAgeFrames - other.ageFrames);
  }

  get isReversed(): boolean {
    return this.reader.step < 0;
  }

  /** What was to join this slice will not: it fades at its end after all. */
  dropJoin(): void {
    if (this.fadeOutFrames === 0)
      this.fadeOutFrames = Math.min(this.stopFadeFrames, Math.max(1, this.lengthFrames - this.ageFrames));
    this.repeatedFrames = 0;
  }

  /** Output frames that are left to sound, when nothing stops it before. */
  get remainingFrames(): number {
    return this.lengthFrames + this.repeatedFrames - this.ageFrames;
  }

  /** How loud its fade leaves it, 0..1: what is nearly gone is missed least. */
  get fadeLevel(): number {
    return this.stopping ? this.stopLeftFrames / this.stopFrames : 1;
  }

  /** Where in the source the voice is, in frames. */
  get sourceFrame(): number {
    return Math.floor(this.reader.position);
  }

  /** The key was let go. */
  letGo(): void {
    this.noteId = -1;
    if (this.isGated) this.stop(this.releaseFrames);
  }

  /** Adds `count` frames to the outputs from `offset` on; `frame` is the absolute one of the first. */
  render(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number, frame: number): void {
    const end = offset + Math.min(count, this.lengthFrames - this.ageFrames);
    let at = offset;
    while (at < end && this.active) {
      if (this.ageFrames === this.stopAgeFrames) this.stop(this.stopFadeFrames);
      let run = Math.min(end - at, MAX_RUN);
      if (this.stopAgeFrames > this.ageFrames) run = Math.min(run, this.stopAgeFrames - this.ageFrames);
      if (this.isMoving) {
        const now = frame + at - offset;
        run = Math.min(run, CONTROL_FRAMES - (now % CONTROL_FRAMES));
        if (this.isFirstStep || now % CONTROL_FRAMES === 0) this.control(now);
        run = this.fillLevels(run);
        this.renderMoving(outLeft, outRight, at, run);
        at += run;
        continue;
      }
      const steady = Math.min(run, this.steadyFrames());
      if (steady > 0 && this.reader.exact) {
        this.copyRun(outLeft, outRight, at, steady, this.envelope.steadyLevel);
        at += steady;
        continue;
      }
      run = this.fillLevels(run);
      this.renderRun(outLeft, outRight, at, run);
      at += run;
    }
    if (!this.active || this.ageFrames < this.lengthFrames) return;
    if (this.repeatedFrames > 0 && at < offset + count) this.hold(outLeft, outRight, at);
    if (this.repeatedFrames === 0) this.active = false;
  }

  /** Repeats its last sample, once. */
  private hold(outLeft: Float32Array, outRight: Float32Array, at: number): void {
    this.reader.addLast(outLeft, outRight, at, this.gainLeft, this.gainRight);
    this.repeatedFrames = 0;
  }

  private get isMoving(): boolean {
    return this.rampSteps > 0 || this.shape !== SHAPE_OFF || this.zone!.fragment.modulators.length > 0;
  }

  /** Works out what moves for the next control step: levels at its end, pitch, and the filter. */
  private control(frame: number): void {
    const zone = this.zone!;
    const { values } = zone;
    const { modulators } = zone.fragment;
    const framesToNext = CONTROL_FRAMES - (frame % CONTROL_FRAMES);
    if (this.rampSteps > 0) {
      this.gainLeft += (this.targetLeft - this.gainLeft) / this.rampSteps;
      this.gainRight += (this.targetRight - this.gainRight) / this.rampSteps;
      this.cutoffHz *= (values[ZONE.cutoffHz]! / this.cutoffHz) ** (1 / this.rampSteps);
      this.rampSteps--;
    }
    let left = this.gainLeft;
    let right = this.gainRight;
    let cutoffHz = this.cutoffHz;
    if (modulators.length > 0) {
      modulate(modulators, this.envelope.ageFrames / this.sampleRate, frame / this.sampleRate, moved);
      const level = moved.gainDb === 0 ? 1 : dbToGain(moved.gainDb);
      if (moved.pan === 0) {
        left *= level;
        right *= level;
      } else {
        const pan = values[ZONE.pan]! + this.eventPan + moved.pan;
        const gain = this.eventGain * zone.level * level;
        left = gain * panLeftGain(pan);
        right = gain * panRightGain(pan);
      }
      const natural = zone.increment(this.sampleRate, this.songTempoBpm, this.eventCents) * zone.partTune;
      this.retune(moved.tuneCents === 0 ? natural : natural * transposeRatio(0, moved.tuneCents));
      if (moved.cutoffHz !== 0) cutoffHz *= 2 ** (moved.cutoffHz / 1200);
    }
    if (this.shape !== SHAPE_OFF) this.filter.set(this.shape, cutoffHz, this.resonance, this.sampleRate);
    if (this.isFirstStep) {
      this.movedLeft = left;
      this.movedRight = right;
      this.isFirstStep = false;
    }
    this.slopeLeft = (left - this.movedLeft) / framesToNext;
    this.slopeRight = (right - this.movedRight) / framesToNext;
  }

  /** Frames from now on through which the level stands still; 0 while a fade or the envelope moves it. */
  private steadyFrames(): number {
    if (this.stopping || this.ageFrames < this.fadeInFrames || !this.envelope.isSteady) return 0;
    return this.lengthFrames - this.fadeOutFrames - this.ageFrames;
  }

  private advance(count: number): void {
    this.ageFrames += count;
    this.envelope.ageFrames += count;
  }

  /** Adds frames of the source as they are, at one level: by far the commonest case, and several times as fast. */
  private copyRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number, level: number): void {
    this.reader.copy(outLeft, outRight, from, count, this.gainLeft * level, this.gainRight * level);
    this.advance(count);
  }

  /** Works out the level of the next frames, envelope, fades and stop together; gives how many are left to sound. */
  private fillLevels(count: number): number {
    const { ageFrames: age, envelope, fadeInFrames } = this;
    if (envelope.isSteady) levels.fill(envelope.steadyLevel, 0, count);
    else for (let i = 0; i < count; i++) levels[i] = envelope.levelAt(i);
    for (let i = 0; i < Math.min(count, fadeInFrames - age); i++) levels[i]! *= (age + i + 1) / (fadeInFrames + 1);
    const fadeFrom = this.lengthFrames - this.fadeOutFrames - age;
    for (let i = Math.max(0, fadeFrom); i < count; i++)
      levels[i]! *= (this.lengthFrames - age - i - 1) / this.fadeOutFrames;
    if (!this.stopping) return count;
    const sounding = Math.min(count, this.stopLeftFrames);
    for (let i = 0; i < sounding; i++) levels[i]! *= (this.stopLeftFrames - i) / this.stopFrames;
    this.stopLeftFrames -= sounding;
    if (this.stopLeftFrames === 0) this.active = false;
    return sounding;
  }

  /** Adds frames whose levels, pitch or filter move. */
  private renderMoving(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    this.reader.read(count, rawLeft, rawRight);
    if (this.shape !== SHAPE_OFF) this.filter.process(rawLeft, rawRight, 0, count);
    let { movedLeft, movedRight } = this;
    const { slopeLeft, slopeRight } = this;
    for (let i = 0; i < count; i++) {
      movedLeft += slopeLeft;
      movedRight += slopeRight;
      outLeft[from + i]! += rawLeft[i]! * levels[i]! * movedLeft;
      outRight[from + i]! += rawRight[i]! * levels[i]! * movedRight;
    }
    this.movedLeft = movedLeft;
    this.movedRight = movedRight;
    this.advance(count);
    if (!this.isMoving) this.isFirstStep = true;
  }

  /** Adds frames at the levels worked out and moves on. */
  private renderRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    this.reader.add(outLeft, outRight, from, count, levels, this.gainLeft, this.gainRight);
    this.advance(count);
  }
}

/** Frames rendered at one go, and what is worked out of them: shared, for voices are rendered one after another. */
const MAX_RUN = SINC_RUN;
const levels = new Float64Array(MAX_RUN);
const rawLeft = new Float32Array(MAX_RUN);
const rawRight = new Float32Array(MAX_RUN);
const moved: Modulation = { tuneCents: 0, gainDb: 0, pan: 0, cutoffHz: 0 };
