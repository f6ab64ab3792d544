/**
 * Plays a plan. The same code runs live in the AudioWorklet, in the worker that bounces, on the command line and in
 * tests; the same plan gives the same samples whatever the size of the blocks. `process` does not allocate, wait or
 * throw; everything else is called between blocks.
 */
import { prepareSincTables } from '../dsp/sinc.ts';
import { dbToGain } from '../units/level.ts';
import { Click } from './click.ts';
import { CONTROL_FRAMES, framesToLook } from './control/control-step.ts';
import { EventStarter } from './event-starter.ts';
import { KeyPlayer } from './key-player.ts';
import { MAX_SEGMENT_FRAMES } from './mix/channel.ts';
import type { Moment, StereoBus } from './mix/effects/effect.ts';
import { MixGraph } from './mix/graph.ts';
import { PlanState } from './plan-state.ts';
import type { PlanPatch, PlanSource, RenderPlan, ValueChange } from './plan/fragments.ts';
import { PreviewPlayer, type PreviewClick } from './preview-player.ts';
import { NoteLog, NoteQueue, type ControlEvent, type NoteEvent } from './sequence/notes.ts';
import { Sequencer } from './sequencer.ts';
import { ROUNDS, SONG, SongState, type PlayWay } from './song-state.ts';
import { shownFrame, takeMixStatus, takeStatus, type MixStatus, type PartStatus } from './status.ts';
import { MAX_VOICES, VoicePool } from './voice/pool.ts';

/** Fade of voices when the transport stops, in seconds. */
const TRANSPORT_FADE_SECONDS = 0.004;

/** Nothing leaves louder than this (40 dB above full scale): floats keep what is over, and no sum of gains is a blow. */
const MOST_OUT = 100;

function bounded(sample: number): number {
  return Number.isNaN(sample) ? 0 : Math.max(-MOST_OUT, Math.min(MOST_OUT, sample));
}

export class Renderer {
  /** Loudest sample of each side since last read and cleared. */
  readonly peaks = new Float32Array(2);
  readonly log = new NoteLog();
  private readonly song: SongState;
  private readonly voices: VoicePool;
  private readonly mix: MixGraph;
  private readonly plan: PlanState;
  private readonly starter: EventStarter;
  private readonly keys: KeyPlayer;
  private readonly sequencer: Sequencer;
  private readonly previewPlayer: PreviewPlayer;
  private readonly click: Click;
  private readonly notes = new NoteQueue();
  private clickGain = 0;
  private readonly moment: Moment;
  private readonly out: { left: Float32Array; right: Float32Array };

  /** @param mostVoices at once; more are taken from the oldest */
  constructor(
    readonly sampleRate: number,
    mostVoices = MAX_VOICES,
  ) {
    prepareSincTables();
    this.song = new SongState(sampleRate);
    this.voices = new VoicePool(sampleRate, mostVoices);
    this.mix = new MixGraph(sampleRate);
    this.plan = new PlanState(this.song, this.voices, this.mix);
    this.starter = new EventStarter(this.song, this.voices, this.log);
    this.keys = new KeyPlayer(this.song, this.plan, this.voices, this.starter, this.log);
    this.click = new Click(sampleRate);
    this.sequencer = new Sequencer(this.song, this.plan, this.voices, this.starter, this.keys, this.click);
    this.previewPlayer = new PreviewPlayer(sampleRate);
    this.moment = {
      frame: 0,
      sampleRate,
      tempoBpm: 120,
      positionTicks: 0,
      isRunning: false,
      isStep: false,
      songFrame: 0,
      rootNote: -1,
      hits: null,
      lateFrames: 0,
    };
    this.out = { left: new Float32Array(0), right: new Float32Array(0) };
  }

  /** Frames rendered since the renderer was made. */
  get frame(): number {
    return this.song.frame;
  }

  /** By how many frames what comes out is later than what was played: effects that look ahead. */
  get latencyFrames(): number {
    return this.mix.latencyFrames;
  }

  get playing(): boolean {
    return this.song.playing;
  }

  addSource(source: PlanSource): void {
    this.plan.sources.set(source.id, source);
  }

  /** Forgets sources that no plan will name again. */
  forgetSources(ids: readonly string[]): void {
    for (const id of ids) this.plan.sources.delete(id);
  }

