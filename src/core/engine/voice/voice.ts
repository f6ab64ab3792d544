/**
 * One sounding zone: a reader of samples, a level envelope, a filter, and what moves them. Voices are made once and used
 * again; nothing here allocates while sound runs. What stands still is played in long runs; what moves, in control steps
 * on the absolute grid of frames, so that the size of the blocks changes nothing.
 */
import { SINC_RUN, sincLeft, sincReadRun, sincRight, sincTable } from '../../dsp/sinc.ts';
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import { transposeRatio } from '../../units/pitch.ts';
import type { PartState } from '../part-state.ts';
import { ZONE, type ZoneState } from '../zone-state.ts';
import { alignment, type Samples } from './alignment.ts';
import { Envelope } from './envelope.ts';
import { CONTROL_FRAMES, modulate, type Modulation } from './modulation.ts';
import { SHAPE_OFF, StereoFilter } from './svf.ts';

/** Who started a voice. */
export type Origin = 'pattern' | 'key' | 'preview';

/** How a voice is to start. */
export interface VoiceStart {
  /** Of the event: its velocity and level, as a factor. */
  gain: number;
  pan: number;
  tuneCents: number;
  reverse: boolean;
  /** No fade at the slice's start, or end, because the neighbour goes on there. */
  joinsPrevious: boolean;
  joinsNext: boolean;
  /** Frames that it lasts longer (1) or shorter (-1) than its slice, so that it ends where the next begins. */
  joinFrames: number;
  origin: Origin;
  /** The key's press that holds the voice, or -1. */
  noteId: number;
  /** When it is stopped, in ticks of its part's clock and as a frame; Infinity for never. */
  stopAtTicks: number;
  stopAtFrame: number;
  stopFadeFrames: number;
  /** Plays on beyond the slice's own end, where there is more. */
  playsRemainder: boolean;
  /** Of the output and the song, when it starts. */
  sampleRate: number;
  songTempoBpm: number;
  frame: number;
}

/** Whether two renderings are the same is seen here: what is stretched differs by then. */
const LIKE_FROM_SHARE = 0.75;
const LIKE_FRAMES = 32;
/** Fade-in of a slice that does not begin at a zero, in seconds: short enough not to soften an attack. */
const START_FADE_SECONDS = 0.0007;
/** A first sample below this (-48 dB) starts without a click. */
const SILENT_START = 10 ** (-48 / 20);
const MIN_REVERSE_FADE_FRAMES = 32;
/** The tail `fade` fades over this share of a slice. */
const TAIL_FADE_SHARE = 0.4;
const END_FADE_SHARE = 0.25;
/** Control steps in which a level that was set is reached: 256 frames. */
const RAMP_STEPS = 8;

/** A start of a slice as it is, neither louder nor softer. */
export function plainStart(): VoiceStart {
  return {
    gain: 1,
    pan: 0,
    tuneCents: 0,
    reverse: false,
    joinsPrevious: false,
    joinsNext: false,
    joinFrames: 0,
    origin: 'pattern',
    noteId: -1,
    stopAtTicks: Infinity,
    stopAtFrame: Infinity,
    stopFadeFrames: 1,
    playsRemainder: false,
    sampleRate: 44100,
    songTempoBpm: 120,
    frame: 0,
  };
}

const GATE = 1;
const msToFrames = (ms: number, sampleRate: number) => Math.round((ms / 1000) * sampleRate);

export class Voice implements Samples {
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

