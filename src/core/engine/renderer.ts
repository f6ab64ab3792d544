/**
 * Plays a RenderPlan. The same code runs live in the AudioWorklet, in the worker that bounces, on the command line and
 * in tests; the same plan gives the same samples whatever the size of the blocks. `process` does not allocate, wait or
 * throw; everything else is called between blocks.
 */
import { prepareSincTables } from '../dsp/sinc.ts';
import { velocityToGain } from '../units/level.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';
import { Click } from './click.ts';
import { MAX_SEGMENT_FRAMES, PartBus } from './part-bus.ts';
import { PatternPlayer } from './pattern-player.ts';
import {
  emptyPlan,
  type PlanEvent,
  type PlanPart,
  type PlanSlice,
  type PlanSource,
  type RenderPlan,
} from './render-plan.ts';
import { PreviewPlayer } from './preview-player.ts';
import { SongClock } from './song-clock.ts';
import { Voice, type VoiceStart } from './voice.ts';

/** Voices that can sound at once; a further one takes the place of the oldest. */
export const MAX_VOICES = 64;
/** Fade of voices when the transport stops or a voice is taken, in seconds. */
const TRANSPORT_FADE_SECONDS = 0.004;
/** Crossfade from one rendering of a slice to another. */
const CARRY_SECONDS = 0.012;

interface PartState {
  player: PatternPlayer;
  bus: PartBus;
  /** Keeps the part's own tempo; null while it follows the song's. */
  ownClock: SongClock | null;
  /** Transposition that sounds now, and the song position at which another one comes, Infinity for none. */
  tune: number;
  retuneTicks: number;
}

/** The frame of the part's own source that a frame of a slice's samples stands for; a ringing tail stays at the end. */
function shownFrame(slice: PlanSlice, frame: number): number {
  if (!slice.isRendering) return frame;
  const { shownStart, shownEnd, startFrame, naturalEndFrame } = slice;
  const share = Math.min(1, (frame - startFrame) / Math.max(1, naturalEndFrame - startFrame));
  return Math.round(shownStart + share * (shownEnd - shownStart));
}

export class Renderer {
  readonly sampleRate: number;
  /** Frames rendered since the renderer was made. */
  frame = 0;
  playing = false;
  /** Loudest sample of each side since last read and cleared. */
  readonly peaks = new Float32Array(2);
  private plan: RenderPlan;
  private readonly clock: SongClock;
  private readonly voices = Array.from({ length: MAX_VOICES }, () => new Voice());
  private readonly previewPlayer: PreviewPlayer;
  private readonly click: Click;
  private states: PartState[] = [];
  private partIndexById = new Map<string, number>();
  private serial = 0;
  private nextBeat = 0;
  private endTicks = Infinity;
  private readonly how: VoiceStart = {
    gain: 1,
    reverse: false,
    joinsPrevious: false,
    joinsNext: false,
    key: -1,
    limitFrames: Infinity,
    stopFadeFrames: 1,
    tune: 1,
    rings: false,
  };

  constructor(sampleRate: number) {
    prepareSincTables();
    this.sampleRate = sampleRate;
    this.plan = emptyPlan(sampleRate);
    this.clock = new SongClock(sampleRate, this.plan.tempoBpm);
    this.click = new Click(sampleRate);
    this.previewPlayer = new PreviewPlayer(sampleRate);
  }

  /** Takes a new plan from the next frame on; what sounds goes on. @throws RangeError for a plan of another rate */
  setPlan(plan: RenderPlan): void {
    if (plan.sampleRate !== this.sampleRate) {
      throw new RangeError(`the plan is for ${plan.sampleRate} Hz, the renderer runs at ${this.sampleRate} Hz`);
    }
    const before = this.plan;
    const known = new Map(before.parts.map((part, index) => [part.id, this.states[index]!]));
    const newIndex = new Map(plan.parts.map((part, index) => [part.id, index]));
    for (const voice of this.voices) {
      if (!voice.active) continue;
      voice.partIndex = newIndex.get(before.parts[voice.partIndex]?.id ?? '') ?? -1;
      if (voice.partIndex < 0) voice.active = false;
      if (plan.tempoBpm !== before.tempoBpm) voice.dropJoin();
    }
    this.clock.setTempo(plan.tempoBpm, this.frame);
    const songTicks = this.clock.ticksAt(this.frame);
    const barTicks = plan.beatsPerBar * TICKS_PER_BEAT;
    const atBar = this.playing ? Math.ceil(songTicks / barTicks - 1e-9) * barTicks : null;
    this.states = plan.parts.map((part) => {
      const state = known.get(part.id) ?? {
        player: new PatternPlayer(),
        bus: new PartBus(part),
        ownClock: null,
        tune: part.tuneRatio,
        retuneTicks: Infinity,
      };
      state.bus.setLevel(part);
      this.setOwnTempo(state, part, songTicks);
      if (part.tuneAtBar && atBar !== null && state.tune !== part.tuneRatio) state.retuneTicks = atBar;
      else {
        state.tune = part.tuneRatio;
        state.retuneTicks = Infinity;
      }
      state.player.setPart(part, known.has(part.id) ? atBar : null);
      return state;
    });
    this.plan = plan;
    this.partIndexById = newIndex;
    this.carryVoices(before);
    if (this.playing) this.seekAll();
  }

