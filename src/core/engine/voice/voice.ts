/**
 * One sounding zone: a reader of samples, its levels, and what moves. Voices are made once and
 * used again; nothing here allocates while sound runs. What stands still is played in long runs; what moves, in control
 * steps on the absolute grid of frames, so that the size of the blocks changes nothing.
 */
import { SINC_RUN } from '../../dsp/sinc.ts';
import { transposeRatio } from '../../units/pitch.ts';
import { msToFrames } from '../../units/time.ts';
import { CONTROL_FRAMES, framesToLook } from '../control/control-step.ts';
import type { StereoBus } from '../mix/effects/effect.ts';
import type { PartState } from '../part-state.ts';
import type { ZoneSound } from '../plan/fragments.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import { GATE, TOGGLE, ZONE, type ZoneState } from '../zone-state.ts';
import { Movement } from './movement.ts';
import { SampleReader } from './reader.ts';
import { fadeInOf, fadeOutOf, type Origin, type VoiceStart } from './start.ts';
import { VoiceLevels } from './voice-levels.ts';

/** A loop is left while its key is held; or it goes round to the last. */
const ROUND_TO_THE_LAST = 1;

export class Voice {
  active = false;
  /** Sounds under a hit as this double: it is not cut off by what comes after that. */
  double: { readonly bus: StereoBus | null } | null = null;
  zone: ZoneState | null = null;
  part: PartState | null = null;
  origin: Origin = 'pattern';
  noteId = -1;
  pressId = -1;
  /** MIDI note; -1 for what no key plays. */
  key = -1;
  /** Order of starting, to find the oldest. */
  serial = 0;
  playsRemainder = false;
  /** Let go while the pedal is down. */
  isSustained = false;
  stopAtTicks = Infinity;
  /** What the event brought: level, pan, tuning, and whose time it goes by. */
  eventGain = 1;
  eventPan = 0;
  startCents = 0;
  clock: SongClock | null = null;
  /** What it plays of its zone. */
  sound: ZoneSound | null = null;
  readonly reader = new SampleReader();
  readonly movement = new Movement();
  private readonly levels = new VoiceLevels();
  /** With what the key adds. */
  private eventCents = 0;
  private sampleRate = 44100;
  private songTempoBpm = 120;
  /** A remainder comes after the slice's own end. */
  private hasRemainder = false;
  /** Output frames until it begins. */
  private waitFrames = 0;
  /** Output frames played and to play, and the absolute frame of age 0. */
  private ageFrames = 0;
  private lengthFrames = 0;
  /** When its sound begins, its delay over. */
  birthFrame = 0;
  /** When it began, or would have, had it not been taken up in its middle. */
  startFrame = 0;
  /** A last sample that is heard once more, so that the next slice joins. */
  private repeatedFrames = 0;
  private answer = 0;
  /** Age at which it is stopped. */
  private stopAgeFrames = Infinity;
  private gridFrame = 0;

  /** Begins a zone; `serial` grows with every start. */
  start(zone: ZoneState, part: PartState | null, start: VoiceStart, serial: number): void {
    const { values } = zone;
    const sound = zone.keySound(start.key) ?? zone.sound;
    this.active = true;
    this.double = null;
    this.zone = zone;
    this.part = part;
    this.sound = sound;
    this.origin = start.origin;
    this.noteId = start.noteId;
    this.pressId = start.pressId;
    this.key = start.key;
    this.isSustained = false;
    this.answer = values[ZONE.answer]!;
    this.serial = serial;
    this.sampleRate = start.sampleRate;
    this.songTempoBpm = start.songTempoBpm;
    this.eventGain = start.gain;
    this.eventPan = start.pan;
    this.startCents = start.tuneCents;
    this.clock = start.clock;
    this.eventCents = start.tuneCents + (sound === zone.sound ? zone.keyCents(start.key) : 0);
    this.playsRemainder = start.playsRemainder;
    this.movement.start(zone, part, start);
    this.waitFrames = msToFrames(values[ZONE.delayMs]!, start.sampleRate);
    this.ageFrames = 0;
    this.startFrame = start.frame;
    this.birthFrame = start.frame + this.waitFrames;
    const begun = this.movement.valuesAtStart(start.frame);
    this.startReading(sound, start, begun);
    this.levels.start(start, begun, this.answer !== 0 || this.reader.isEndless);
    this.stopAtTicks = start.stopAtTicks;
    this.stopAgeFrames = start.stopAtFrame - this.birthFrame;
    // Of an event that is over before its delay is, nothing sounds.
    if (this.stopAgeFrames <= 0) this.active = false;
  }

