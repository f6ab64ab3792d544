/**
 * Plays a RenderPlan. The same code runs live in the AudioWorklet, in the worker that bounces, on the command line and
 * in tests; the same plan gives the same samples whatever the size of the blocks. `process` does not allocate, wait or
 * throw; everything else is called between blocks.
 */
import { prepareSincTables } from '../dsp/sinc.ts';
import { velocityToGain } from '../units/level.ts';
import { countedBeats, countedBeatTicks, TICKS_PER_BEAT } from '../units/time.ts';
import { Click } from './click.ts';
import { MAX_SEGMENT_FRAMES } from './part-bus.ts';
import { PartState, type PlanMoment } from './part-state.ts';
import { emptyPlan, type PlanEvent, type PlanSlice, type PlanSource, type RenderPlan } from './render-plan.ts';
import { PreviewPlayer } from './preview-player.ts';
import { SongClock } from './song-clock.ts';
import { VoicePool } from './voice-pool.ts';

/** Fade of voices when the transport stops, in seconds. */
const TRANSPORT_FADE_SECONDS = 0.004;

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
  private readonly voices: VoicePool;
  private readonly previewPlayer: PreviewPlayer;
  private readonly click: Click;
  private states: PartState[] = [];
  private partIndexById = new Map<string, number>();
  /** What is clicked, in ticks, and how many of them make a bar. */
  private beatTicks = TICKS_PER_BEAT;
  private beatsABar = 4;
  private nextBeat = 0;
  private endTicks = Infinity;

  constructor(sampleRate: number) {
    prepareSincTables();
    this.sampleRate = sampleRate;
    this.plan = emptyPlan(sampleRate);
    this.clock = new SongClock(sampleRate, this.plan.tempoBpm);
    this.voices = new VoicePool(sampleRate);
    this.click = new Click(sampleRate);
    this.previewPlayer = new PreviewPlayer(sampleRate);
  }

  /** Takes a new plan from the next frame on; what sounds goes on. @throws RangeError for a plan of another rate */
  setPlan(plan: RenderPlan): void {
    if (plan.sampleRate !== this.sampleRate) {
      throw new RangeError(`the plan is for ${plan.sampleRate} Hz, the renderer runs at ${this.sampleRate} Hz`);
    }
    const before = this.states;
    const newIndex = new Map(plan.parts.map((part, index) => [part.id, index]));
    this.voices.renumber((index) => newIndex.get(before[index]!.part.id) ?? -1);
    const sameTempo = plan.tempoBpm === this.plan.tempoBpm;
    if (!sameTempo) this.voices.dropJoins();
    this.clock.setTempo(plan.tempoBpm, this.frame);
    const songTicks = this.clock.ticksAt(this.frame);
    const barLength = plan.beatsPerBar * TICKS_PER_BEAT;
    const barTicks = this.playing ? Math.ceil(songTicks / barLength - 1e-9) * barLength : null;
    const moment: PlanMoment = { frame: this.frame, songTicks, barTicks, sameTempo };
    const known = new Map(before.map((state) => [state.part.id, state]));
    this.states = plan.parts.map((part, index) => {
      const old = known.get(part.id);
      const state = old ?? new PartState(part, plan.sources);
      const { sounds } = state;
      state.follow(part, plan.sources, moment);
      state.keepTime(this.sampleRate, moment);
      state.player.setPart(part, old ? barTicks : null);
      if (old) this.voices.carry(state, index, sounds);
      return state;
    });
    this.plan = plan;
    this.beatTicks = countedBeatTicks(plan.beatsPerBar);
    this.beatsABar = countedBeats(plan.beatsPerBar);
    this.partIndexById = newIndex;
    if (this.playing) this.seekAll();
  }

  /** Starts the song at a position in ticks; it goes round until stopped, or ends by itself at `endTicks`. */
  play(fromTicks = 0, endTicks = Infinity): void {
    this.playing = true;
    this.endTicks = endTicks;
    this.clock.locate(this.frame, fromTicks);
    for (const state of this.states) {
      // What waited for a bar line is heard from the start.
      state.settle();
      state.locate(this.frame, fromTicks);
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
    this.voices.stopPatterns(this.transportFade());
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
    this.voices.letGo(this.partIndexById.get(partId) ?? -1, key);
  }

  /** Plays a slice by its place in the cut; `key` is the note that holds it, or -1. */
  playSlice(partId: string, sliceIndex: number, velocity: number, key = -1): void {
    const partIndex = this.partIndexById.get(partId) ?? -1;
    const state = this.states[partIndex];
    const slice = state?.sounds[sliceIndex]?.slice;
    if (!state || !slice) return;
    const { how } = this.voices;
    how.gain = velocityToGain(velocity);
    how.reverse = slice.reverse;
    how.joinsPrevious = how.joinsNext = false;
    how.key = key;
    how.limitFrames = Infinity;
    how.rings = state.part.keepsPlace;
    this.voices.start(state, partIndex, sliceIndex);
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
    this.voices.eachSounding((partIndex, sliceIndex, frame) => {
      const slice = this.states[partIndex]?.sounds[sliceIndex]?.slice;
      visit(partIndex, sliceIndex, slice ? shownFrame(slice, frame) : frame);
    });
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
      positionTicks: this.playing ? state.clockOr(this.clock).ticksAt(this.frame) : 0,
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
    for (const state of this.states) state.player.seek(state.clockOr(this.clock).ticksRoundingTo(this.frame));
    this.nextBeat = Math.ceil(this.clock.ticksRoundingTo(this.frame) / this.beatTicks);
  }

  /** Has the song come to its end? What sounds then rings out. */
  private endIfDue(): boolean {
    if (this.endTicks === Infinity || this.clock.frameAt(this.endTicks) > this.frame) return false;
    this.playing = false;
    return true;
  }

  private runDue(): void {
    if (this.endIfDue()) return;
    while (this.clock.frameAt(this.nextBeat * this.beatTicks) <= this.frame) {
      // Before the song's first bar line it is counted in, whether the click is on or not.
      if (this.plan.clickEnabled || this.nextBeat < 0) {
        this.click.start(this.plan.clickSound, this.nextBeat % this.beatsABar === 0);
      }
      this.nextBeat++;
    }
    for (let index = 0; index < this.states.length; index++) {
      const state = this.states[index]!;
      const { player } = state;
      const clock = state.clockOr(this.clock);
      if (state.changeTicks !== Infinity && this.clock.frameAt(state.changeTicks) <= this.frame) this.settle(index);
      player.changeAt(this.frame, clock);
      if (player.endsRound(this.frame, clock) && !state.part.ringOver) {
        this.voices.stopPart(index, state.part.stopFadeFrames, false);
      }
      for (let event = player.take(this.frame, clock); event; event = player.take(this.frame, clock)) {
        this.startEvent(index, event, clock);
      }
    }
  }

  private framesToNext(): number {
    let next = this.clock.frameAt(this.nextBeat * this.beatTicks);
    if (this.endTicks !== Infinity) next = Math.min(next, this.clock.frameAt(this.endTicks));
    for (const state of this.states) {
      const clock = state.clockOr(this.clock);
      next = Math.min(next, state.player.nextFrame(clock));
      if (!state.part.ringOver) next = Math.min(next, state.player.roundEndFrame(clock, this.frame));
      if (state.changeTicks !== Infinity) next = Math.min(next, this.clock.frameAt(state.changeTicks));
    }
    return Math.max(1, next - this.frame);
  }

  /** A transposition whose bar line has come. */
  private settle(partIndex: number): void {
    const state = this.states[partIndex]!;
    const { sounds } = state;
    state.settle();
    this.voices.carry(state, partIndex, sounds);
  }

  private startEvent(partIndex: number, event: PlanEvent, clock: SongClock): void {
    const state = this.states[partIndex]!;
    const { how } = this.voices;
    const now = clock.ticksAt(this.frame);
    const isTuned = state.tune !== 1;
    how.gain = event.gain;
    how.reverse = event.reverse;
    how.joinsPrevious = event.joinsPrevious && !isTuned;
    // The last round has no next one to join.
    how.joinsNext = event.joinsNext && !isTuned && now + event.lengthTicks < this.endTicks - 1e-3;
    how.key = -1;
    how.limitFrames =
      how.joinsNext || event.ringsOut ? Infinity : Math.max(1, clock.frameAt(now + event.lengthTicks) - this.frame);
    how.rings = !event.ringsOut || state.sounds[event.sliceIndex]!.slice.hasRest;
    this.voices.start(state, partIndex, event.sliceIndex);
  }

  private renderSegment(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    this.voices.render(this.states, count);
    for (const { bus } of this.states) bus.mixInto(left, right, offset, count);
    this.click.render(left, right, offset, count, this.plan.clickGain);
    this.previewPlayer.render(left, right, offset, count);
  }

  private transportFade(): number {
    return Math.round(TRANSPORT_FADE_SECONDS * this.sampleRate);
  }
}