  /** A part that leaves the song's tempo, or comes back to it, goes on from where the song is. */
  private setOwnTempo(state: PartState, part: PlanPart, songTicks: number): void {
    if (part.ownTempoBpm === null) state.ownClock = null;
    else if (state.ownClock) state.ownClock.setTempo(part.ownTempoBpm, this.frame);
    else {
      state.ownClock = new SongClock(this.sampleRate, part.ownTempoBpm);
      state.ownClock.locate(this.frame, songTicks);
    }
  }

  private clockOf(state: PartState): SongClock {
    return state.ownClock ?? this.clock;
  }

  /** Lets what sounds follow the new plan: another speed at once, another rendering from the same place on. */
  private carryVoices(before: RenderPlan): void {
    const newest = this.serial;
    for (const voice of this.voices) {
      // Those that are started here have arrived already.
      if (!voice.active || voice.stopping || voice.serial > newest) continue;
      const part = this.plan.parts[voice.partIndex]!;
      const slice = part.slices[voice.sliceIndex];
      const oldPart = before.parts.find((other) => other.id === part.id);
      const old = oldPart?.slices[voice.sliceIndex];
      if (!slice || !old || slice.id !== old.id) continue;
      const sameSource = this.plan.sources[slice.sourceIndex]?.id === before.sources[old.sourceIndex]?.id;
      if (sameSource) voice.retune(slice.increment * this.states[voice.partIndex]!.tune);
      else if (slice.sourceIndex >= 0 && !voice.isReversed) this.carryOver(voice, part, slice);
    }
  }

  /** Crosses from a sounding slice to another rendering of it. */
  private carryOver(voice: Voice, part: PlanPart, slice: PlanSlice): void {
    const other = this.freeVoice();
    if (other.active) return;
    const { how } = this;
    how.gain = voice.eventGain;
    how.reverse = false;
    how.joinsPrevious = how.joinsNext = false;
    how.key = voice.key;
    how.limitFrames = Infinity;
    how.stopFadeFrames = part.stopFadeFrames;
    how.tune = this.states[voice.partIndex]!.tune;
    how.rings = voice.rings;
    const fade = Math.round(CARRY_SECONDS * this.sampleRate);
    other.start(this.plan.sources[slice.sourceIndex]!, slice, voice.partIndex, voice.sliceIndex, how, ++this.serial);
    other.skip(voice.goneIn(other, part.keepsPlace), fade);
    other.takeLimit(voice);
    voice.stop(fade);
  }

  /** Starts the song at a position in ticks; it goes round until stopped, or ends by itself at `endTicks`. */
  play(fromTicks = 0, endTicks = Infinity): void {
    this.playing = true;
    this.endTicks = endTicks;
    this.clock.locate(this.frame, fromTicks);
    for (const [index, state] of this.states.entries()) {
      state.player.setPart(this.plan.parts[index]!, null);
      state.ownClock?.locate(this.frame, fromTicks);
    }
    this.seekAll();
  }

  /** Lets the running song end by itself at a position in ticks; Infinity lets it go round. */
  endAt(endTicks: number): void {
    this.endTicks = endTicks;
  }

  /** Stops the song; patterns fade out, held keys go on. */
  stop(): void {
    this.playing = false;
    this.click.stop();
    for (const voice of this.voices) if (voice.active && voice.key < 0) voice.stop(this.transportFade());
  }

  /** Song position in ticks. */
  get positionTicks(): number {
    return this.playing ? this.clock.ticksAt(this.frame) : 0;
  }

  /** Plays the slice on a key of a part, velocity 0..1. Unknown parts and empty keys are silent. */
  noteOn(partId: string, key: number, velocity: number): void {
    const partIndex = this.partIndexById.get(partId) ?? -1;
    const sliceIndex = this.plan.parts[partIndex]?.keys[key] ?? -1;
    if (sliceIndex >= 0) this.playSlice(partId, sliceIndex, velocity, key);
  }