  private startReading(sound: ZoneSound, start: VoiceStart, values: Float64Array): void {
    const zone = this.zone!;
    const source = zone.sourceOf(sound)!;
    const natural = zone.increment(start.sampleRate, start.songTempoBpm, this.eventCents, sound);
    const increment = natural * zone.partTune(sound) * this.movedRatio;
    const length = source.channels[0]!.length;
    const perMs = source.sampleRate / 1000;
    const laterMs = values[ZONE.startOffsetMs]! + values[ZONE.velocityStartMs]! * (1 - start.velocity);
    const isCut = values[ZONE.endOffsetMs] !== 0;
    const ownEnd = Math.min(sound.naturalEndFrame, length);
    const naturalEnd = Math.max(1, Math.min(length, ownEnd + Math.round(values[ZONE.endOffsetMs]! * perMs)));
    const first = Math.max(0, Math.min(naturalEnd - 1, sound.startFrame + Math.round(laterMs * perMs)));
    const playsOn = start.playsRemainder && !start.reverse && !isCut;
    const last = playsOn ? Math.min(sound.endFrame, length) : naturalEnd;
    this.reader.start(source, increment, { startFrame: first, endFrame: last, bodyEnd: naturalEnd }, start);
    const loopSource = zone.loopSourceOf(sound);
    if (loopSource) this.reader.goRound(sound.loop!, loopSource);
    this.hasRemainder = sound.hasRemainder && playsOn;
    this.lengthFrames = this.reader.isEndless
      ? this.reader.framesLeft
      : Math.max(1, Math.floor((last - first) / increment) + Math.min(0, start.joinFrames));
    this.repeatedFrames = Math.max(0, start.joinFrames);
    const bodyFrames = Math.max(1, (naturalEnd - first) / natural);
    this.levels.setEnds(
      start.joinsPrevious ? 0 : fadeInOf(this.reader, zone, start),
      start.joinsNext ? 0 : fadeOutOf(zone, start, bodyFrames),
    );
  }

  /** Factor of the increment by glide, wheel and modulators. */
  private get movedRatio(): number {
    const { cents } = this.movement;
    return cents === 0 ? 1 : transposeRatio(0, cents);
  }

  /** Already fading out after a stop. */
  get stopping(): boolean {
    return this.levels.isStopping;
  }

  /** Follows settings of its zone that have changed while it sounds. */
  followValues(): void {
    this.movement.followValues();
    this.retune(this.increment);
  }

  private get increment(): number {
    const zone = this.zone!;
    const sound = this.sound!;
    const natural = zone.increment(this.sampleRate, this.songTempoBpm, this.eventCents, sound);
    return natural * zone.partTune(sound) * this.movedRatio;
  }

  /** Fades out within `fadeFrames` from now on; a faster fade that runs already goes on. */
  stop(fadeFrames: number): void {
    if (this.waitFrames > 0) this.active = false;
    this.levels.stop(fadeFrames);
  }

  /** Ends as when its key is let go. */
  release(): void {
    const { view } = this.movement;
    view.releasedAtSeconds = Math.min(view.releasedAtSeconds, this.levels.envelope.ageFrames / this.sampleRate);
    if (this.waitFrames > 0) this.active = false;
    this.levels.release(this.zone!.values[ZONE.releaseBend]!);
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
    this.retune(this.increment);
  }