  left: Float32Array = EMPTY;
  right: Float32Array = EMPTY;
  readonly envelope = new Envelope();
  private readonly filter = new StereoFilter();
  private sourceId: string | null = null;
  private sampleRate = 44100;
  private songTempoBpm = 120;
  private table = sincTable(1);
  private position = 0;
  private step = 1;
  private exact = false;
  private firstPosition = 0;
  /** Source frame at which the voice ends. */
  private endFrame = 0;
  /** Source frame at which the slice itself ends, and whether a remainder comes after it. */
  private bodyEnd = 0;
  private hasRemainder = false;
  /** What reading between samples may see: no more than the slice where the neighbour does not go on. */
  private seenFrom = 0;
  private seenTo = 0;
  /** Output frames played and to play, and the absolute frame of age 0. */
  private age = 0;
  private length = 0;
  private birthFrame = 0;
  /** A last sample that is heard once more, so that the next slice joins. */
  private repeatedFrames = 0;
  private gainLeft = 0;
  private gainRight = 0;
  private startFade = 0;
  private endFade = 0;
  private release = 1;
  private isGated = false;
  /** Frames of the stop's fade that remain, and its whole length. */
  private stopLeft = 0;
  private stopLength = 0;
  /** Age at which it is stopped. */
  private limit = Infinity;
  private limitFade = 1;
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
    this.sourceId = source.id;
    this.sampleRate = start.sampleRate;
    this.songTempoBpm = start.songTempoBpm;
    this.left = source.channels[0]!;
    this.right = source.channels[1] ?? this.left;
    const natural = zone.increment(start.sampleRate, start.songTempoBpm, start.tuneCents);
    const increment = natural * zone.partTune;
    const endFrame = Math.min(sound.endFrame, this.left.length);
    const naturalEnd = Math.min(sound.naturalEndFrame, this.left.length);
    const last = start.playsRemainder && !start.reverse ? endFrame : naturalEnd;
    this.endFrame = start.reverse ? sound.startFrame - 1 : last;
    this.bodyEnd = naturalEnd;
    this.hasRemainder = sound.hasRemainder && start.playsRemainder && !start.reverse;
    this.seenFrom = start.joinsPrevious ? 0 : sound.startFrame;
    this.seenTo = start.joinsNext ? this.left.length : last;
    this.table = sincTable(increment);
    this.step = start.reverse ? -increment : increment;
    this.position = start.reverse ? last - 1 : sound.startFrame;
    this.firstPosition = this.position;
    this.exact = increment === 1;
    this.age = 0;
    this.birthFrame = start.frame;
    this.length = Math.max(1, Math.floor((last - sound.startFrame) / increment) + Math.min(0, start.joinFrames));
    this.repeatedFrames = Math.max(0, start.joinFrames);
    this.eventGain = start.gain;
    this.eventPan = start.pan;
    this.eventCents = start.tuneCents;
    this.playsRemainder = start.playsRemainder;
    this.startFade = start.joinsPrevious ? 0 : this.startFadeFrames(start, sound.startFrame);
    const bodyFrames = Math.max(1, (naturalEnd - sound.startFrame) / natural);
    this.endFade = start.joinsNext ? 0 : this.endFadeFrames(zone, start, bodyFrames);
    this.envelope.start(
      msToFrames(values[ZONE.attackMs]!, start.sampleRate),
      msToFrames(values[ZONE.decayMs]!, start.sampleRate),
      values[ZONE.sustain]!,
    );
    this.release = Math.max(1, msToFrames(values[ZONE.releaseMs]!, start.sampleRate));
    this.stopping = false;
    this.stopLeft = 0;
    this.stopLength = 0;
    this.stopAtTicks = start.stopAtTicks;
    this.limit = start.stopAtFrame - start.frame;
    this.limitFade = start.stopFadeFrames;
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

  private startFadeFrames(start: VoiceStart, startFrame: number): number {
    const first = this.position;
    const isLoud = Math.abs(this.left[first] ?? 0) > SILENT_START || Math.abs(this.right[first] ?? 0) > SILENT_START;
    const beginsWithFile = !start.reverse && startFrame === 0 && this.zone!.fragment.sliceStartFrame === 0;
    const fade = isLoud && !beginsWithFile ? Math.round(START_FADE_SECONDS * start.sampleRate) : 0;
    return start.reverse ? Math.max(fade, MIN_REVERSE_FADE_FRAMES) : fade;
  }

  private endFadeFrames(zone: ZoneState, start: VoiceStart, bodyFrames: number): number {
    const { follow, tail } = zone.fragment;
    const fadesOut = follow === 'slices' && tail === 'fade' && zone.songRatio(start.songTempoBpm) > 1;
    const most = fadesOut ? bodyFrames * TAIL_FADE_SHARE : start.stopFadeFrames;
    return Math.round(Math.min(most, bodyFrames * (fadesOut ? 1 : END_FADE_SHARE)));
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
    if (this.stopping && this.stopLeft <= fade) return;
    const level = this.stopping ? this.stopLeft / this.stopLength : 1;
    this.stopping = true;
    this.stopLength = Math.max(1, Math.round(fade / level));
    this.stopLeft = fade;
  }

  /** It is stopped at another frame: the tempo has changed. */
  stopAt(frame: number): void {
    this.limit = Math.max(this.age, frame - this.birthFrame);
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
    const step = this.step < 0 ? -increment : increment;
    if (step === this.step) return;
    // Whole positions are read without a table: from between two samples only the table can read on.
    this.exact = increment === 1 && Number.isInteger(this.position);
    this.step = step;
    this.table = sincTable(increment);
    this.length = this.age + Math.max(0, Math.floor((this.endFrame - this.position) / step));
    this.endFade = Math.min(this.endFade, Math.max(1, this.length - this.age));
    this.repeatedFrames = 0;
  }