  /** Lets a key go. */
  noteOff(partId: string, key: number): void {
    const partIndex = this.partIndexById.get(partId) ?? -1;
    for (const voice of this.voices) {
      if (voice.active && voice.partIndex === partIndex && voice.key === key) voice.letGo();
    }
  }

  /** Plays a slice by its place in the cut; `key` is the note that holds it, or -1. */
  playSlice(partId: string, sliceIndex: number, velocity: number, key = -1): void {
    const partIndex = this.partIndexById.get(partId) ?? -1;
    const part = this.plan.parts[partIndex];
    if (!part?.slices[sliceIndex]) return;
    const { how } = this;
    how.gain = velocityToGain(velocity);
    how.reverse = part.slices[sliceIndex].reverse;
    how.joinsPrevious = how.joinsNext = false;
    how.key = key;
    how.limitFrames = Infinity;
    how.stopFadeFrames = part.stopFadeFrames;
    how.rings = part.keepsPlace;
    this.startVoice(partIndex, part, sliceIndex);
  }

  /** Plays a range of a source as it is, beside the song; see {@link PreviewPlayer.start}. */
  preview(source: PlanSource, startFrame = 0, endFrame = Infinity, looping = false): void {
    this.previewPlayer.start(source, startFrame, endFrame, looping);
  }

  stopPreview(): void {
    this.previewPlayer.stop(this.transportFade());
  }

  get previewing(): boolean {
    return this.previewPlayer.playing;
  }