  /** Takes a whole plan; what sounds goes on. @throws RangeError for a plan of another rate */
  setPlan(plan: RenderPlan): void {
    if (plan.sampleRate !== this.sampleRate) {
      throw new RangeError(`the plan is for ${plan.sampleRate} Hz, the renderer runs at ${this.sampleRate} Hz`);
    }
    for (const source of plan.sources) this.addSource(source);
    this.applyPatch(plan.patch);
  }

  /**
   * Takes what has changed of the plan, from the next frame on; what sounds goes on.
   * @param waitsOf how this part sounds is heard from where another pattern of it would take over
   */
  applyPatch(patch: PlanPatch, waitsOf?: string): void {
    this.plan.apply(patch, this.plan.parts.get(waitsOf ?? ''));
    this.keys.loops.follow(this.plan.patterns);
    this.followClick();
    if (this.playing) this.sequencer.seek();
  }

  /** Values alone, as when a field is dragged. @param waitsOf see {@link applyPatch} */
  setValues(changes: readonly ValueChange[], waitsOf?: string): void {
    this.plan.setValues(changes, this.plan.parts.get(waitsOf ?? ''));
    if (changes.some(({ kind }) => kind === 'song' || kind === 'part')) this.keys.loops.follow(this.plan.patterns);
    this.followClick();
    if (this.playing) this.sequencer.seek();
  }

  private followClick(): void {
    this.clickGain = dbToGain(this.song.values[SONG.clickGainDb]!);
  }

  /**
   * Starts the song at a position in ticks; it goes round until stopped, or ends by itself at `endTicks`.
   * @param way along the running order, if there is one, which ends where it ends; `returnTicks`: from the end it goes on
   *   from there
   */
  play(fromTicks = 0, endTicks = Infinity, way: PlayWay = ROUNDS): void {
    this.song.returnTicks = way.returnTicks;
    this.keys.releaseEvents();
    this.keys.noteTicks();
    this.song.locate(fromTicks, way.followsOrder);
    this.song.endTicks = Math.min(endTicks, this.song.playedOrder?.lengthTicks ?? Infinity);
    this.song.run(true);
    this.voices.forgetTicks();
    this.plan.order.follow(fromTicks);
    this.plan.order.followTempo();
    for (const part of this.plan.ordered) {
      // What waited for a line is heard from the start.
      if (part.waiting.atTicks !== Infinity) this.plan.applyWaiting(part);
      if (part.changeTicks !== Infinity) this.plan.applyTransposition(part);
      part.cursor.choose(this.plan.wantedPattern(part), null);
      // In the middle of a running order what began before is heard, too.
      part.isTakenOver = part.walk !== null && fromTicks > 0;
      part.turns.fill(0);
      part.hit.forget();
      part.bindPattern();
      if (!part.walk) part.locate(this.frame, fromTicks);
    }
    for (const part of this.plan.ordered) {
      part.changeFrame = -Infinity;
      this.plan.order.followChanges(part, part.clockOr(this.song.clock));
    }
    this.keys.shiftHelpers();
    this.settleShared();
    this.sequencer.seek(true);
  }

  /** Lanes and macros are where they are here before anything starts. */
  private settleShared(): void {
    const { ordered, parts, modulators } = this.plan;
    const { beside } = modulators;
    beside.arrive();
    for (const part of ordered) this.plan.lookAtLanes(part);
    this.plan.order.lookAtLanes();
    beside.step(this.frame, this.song.clock, this.sampleRate, parts);
  }

  /** Lets the running song end by itself at a position in ticks; Infinity lets it go round. See {@link play}. */
  endAt(endTicks: number, returnTicks: number | null = null): void {
    this.song.endTicks = Math.min(endTicks, this.song.playedOrder?.lengthTicks ?? Infinity);
    this.song.returnTicks = returnTicks;
  }

  /** Stops the song; patterns fade out, what keys have started goes on. */
  stop(): void {
    this.song.run(false);
    this.click.stop();
    this.voices.stopPatterns(this.transportFade());
    this.plan.order.leave();
    this.plan.order.forgetChanges();
    this.keys.releaseEvents();
    for (const part of this.plan.ordered) {
      part.player.joinSerial = 0;
      part.stopClock();
      // Keys are heard in it already.
      if (part.waiting.atTicks !== Infinity) this.plan.applyWaiting(part);
    }
  }