  /** Plays on at another increment, from where it is. */
  private retune(increment: number): void {
    if (!this.reader.retune(increment)) return;
    this.lengthFrames = this.ageFrames + this.reader.framesLeft;
    this.levels.shortenEnd(this.lengthFrames - this.ageFrames);
    this.repeatedFrames = 0;
  }

  /** Begins further on, as if `gone` output frames had been played, fading in within `fadeFrames`; or is over by then. */
  skip(gone: number, fadeFrames: number): void {
    if (gone >= this.lengthFrames) {
      this.active = false;
      return;
    }
    this.waitFrames = 0;
    this.startFrame -= gone;
    this.reader.skip(gone);
    this.lengthFrames = this.reader.isEndless ? this.reader.framesLeft : this.lengthFrames - gone;
    this.levels.fadeIn(fadeFrames);
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

  /** Takes over from another voice: its envelope, what moves it, and when it was to be stopped. */
  takeOver(other: Voice): void {
    this.levels.envelope.follow(other.levels.envelope);
    this.movement.follow(other.movement);
    this.isSustained = other.isSustained;
    this.stopAtTicks = other.stopAtTicks;
    this.stopAgeFrames =
      other.stopAgeFrames === Infinity ? Infinity : Math.max(1, other.stopAgeFrames - other.ageFrames);
  }

  get isReversed(): boolean {
    return this.reader.step < 0;
  }

  /** What was to join this slice will not: it fades at its end after all. */
  dropJoin(): void {
    this.levels.endAlone(this.lengthFrames - this.ageFrames);
    this.repeatedFrames = 0;
  }

  /** Output frames that are left to sound, when nothing stops it before. */
  get remainingFrames(): number {
    return this.lengthFrames + this.repeatedFrames - this.ageFrames;
  }

  /** How loud its fade leaves it, 0..1: what is nearly gone is missed least. */
  get fadeLevel(): number {
    return this.levels.stopLevel;
  }

  /** Where in the source the voice is, in frames. */
  get sourceFrame(): number {
    return this.reader.sourceFrame;
  }

  /** The key was let go. */
  letGo(): void {
    this.noteId = -1;
    this.isSustained = false;
    if (this.answer === TOGGLE) return;
    const goesOn = this.zone!.values[ZONE.loopUntil] === ROUND_TO_THE_LAST;
    if (this.answer === GATE) {
      if (!goesOn) this.leaveLoop();
      this.release();
    } else if (this.reader.isEndless && !this.leaveLoop()) this.release();
  }

  /** @returns false when it can only go on round */
  private leaveLoop(): boolean {
    if (!this.reader.leaveLoop()) return false;
    if (!this.reader.isEndless) this.lengthFrames = this.ageFrames + this.reader.framesLeft;
    return true;
  }

  /** Adds `count` frames to the outputs from `offset` on; `frame` is the absolute one of the first, control steps lie at multiples from `gridFrame` on. */
  render(
    outLeft: Float32Array,
    outRight: Float32Array,
    offset: number,
    count: number,
    frame: number,
    gridFrame: number,
  ): void {
    this.gridFrame = gridFrame;
    const waited = Math.min(count, this.waitFrames);
    this.waitFrames -= waited;
    const from = offset + waited;
    let at = from;
    while (at < offset + count && this.active && this.ageFrames < this.lengthFrames) {
      if (this.ageFrames === this.stopAgeFrames) this.stopHere();
      let run = Math.min(offset + count - at, this.lengthFrames - this.ageFrames, MAX_RUN, this.reader.framesToLook);
      if (this.stopAgeFrames > this.ageFrames) run = Math.min(run, this.stopAgeFrames - this.ageFrames);
      at += this.renderSome(outLeft, outRight, at, run, frame + at - offset);
      if (this.reader.isEndless) this.goRound();
    }
    if (!this.active || this.ageFrames < this.lengthFrames) return;
    if (this.repeatedFrames > 0 && at < offset + count) this.hold(outLeft, outRight, at);
    if (this.repeatedFrames === 0) this.active = false;
  }

  private goRound(): void {
    this.reader.enterOrLeave();
    if (!this.reader.isEndless) this.lengthFrames = this.ageFrames + this.reader.framesLeft;
  }

  /** The event that it is of is over. */
  private stopHere(): void {
    if (this.levels.end(this.zone!.values[ZONE.releaseBend]!))
      this.movement.view.releasedAtSeconds = this.levels.envelope.ageFrames / this.sampleRate;
  }

  /** Renders up to `most` frames. @returns how many */
  private renderSome(outLeft: Float32Array, outRight: Float32Array, at: number, most: number, frame: number): number {
    const { movement } = this;
    if (movement.isMoving) {
      const framesToNext = framesToLook(frame, this.gridFrame);
      if (movement.hasToBegin || framesToNext === CONTROL_FRAMES) {
        movement.control(this.levels.envelope.ageFrames, frame, framesToNext);
        this.retune(this.increment);
      }
      const run = Math.min(most, this.reader.framesToLook, framesToNext);
      const count = this.fillLevels(run);
      this.renderMoving(outLeft, outRight, at, count);
      return run;
    }
    if (!movement.hasToBegin) this.comeToRest();
    movement.filter.settle();
    const steady = Math.min(most, this.levels.steadyFrames(this.ageFrames, this.lengthFrames));
    if (steady > 0 && this.reader.exact) {
      this.copyRun(outLeft, outRight, at, steady, this.levels.envelope.steadyLevel);
      return steady;
    }
    const count = this.fillLevels(most);
    this.renderRun(outLeft, outRight, at, count);
    return most;
  }

  /** Repeats its last sample, once. */
  private hold(outLeft: Float32Array, outRight: Float32Array, at: number): void {
    this.reader.addLast(outLeft, outRight, at, this.movement.gainLeft, this.movement.gainRight);
    this.repeatedFrames = 0;
  }

  private advance(count: number): void {
    this.ageFrames += count;
    this.levels.envelope.ageFrames += count;
  }

  /** Adds frames of the source as they are, at one level: by far the commonest case, and several times as fast. */
  private copyRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number, level: number): void {
    const { gainLeft, gainRight } = this.movement;
    this.reader.copy(outLeft, outRight, from, count, gainLeft * level, gainRight * level);
    this.advance(count);
  }