  /** Calls back for every slice that sounds: the part's and the slice's place, and the frame of the source. */
  eachSounding(visit: (partIndex: number, sliceIndex: number, sourceFrame: number) => void): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.stopping) continue;
      const slice = this.plan.parts[voice.partIndex]?.slices[voice.sliceIndex];
      visit(voice.partIndex, voice.sliceIndex, slice ? shownFrame(slice, voice.sourceFrame) : voice.sourceFrame);
    }
  }

  /** Where the preview is in its source, in frames. */
  get previewFrame(): number {
    return this.previewPlayer.sourceFrame;
  }

  /** Playing and waiting pattern of each part and where it is, by its own tempo if it has one; for display. */
  patternIds(): { playing: string | null; waiting: string | null; positionTicks: number }[] {
    return this.states.map((state) => ({
      playing: state.player.pattern?.id ?? null,
      waiting: state.player.waitingId,
      positionTicks: this.playing ? this.clockOf(state).ticksAt(this.frame) : 0,
    }));
  }

  /** Loudest sample of each part's bus since the last call. */
  takePartPeaks(): number[] {
    return this.states.map(({ bus }) => {
      const { peak } = bus;
      bus.peak = 0;
      return peak;
    });
  }

  /** Renders the next `frameCount` frames, replacing what the outputs hold. */
  process(left: Float32Array, right: Float32Array, frameCount: number): void {
    left.fill(0, 0, frameCount);
    right.fill(0, 0, frameCount);
    let done = 0;
    while (done < frameCount) {
      let count = Math.min(frameCount - done, MAX_SEGMENT_FRAMES);
      if (this.playing) {
        this.runDue();
        if (this.playing) count = Math.min(count, this.framesToNext());
      }
      this.renderSegment(left, right, done, count);
      this.frame += count;
      done += count;
    }
    for (let i = 0; i < frameCount; i++) {
      const l = Math.abs(left[i]!);
      const r = Math.abs(right[i]!);
      if (l > this.peaks[0]!) this.peaks[0] = l;
      if (r > this.peaks[1]!) this.peaks[1] = r;
    }
  }

  private seekAll(): void {
    for (const state of this.states) state.player.seek(this.clockOf(state).ticksRoundingTo(this.frame));
    this.nextBeat = Math.ceil(this.clock.ticksRoundingTo(this.frame) / TICKS_PER_BEAT);
  }

  /** Has the song come to its end? What sounds then rings out. */
  private endIfDue(): boolean {
    if (this.endTicks === Infinity || this.clock.frameAt(this.endTicks) > this.frame) return false;
    this.playing = false;
    return true;
  }

  private runDue(): void {
    if (this.endIfDue()) return;
    while (this.clock.frameAt(this.nextBeat * TICKS_PER_BEAT) <= this.frame) {
      // Before the song's first bar line it is counted in, whether the click is on or not.
      if (this.plan.clickEnabled || this.nextBeat < 0) {
        this.click.start(this.plan.clickSound, this.nextBeat % this.plan.beatsPerBar === 0);
      }
      this.nextBeat++;
    }
    for (let index = 0; index < this.states.length; index++) {
      const state = this.states[index]!;
      const { player } = state;
      const clock = this.clockOf(state);
      if (state.retuneTicks !== Infinity && this.clock.frameAt(state.retuneTicks) <= this.frame) this.retune(index);
      player.changeAt(this.frame, clock);
      if (player.endsRound(this.frame, clock) && !this.plan.parts[index]!.ringOver) this.cutTails(index);
      for (let event = player.take(this.frame, clock); event; event = player.take(this.frame, clock)) {
        this.startEvent(index, event, clock);
      }
    }
  }

  private framesToNext(): number {
    let next = this.clock.frameAt(this.nextBeat * TICKS_PER_BEAT);
    if (this.endTicks !== Infinity) next = Math.min(next, this.clock.frameAt(this.endTicks));
    for (let index = 0; index < this.states.length; index++) {
      const state = this.states[index]!;
      next = Math.min(next, state.player.nextFrame(this.clockOf(state)));
      if (!this.plan.parts[index]!.ringOver) {
        next = Math.min(next, state.player.roundEndFrame(this.clockOf(state), this.frame));
      }
      if (state.retuneTicks !== Infinity) next = Math.min(next, this.clock.frameAt(state.retuneTicks));
    }
    return Math.max(1, next - this.frame);
  }

  /** A transposition whose bar line has come. */
  private retune(partIndex: number): void {
    const state = this.states[partIndex]!;
    const part = this.plan.parts[partIndex]!;
    state.tune = part.tuneRatio;
    state.retuneTicks = Infinity;
    for (const voice of this.voices) {
      const slice = voice.active && voice.partIndex === partIndex ? part.slices[voice.sliceIndex] : undefined;
      if (slice) voice.retune(slice.increment * state.tune);
    }
  }

  /** The end of a part's round, where its tails are to end with it. */
  private cutTails(partIndex: number): void {
    const { stopFadeFrames } = this.plan.parts[partIndex]!;
    for (const voice of this.voices) {
      if (voice.active && voice.partIndex === partIndex && voice.key < 0) voice.stop(stopFadeFrames);
    }
  }

  private startEvent(partIndex: number, event: PlanEvent, clock: SongClock): void {
    const part = this.plan.parts[partIndex]!;
    const { how } = this;
    const now = clock.ticksAt(this.frame);
    const isTuned = this.states[partIndex]!.tune !== 1;
    how.gain = event.gain;
    how.reverse = event.reverse;
    how.joinsPrevious = event.joinsPrevious && !isTuned;
    // The last round has no next one to join.
    how.joinsNext = event.joinsNext && !isTuned && now + event.lengthTicks < this.endTicks - 1e-3;
    how.key = -1;
    how.limitFrames =
      how.joinsNext || event.ringsOut ? Infinity : Math.max(1, clock.frameAt(now + event.lengthTicks) - this.frame);
    how.rings = !event.ringsOut;
    how.stopFadeFrames = part.stopFadeFrames;
    this.startVoice(partIndex, part, event.sliceIndex);
  }

  private startVoice(partIndex: number, part: PlanPart, sliceIndex: number): void {
    const slice = part.slices[sliceIndex];
    const source = this.plan.sources[slice?.sourceIndex ?? -1];
    if (!source || !slice || slice.endFrame <= slice.startFrame) return;
    if (part.oneAtATime) {
      for (const voice of this.voices) {
        if (voice.active && voice.partIndex === partIndex) voice.stop(part.stopFadeFrames);
      }
    }
    this.how.tune = this.states[partIndex]!.tune;
    this.freeVoice().start(source, slice, partIndex, sliceIndex, this.how, ++this.serial);
  }

  /** A voice that does not sound, or the oldest. */
  private freeVoice(): Voice {
    let chosen = this.voices[0]!;
    for (const voice of this.voices) {
      if (!voice.active) return voice;
      if (voice.serial < chosen.serial) chosen = voice;
    }
    return chosen;
  }

  private renderSegment(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    for (const voice of this.voices) {
      if (!voice.active) continue;
      const { bus } = this.states[voice.partIndex]!;
      voice.render(bus.left, bus.right, 0, count);
    }
    for (let index = 0; index < this.states.length; index++)
      this.states[index]!.bus.mixInto(left, right, offset, count);
    this.click.render(left, right, offset, count, this.plan.clickGain);
    this.previewPlayer.render(left, right, offset, count);
  }

  private transportFade(): number {
    return Math.round(TRANSPORT_FADE_SECONDS * this.sampleRate);
  }
}