  /** Begins further on, as if `gone` output frames had been played, fading in within `fadeFrames`; or is over by then. */
  skip(gone: number, fadeFrames: number): void {
    if (gone >= this.length) {
      this.active = false;
      return;
    }
    this.position += gone * this.step;
    if (this.exact) this.position |= 0;
    this.length -= gone;
    this.startFade = fadeFrames;
  }

  /** Share of the slice itself that has been played, 1 and more when it is over. */
  private get playedShare(): number {
    return (this.position - this.firstPosition) / Math.max(1, this.bodyEnd - this.firstPosition);
  }

  /** Has it played this share of its slice, and a remainder to come? */
  hasOnlyRemainder(share: number): boolean {
    return this.hasRemainder && this.playedShare >= share;
  }

  /** Does it play these samples? */
  plays(sourceId: string | undefined): boolean {
    return this.sourceId === sourceId;
  }

  /**
   * Output frames of another voice of the same slice that would have brought it to where this one is.
   * @param byShare the other is stretched: the same share of the slice, not the same distance from its start, unless
   * both sound alike for most of their length (a hit that dies away is not stretched)
   */
  framesTo(other: Voice, byShare: boolean): number {
    if (!byShare || this.soundsLike(other)) {
      return Math.min(other.length - 1, Math.floor((this.position - this.firstPosition) / other.step));
    }
    const gone = Math.floor((this.playedShare * (other.bodyEnd - other.firstPosition)) / other.step);
    if (this.step !== other.step) return gone;
    const place = Math.floor(other.firstPosition + gone * other.step);
    const offset = alignment(this, this.sourceFrame, other, place, other.firstPosition, other.bodyEnd);
    return gone + Math.round(offset / other.step);
  }

  /** Has another voice the same samples where anything stretched would have others? */
  private soundsLike(other: Voice): boolean {
    if (this.step !== other.step) return false;
    const body = Math.min(this.bodyEnd - this.firstPosition, other.bodyEnd - other.firstPosition);
    const from = Math.floor(LIKE_FROM_SHARE * body);
    for (let i = from; i < Math.min(body, from + LIKE_FRAMES); i++) {
      if (this.left[this.firstPosition + i] !== other.left[other.firstPosition + i]) return false;
    }
    return true;
  }

  /** Takes over from another voice: its envelope, its filter, and when it was to be stopped. */
  takeOver(other: Voice): void {
    this.envelope.follow(other.envelope);
    this.filter.follow(other.filter);
    this.stopAtTicks = other.stopAtTicks;
    this.limit = other.limit === Infinity ? Infinity : Math.max(1, other.limit - other.age);
  }

  get isReversed(): boolean {
    return this.step < 0;
  }

  /** What was to join this slice will not: it fades at its end after all. */
  dropJoin(): void {
    if (this.endFade === 0) this.endFade = Math.min(this.limitFade, Math.max(1, this.length - this.age));
    this.repeatedFrames = 0;
  }

  /** Output frames that are left to sound, when nothing stops it before. */
  get remainingFrames(): number {
    return this.length + this.repeatedFrames - this.age;
  }

  /** How loud its fade leaves it, 0..1: what is nearly gone is missed least. */
  get fadeLevel(): number {
    return this.stopping ? this.stopLeft / this.stopLength : 1;
  }

  /** Where in the source the voice is, in frames. */
  get sourceFrame(): number {
    return Math.floor(this.position);
  }

  /** The key was let go. */
  letGo(): void {
    this.noteId = -1;
    if (this.isGated) this.stop(this.release);
  }

  /** Adds `count` frames to the outputs from `offset` on; `frame` is the absolute one of the first. */
  render(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number, frame: number): void {
    const end = offset + Math.min(count, this.length - this.age);
    let at = offset;
    while (at < end && this.active) {
      if (this.age === this.limit) this.stop(this.limitFade);
      let run = Math.min(end - at, MAX_RUN);
      if (this.limit > this.age) run = Math.min(run, this.limit - this.age);
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
      if (steady > 0 && this.exact) {
        this.copyRun(outLeft, outRight, at, steady, this.envelope.steadyLevel);
        at += steady;
        continue;
      }
      run = this.fillLevels(run);
      this.renderRun(outLeft, outRight, at, run);
      at += run;
    }
    if (!this.active || this.age < this.length) return;
    if (this.repeatedFrames > 0 && at < offset + count) this.hold(outLeft, outRight, at);
    if (this.repeatedFrames === 0) this.active = false;
  }