  /** Works out the level of the next frames, envelope, fades and stop together; gives how many are left to sound. */
  private fillLevels(count: number): number {
    const sounding = this.levels.fill(levels, count, this.ageFrames, this.lengthFrames);
    if (this.levels.isOver) this.active = false;
    return sounding;
  }

  /** Adds frames whose levels, pitch or filter move. */
  private renderMoving(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    const { movement } = this;
    this.reader.read(count, rawLeft, rawRight);
    if (movement.filter.isActive) movement.filter.process(rawLeft, rawRight, count);
    movement.filter.settle();
    let { movedLeft, movedRight } = movement;
    const { slopeLeft, slopeRight } = movement;
    for (let i = 0; i < count; i++) {
      movedLeft += slopeLeft;
      movedRight += slopeRight;
      outLeft[from + i]! += rawLeft[i]! * levels[i]! * movedLeft;
      outRight[from + i]! += rawRight[i]! * levels[i]! * movedRight;
    }
    movement.movedLeft = movedLeft;
    movement.movedRight = movedRight;
    this.advance(count);
    if (!movement.isMoving) this.comeToRest();
  }

  /** What moved moves no more: on at the pitch without it. */
  private comeToRest(): void {
    this.movement.rest();
    this.retune(this.increment);
  }

  /** Adds frames at the levels worked out and moves on. */
  private renderRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    const { gainLeft, gainRight } = this.movement;
    this.reader.add(outLeft, outRight, from, count, levels, gainLeft, gainRight);
    this.advance(count);
  }
}

/** Frames rendered at one go, and what is worked out of them: shared, for voices are rendered one after another. */
const MAX_RUN = SINC_RUN;
const levels = new Float64Array(MAX_RUN);
const rawLeft = new Float32Array(MAX_RUN);
const rawRight = new Float32Array(MAX_RUN);