  /** Ends the song where it is; what sounds rings out. */
  letRingOut(): void {
    this.song.run(false);
    this.keys.endHelpers();
  }

  /** Beats a minute, as they are now. */
  get tempoBpm(): number {
    return this.song.clock.tempoBpm;
  }

  /** Song position in ticks. */
  get positionTicks(): number {
    return this.song.positionTicks;
  }

  /** Takes a key's press or release; it is heard at its frame, or at once when that has passed. */
  addNote(event: NoteEvent): void {
    this.notes.add(event);
  }

  /** Plays what is on a key of a part from now on, velocity 0..1. Unknown parts and empty keys are silent. */
  noteOn(partId: string, key: number, velocity: number, noteId = key): void {
    this.addNote({ kind: 'on', noteId, partId, key, velocity, frame: this.frame });
  }

  /** Lets a key go. */
  noteOff(noteId: number): void {
    this.addNote({ kind: 'off', noteId, partId: '', key: -1, velocity: 0, frame: this.frame });
  }

  /** A wheel, pedal or controller is moved. */
  control(event: ControlEvent): void {
    this.keys.control(event);
  }

  /** Lets all keys go. */
  allNotesOff(): void {
    this.keys.allNotesOff();
  }

  /** Everything that keys and patterns have started falls silent. */
  allSoundOff(): void {
    this.keys.allSoundOff();
    this.mix.hush();
  }

  /** Nothing rings in an effect: what is silent stays so. */
  get areEffectsAtRest(): boolean {
    return this.mix.isAtRest;
  }

  /** A key puts a pattern of a part on in place of the chosen one; '' lets it rest, null gives it back. */
  holdPattern(partId: string, patternId: string | null): void {
    const part = this.plan.parts.get(partId);
    if (!part) return;
    part.heldPatternId = patternId;
    this.plan.choosePatterns();
    if (this.playing) this.sequencer.seek();
  }

  /** Plays a zone once, as if its key were pressed and let go. */
  playZone(zoneId: string, velocity: number): void {
    const zone = this.plan.zones.get(zoneId);
    const part = zone && this.plan.parts.get(zone.fragment.partId);
    if (zone && part) this.keys.playZone(part, zone, velocity);
  }

  /**
   * Plays a range of a source as it is, beside the song; see {@link PreviewPlayer.start}.
   * @param inTime it begins on the next bar line of the song while that runs
   */
  preview(
    source: PlanSource,
    startFrame = 0,
    endFrame = Infinity,
    looping = false,
    click: PreviewClick | null = null,
    inTime = false,
  ): void {
    const { clock } = this.song;
    const isWaiting = inTime && this.playing;
    const wait = isWaiting ? Math.max(0, clock.frameAt(this.song.barTicksOf(clock)) - this.frame) : 0;
    this.previewPlayer.start(source, startFrame, endFrame, looping, click, wait);
  }

  /** {@link preview} of a source that was added. */
  previewSource(
    sourceId: string,
    startFrame: number,
    endFrame: number,
    looping: boolean,
    click: PreviewClick | null,
    inTime = false,
  ): void {
    const source = this.plan.sources.get(sourceId);
    if (source) this.preview(source, startFrame, endFrame, looping, click, inTime);
  }

  stopPreview(): void {
    this.previewPlayer.stop(this.transportFade());
  }

  get previewing(): boolean {
    return this.previewPlayer.playing;
  }

  /** Calls back for every zone that sounds, the latest last, with the frame of the part's own source. */
  eachSounding(visit: (partId: string, zoneId: string, sourceFrame: number) => void): void {
    this.voices.eachSounding((voice) => {
      const zone = voice.zone!;
      visit(zone.fragment.partId, zone.fragment.id, shownFrame(zone, voice.sourceFrame));
    });
  }

  /** Where the preview is in its source, in frames. */
  get previewFrame(): number {
    return this.previewPlayer.sourceFrame;
  }

  /** Playing and waiting pattern of each part, where it is, and how loud it was since the last call. */
  takePartStatus(): PartStatus[] {
    return this.plan.ordered.map((part) => takeStatus(part, this.song));
  }

  /** What goes into an effect and comes out of it is told with the status; null: of none. */
  watchEffect(effectId: string | null): void {
    this.mix.watchEffect(effectId);
  }