  /** Repeats its last sample, once. */
  private hold(outLeft: Float32Array, outRight: Float32Array, at: number): void {
    const last = Math.max(0, Math.min(this.left.length - 1, (this.position | 0) - 1));
    outLeft[at]! += this.left[last]! * this.gainLeft;
    outRight[at]! += this.right[last]! * this.gainRight;
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
      modulate(modulators, this.envelope.age / this.sampleRate, frame / this.sampleRate, moved);
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
    if (this.stopping || this.age < this.startFade || !this.envelope.isSteady) return 0;
    return this.length - this.endFade - this.age;
  }

  private advance(count: number): void {
    this.age += count;
    this.envelope.age += count;
  }

  /** Adds frames of the source as they are, at one level: by far the commonest case, and several times as fast. */
  private copyRun(outLeft: Float32Array, outRight: Float32Array, from: number, count: number, level: number): void {
    const { left, right, step } = this;
    const gainLeft = this.gainLeft * level;
    const gainRight = this.gainRight * level;
    let position = this.position | 0;
    const end = (from + count) | 0;
    for (let i = from | 0; i < end; i++) {
      outLeft[i]! += left[position]! * gainLeft;
      outRight[i]! += right[position]! * gainRight;
      position = (position + step) | 0;
    }
    this.position = position;
    this.advance(count);
  }

  /** Works out the level of the next frames, envelope, fades and stop together; gives how many are left to sound. */
  private fillLevels(count: number): number {
    const { age, envelope, startFade } = this;
    if (envelope.isSteady) levels.fill(envelope.steadyLevel, 0, count);
    else for (let i = 0; i < count; i++) levels[i] = envelope.levelAt(i);
    for (let i = 0; i < Math.min(count, startFade - age); i++) levels[i]! *= (age + i + 1) / (startFade + 1);
    const fadeFrom = this.length - this.endFade - age;
    for (let i = Math.max(0, fadeFrom); i < count; i++) levels[i]! *= (this.length - age - i - 1) / this.endFade;
    if (!this.stopping) return count;
    const sounding = Math.min(count, this.stopLeft);
    for (let i = 0; i < sounding; i++) levels[i]! *= (this.stopLeft - i) / this.stopLength;
    this.stopLeft -= sounding;
    if (this.stopLeft === 0) this.active = false;
    return sounding;
  }

  /** Reads the next frames of the source into `readLeft` and `readRight`, or says where they lie. */
  private read(count: number): void {
    const { left, right, step } = this;
    if (this.exact) {
      let at = this.position | 0;
      for (let i = 0; i < count; i++) {
        rawLeft[i] = left[at]!;
        rawRight[i] = right[at]!;
        at = (at + step) | 0;
      }
      this.position = at;
      return;
    }
    this.position = sincReadRun(this.table, left, right, this.position, step, count, this.seenFrom, this.seenTo);
    const readRight = right === left ? sincLeft : sincRight;
    for (let i = 0; i < count; i++) {
      rawLeft[i] = sincLeft[i]!;
      rawRight[i] = readRight[i]!;
    }
  }

  /** Adds frames whose levels, pitch or filter move. */
  private renderMoving(outLeft: Float32Array, outRight: Float32Array, from: number, count: number): void {
    this.read(count);
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
    const { left, right, step, gainLeft, gainRight, table, seenFrom, seenTo } = this;
    let { position } = this;
    if (this.exact) {
      let at = position | 0;
      for (let i = 0; i < count; i++) {
        const level = levels[i]!;
        outLeft[from + i]! += left[at]! * level * gainLeft;
        outRight[from + i]! += right[at]! * level * gainRight;
        at = (at + step) | 0;
      }
      position = at;
    } else {
      position = sincReadRun(table, left, right, position, step, count, seenFrom, seenTo);
      const readRight = right === left ? sincLeft : sincRight;
      for (let i = 0; i < count; i++) {
        const level = levels[i]!;
        outLeft[from + i]! += sincLeft[i]! * level * gainLeft;
        outRight[from + i]! += readRight[i]! * level * gainRight;
      }
    }
    this.position = position;
    this.advance(count);
  }
}

const EMPTY = new Float32Array(0);
/** Frames rendered at one go, and what is worked out of them: shared, for voices are rendered one after another. */
const MAX_RUN = SINC_RUN;
const levels = new Float64Array(MAX_RUN);
const rawLeft = new Float32Array(MAX_RUN);
const rawRight = new Float32Array(MAX_RUN);
const moved: Modulation = { tuneCents: 0, gainDb: 0, pan: 0, cutoffHz: 0 };