  /** What a channel gives to where it is led is kept in these buffers, too, as long as the blocks are no longer. */
  keepStem(channelId: string, stem: StereoBus | null): void {
    this.mix.keepStem(channelId, stem);
  }

  /** Sounds are played, but heard only where this says so: by the ids of their part and of themselves. */
  hearOnly(isHeard: (partId: string, zoneId: string) => boolean): void {
    this.voices.hearOnly(isHeard);
  }

  /** An effect of a channel listens to what another one gives. */
  get hasListeners(): boolean {
    return this.mix.hasListeners;
  }

  /** The channels and effects as they stand. */
  takeMixStatus(): MixStatus {
    const parts = new Set([...this.plan.ordered].map(({ channel }) => channel));
    return { ...takeMixStatus(this.mix.all(), parts), watched: this.mix.takeWatched() };
  }

  /** Renders the next `frameCount` frames, replacing what the outputs hold. */
  process(left: Float32Array, right: Float32Array, frameCount: number): void {
    left.fill(0, 0, frameCount);
    right.fill(0, 0, frameCount);
    let done = 0;
    while (done < frameCount) {
      let count = Math.min(frameCount - done, MAX_SEGMENT_FRAMES);
      this.runNotes();
      if (this.playing) {
        this.sequencer.run();
        if (this.playing) count = Math.min(count, this.sequencer.framesToNext());
      }
      this.keys.runHelpers();
      // Asked after the song: what it has just pressed may be let go soon.
      const next = Math.min(this.notes.nextFrame, this.keys.nextFrame);
      count = Math.min(count, Math.max(1, next - this.frame));
      if (this.plan.modulators.hasToStep) count = Math.min(count, this.stepControls());
      this.renderSegment(left, right, done, count);
      this.song.frame += count;
      done += count;
    }
    for (let i = 0; i < frameCount; i++) {
      let l = Math.abs(left[i]!);
      let r = Math.abs(right[i]!);
      if (!(l <= MOST_OUT)) l = Math.abs((left[i] = bounded(left[i]!)));
      if (!(r <= MOST_OUT)) r = Math.abs((right[i] = bounded(right[i]!)));
      if (l > this.peaks[0]!) this.peaks[0] = l;
      if (r > this.peaks[1]!) this.peaks[1] = r;
    }
    this.plan.letLeave();
  }

  /** What moves beside sounds, and what modulators were set to, goes on. @returns frames until it does again */
  private stepControls(): number {
    const { modulators, parts, ordered } = this.plan;
    const { frame, gridFrame, clock, sampleRate } = this.song;
    const framesToNext = framesToLook(frame, gridFrame);
    if (framesToNext < CONTROL_FRAMES) return framesToNext;
    modulators.step();
    // While the song runs they are looked at before anything is started: see Sequencer.
    if (!this.playing) {
      for (let p = 0; p < ordered.length; p++) this.plan.lookAtLanes(ordered[p]!);
      this.plan.order.lookAtLanes();
    }
    if (modulators.beside.step(frame, clock, sampleRate, parts)) modulators.isOnItsWay = true;
    return framesToNext;
  }

  private runNotes(): void {
    this.keys.runReleases();
    for (let note = this.notes.take(this.frame); note; note = this.notes.take(this.frame)) this.keys.note(note);
    this.keys.loops.run();
  }

  private renderSegment(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    const { frame, gridFrame, clock } = this.song;
    const { moment, out } = this;
    this.voices.render(count, frame, gridFrame);
    this.plan.doubles.carry(count);
    moment.frame = frame;
    moment.tempoBpm = clock.tempoBpm;
    moment.positionTicks = this.song.positionTicks;
    moment.isRunning = this.playing;
    moment.songFrame = frame - (clock.isRunning ? clock.zeroFrame : 0);
    moment.rootNote = this.song.values[SONG.rootNote]! - 1;
    out.left = left;
    out.right = right;
    this.mix.mixInto(out, offset, count, moment, gridFrame);
    this.click.render(left, right, offset, count, this.clickGain);
    this.previewPlayer.render(left, right, offset, count, this.frame);
  }

  private transportFade(): number {
    return Math.round(TRANSPORT_FADE_SECONDS * this.sampleRate);
  }
}
