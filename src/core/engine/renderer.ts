/**
 * Plays a plan. The same code runs live in the AudioWorklet, in the worker that bounces, on the command line and in
 * tests; the same plan gives the same samples whatever the size of the blocks. `process` does not allocate, wait or
 * throw; everything else is called between blocks.
 */
import { prepareSincTables } from '../dsp/sinc.ts';
import { packValues, slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { dbToGain, velocityToGain } from '../units/level.ts';
import { countedBeats, countedBeatTicks, framesPerTick, TICKS_PER_BEAT } from '../units/time.ts';
import { Click } from './click.ts';
import { MAX_SEGMENT_FRAMES } from './mix/channel.ts';
import { MixGraph } from './mix/graph.ts';
import { PART, PartState } from './part-state.ts';
import {
  REPEATED,
  REVERSE,
  splicePattern,
  type FragmentKind,
  type PatternFragment,
  type PlanPatch,
  type PlanSource,
  type RenderPlan,
  type ValueChange,
  type ZoneFragment,
} from './plan/fragments.ts';
import { PreviewPlayer, type PreviewClick } from './preview-player.ts';
import { NoteLog, NoteQueue, type NoteEvent } from './sequence/notes.ts';
import { SongClock } from './sequence/song-clock.ts';
import { grooveAccent, timedLength, type TimingSettings } from './sequence/timing.ts';
import { VoicePool } from './voice/pool.ts';
import { ZONE, ZoneState } from './zone-state.ts';

const SONG = slotsOf(SONG_ROWS);
/** Fade of voices when the transport stops, in seconds. */
const TRANSPORT_FADE_SECONDS = 0.004;
/** An event that is at least this share of its slice's own length plays it whole. */
const NATURAL_SHARE = 0.98;
/** Of what is stretched to its place a little less: feel and groove draw some events together. */
const STRETCHED_SHARE = 0.9;

/** The frame of the part's own source that a frame of a zone's samples stands for; a ringing tail stays at the end. */
function shownFrame({ fragment, sound }: ZoneState, frame: number): number {
  if (!sound.isRendering) return frame;
  const { sliceStartFrame, sliceEndFrame } = fragment;
  const share = Math.min(1, (frame - sound.startFrame) / Math.max(1, sound.naturalEndFrame - sound.startFrame));
  return Math.round(sliceStartFrame + share * (sliceEndFrame - sliceStartFrame));
}

/** What is known of a part from outside. */
export interface PartStatus {
  partId: string;
  playing: string | null;
  waiting: string | null;
  /** By its own tempo if it has one. */
  positionTicks: number;
  /** Loudest sample of its channel since the last look. */
  peak: number;
}

export class Renderer {
  readonly sampleRate: number;
  /** Frames rendered since the renderer was made. */
  frame = 0;
  playing = false;
  /** Loudest sample of each side since last read and cleared. */
  readonly peaks = new Float32Array(2);
  readonly log = new NoteLog();
  private readonly song: Float64Array;
  private readonly clock: SongClock;
  private readonly voices: VoicePool;
  private readonly previewPlayer: PreviewPlayer;
  private readonly click: Click;
  private readonly mix: MixGraph;
  private readonly notes = new NoteQueue();
  private readonly sources = new Map<string, PlanSource>();
  private readonly parts = new Map<string, PartState>();
  private readonly zones = new Map<string, ZoneState>();
  private readonly patterns = new Map<string, PatternFragment>();
  /** Parts in their order, and those that are gone and still fade. */
  private ordered: PartState[] = [];
  private leaving: PartState[] = [];
  private readonly leavingChannels = new Set<string>();
  /** What is clicked, in ticks, and how many of them make a bar. */
  private beatTicks = TICKS_PER_BEAT;
  private beatsABar = 4;
  private clickGain = 0;
  private nextBeat = 0;
  private endTicks = Infinity;
  private readonly timing: TimingSettings = { feelPercent: 100, groove: null, groovePercent: 0, swingPercent: 50 };

  constructor(sampleRate: number) {
    prepareSincTables();
    this.sampleRate = sampleRate;
    this.song = packValues(SONG_ROWS, {});
    this.clock = new SongClock(sampleRate, this.song[SONG.tempoBpm]!);
    this.voices = new VoicePool(sampleRate);
    this.click = new Click(sampleRate);
    this.previewPlayer = new PreviewPlayer(sampleRate);
    this.mix = new MixGraph(sampleRate);
  }

  addSource(source: PlanSource): void {
    this.sources.set(source.id, source);
  }

  /** Forgets sources that no plan will name again. */
  forgetSources(ids: readonly string[]): void {
    for (const id of ids) this.sources.delete(id);
  }

  /** Takes a whole plan; what sounds goes on. @throws RangeError for a plan of another rate */
  setPlan(plan: RenderPlan): void {
    if (plan.sampleRate !== this.sampleRate) {
      throw new RangeError(`the plan is for ${plan.sampleRate} Hz, the renderer runs at ${this.sampleRate} Hz`);
    }
    for (const source of plan.sources) this.addSource(source);
    this.applyPatch(plan.patch);
  }

  /** Takes what has changed of the plan, from the next frame on; what sounds goes on. */
  applyPatch(patch: PlanPatch): void {
    const songTicks = this.clock.ticksAt(this.frame);
    const wasTempo = this.clock.tempoBpm;
    if (patch.song) for (let slot = 0; slot < patch.song.length; slot++) this.song[slot] = patch.song[slot]!;
    for (const change of patch.values) if (change.kind === 'song') this.song[change.slot] = change.value;
    this.followSong(wasTempo);
    const gone = this.goneBy(patch);
    if (patch.channels.length > 0) this.mix.update(patch.channels, []);
    for (const { id } of patch.channels) this.leavingChannels.delete(id);
    this.takePatterns(patch, gone.patterns);
    this.takeParts(patch, gone.parts, songTicks);
    // A part's transposition may wait for a bar line: its zones must know before they take new samples.
    this.takeValues(patch.values);
    this.takeZones(patch, gone.zones, this.clock.tempoBpm === wasTempo);
    // Their channels are mixed until what is left has faded.
    for (const id of gone.channels) this.leavingChannels.add(id);
    this.choosePatterns();
    if (this.playing) this.seekAll();
  }

  /** A single value, as when a field is dragged. */
  setValues(changes: readonly ValueChange[]): void {
    const wasTempo = this.clock.tempoBpm;
    let isSong = false;
    for (const { kind, slot, value } of changes) {
      if (kind !== 'song') continue;
      this.song[slot] = value;
      isSong = true;
    }
    if (isSong) this.followSong(wasTempo);
    this.takeValues(changes);
    if (this.playing) this.seekAll();
  }

  private followSong(wasTempo: number): void {
    const tempoBpm = this.song[SONG.tempoBpm]!;
    const beatsPerBar = this.song[SONG.beatsPerBar]!;
    this.beatTicks = countedBeatTicks(beatsPerBar);
    this.beatsABar = countedBeats(beatsPerBar);
    this.clickGain = dbToGain(this.song[SONG.clickGainDb]!);
    this.clock.setTempo(tempoBpm, this.frame);
    if (tempoBpm !== wasTempo) {
      this.voices.setTempo(tempoBpm);
      for (const part of this.ordered) {
        part.joinSerial = 0;
        if (!part.keepsOwnTempo) this.voices.retime(part, this.clock);
        // Renderings for the old tempo are of no use: what waited is heard at once.
        if (part.changeTicks !== Infinity) this.applyTransposition(part);
      }
    }
    for (const part of this.ordered) this.followTiming(part);
  }

  /** The next bar line of the song in ticks, null while it does not run. */
  private get barTicks(): number | null {
    if (!this.playing) return null;
    const barLength = this.song[SONG.beatsPerBar]! * TICKS_PER_BEAT;
    return Math.ceil(this.clock.ticksAt(this.frame) / barLength - 1e-9) * barLength;
  }

  private takePatterns(patch: PlanPatch, gone: readonly string[]): void {
    for (const id of gone) this.patterns.delete(id);
    for (const pattern of patch.patterns) this.patterns.set(pattern.id, pattern);
    for (const splice of patch.splices) {
      const known = this.patterns.get(splice.id);
      if (known) this.patterns.set(splice.id, splicePattern(known, splice));
    }
  }

  private takeParts(patch: PlanPatch, gone: readonly string[], songTicks: number): void {
    for (const id of gone) {
      const part = this.parts.get(id)!;
      this.parts.delete(id);
      this.voices.stopPart(part);
      part.isLeaving = true;
      this.leaving.push(part);
    }
    for (const fragment of patch.parts) {
      const channel = this.mix.get(fragment.channelId);
      if (!channel) continue;
      const known = this.parts.get(fragment.id);
      const part = known ?? new PartState(fragment, channel);
      part.fragment = fragment;
      part.values = fragment.values.slice();
      part.channel = channel;
      this.parts.set(fragment.id, part);
      part.keepTime(this.sampleRate, this.frame, songTicks);
      this.voices.retime(part, part.clockOr(this.clock));
      if (known && part.followTransposition(this.barTicks)) this.applyZoneSounds(part);
      this.followTiming(part);
    }
    if (patch.partOrder) this.ordered = patch.partOrder.flatMap((id) => this.parts.get(id) ?? []);
    else if (gone.length > 0) this.ordered = this.ordered.filter((part) => !part.isLeaving);
  }

  private takeZones(patch: PlanPatch, gone: readonly string[], isSameTempo: boolean): void {
    const touched = new Set<PartState>();
    for (const id of gone) {
      const zone = this.zones.get(id)!;
      this.zones.delete(id);
      this.voices.stopZone(zone);
      const part = this.parts.get(zone.fragment.partId);
      part?.zones.delete(id);
      if (part) touched.add(part);
    }
    for (const fragment of patch.zones) {
      const part = this.parts.get(fragment.partId);
      if (!part) continue;
      const known = this.zones.get(fragment.id);
      if (known) this.takeZone(known, fragment, part, isSameTempo);
      else {
        const zone = new ZoneState(fragment, this.sources);
        zone.part = part;
        this.zones.set(fragment.id, zone);
        part.zones.set(fragment.id, zone);
        touched.add(part);
      }
    }
    for (const part of touched) part.bindPattern();
  }

  private takeZone(zone: ZoneState, fragment: ZoneFragment, part: PartState, isSameTempo: boolean): void {
    zone.take(fragment, this.sources, part.changeTicks !== Infinity && isSameTempo);
    this.voices.retarget(zone, this.frame, this.clock.tempoBpm);
    this.voices.followValues(zone);
  }

  private takeValues(changes: readonly ValueChange[]): void {
    for (const { kind, id, slot, value } of changes) {
      if (kind === 'zone') {
        const zone = this.zones.get(id);
        zone?.setValue(slot, value);
        if (zone && slot !== ZONE.attackMs) this.voices.followValues(zone);
      } else if (kind === 'channel') this.mix.get(id)?.setValue(slot, value);
      else if (kind === 'effect') this.setEffectValue(id, slot, value);
      else if (kind === 'part') {
        const part = this.parts.get(id);
        if (part) this.setPartValue(part, slot, value);
      }
    }
  }

  private setEffectValue(id: string, slot: number, value: number): void {
    for (const channel of this.mix.all()) {
      for (const one of channel.effects) if (one.id === id) one.effect.setValue(slot, value);
    }
  }

  private setPartValue(part: PartState, slot: number, value: number): void {
    part.values[slot] = value;
    if (slot === PART.transposeCents || slot === PART.transposeAt) {
      if (part.followTransposition(this.barTicks)) this.applyZoneSounds(part);
    } else this.followTiming(part);
  }

  /** Lets a part's cursor know how events are moved. */
  private followTiming(part: PartState): void {
    part.cursor.setTiming(this.timingOf(part, { ...this.timing }), part.values[PART.startOffsetTicks]!);
  }

  private timingOf(part: PartState, out: TimingSettings): TimingSettings {
    out.feelPercent = part.values[PART.feelPercent]!;
    out.groove = part.fragment.groove;
    out.groovePercent = part.values[PART.groovePercent]!;
    out.swingPercent = part.fragment.ownTempoBpm === null ? this.song[SONG.swingPercent]! : 50;
    return out;
  }

  /** Puts each part onto the pattern that is chosen, at its next bar line while the song runs. */
  private choosePatterns(): void {
    for (const part of this.ordered) {
      const { cursor, fragment } = part;
      const before = cursor.pattern;
      const playing = before && this.patterns.get(before.id);
      if (playing) cursor.refresh(playing);
      else cursor.pattern = null;
      const wanted = this.patterns.get(fragment.activePatternId) ?? null;
      cursor.choose(wanted, this.playing ? this.barTicksOf(part) : null);
      if (cursor.pattern === before) continue;
      part.bindPattern();
      this.voices.dropJoin(part.joinSerial);
      part.joinSerial = 0;
    }
  }

  /** The next bar line of a part, in ticks of the clock that it goes by. */
  private barTicksOf(part: PartState): number {
    const barLength = this.song[SONG.beatsPerBar]! * TICKS_PER_BEAT;
    return Math.ceil(part.clockOr(this.clock).ticksAt(this.frame) / barLength - 1e-9) * barLength;
  }

  /** Starts the song at a position in ticks; it goes round until stopped, or ends by itself at `endTicks`. */
  play(fromTicks = 0, endTicks = Infinity): void {
    this.playing = true;
    this.endTicks = endTicks;
    this.clock.locate(this.frame, fromTicks);
    this.voices.forgetTicks();
    for (const part of this.ordered) {
      // What waited for a bar line is heard from the start.
      if (part.changeTicks !== Infinity) this.applyTransposition(part);
      part.cursor.choose(this.patterns.get(part.fragment.activePatternId) ?? null, null);
      part.bindPattern();
      part.locate(this.frame, fromTicks);
    }
    this.seekAll(true);
  }

  /** Lets the running song end by itself at a position in ticks; Infinity lets it go round. */
  endAt(endTicks: number): void {
    this.endTicks = endTicks;
  }

  /** Stops the song; patterns fade out, what keys have started goes on. */
  stop(): void {
    this.playing = false;
    this.click.stop();
    this.voices.stopPatterns(this.transportFade());
    for (const part of this.ordered) part.joinSerial = 0;
  }

  /** Song position in ticks. */
  get positionTicks(): number {
    return this.playing ? this.clock.ticksAt(this.frame) : 0;
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

  /** Lets all keys go. */
  allNotesOff(): void {
    this.voices.letAllGo();
  }

  /** Plays a zone once, as if its key were pressed and let go. */
  playZone(zoneId: string, velocity: number): void {
    const zone = this.zones.get(zoneId);
    const part = zone && this.parts.get(zone.fragment.partId);
    if (zone && part) this.startKey(part, zone, velocity, -1);
  }

  /** Plays a range of a source as it is, beside the song; see {@link PreviewPlayer.start}. */
  preview(
    source: PlanSource,
    startFrame = 0,
    endFrame = Infinity,
    looping = false,
    click: PreviewClick | null = null,
  ): void {
    this.previewPlayer.start(source, startFrame, endFrame, looping, click);
  }

  /** {@link preview} of a source that was added. */
  previewSource(
    sourceId: string,
    startFrame: number,
    endFrame: number,
    looping: boolean,
    click: PreviewClick | null,
  ): void {
    const source = this.sources.get(sourceId);
    if (source) this.preview(source, startFrame, endFrame, looping, click);
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
    return this.ordered.map((part) => {
      const { peak } = part.channel;
      part.channel.peak = 0;
      return {
        partId: part.fragment.id,
        playing: part.cursor.pattern?.id ?? null,
        waiting: part.cursor.waitingId,
        positionTicks: this.playing ? part.clockOr(this.clock).ticksAt(this.frame) : 0,
        peak,
      };
    });
  }

  /** Renders the next `frameCount` frames, replacing what the outputs hold. */
  process(left: Float32Array, right: Float32Array, frameCount: number): void {
    left.fill(0, 0, frameCount);
    right.fill(0, 0, frameCount);
    let done = 0;
    while (done < frameCount) {
      let count = Math.min(frameCount - done, MAX_SEGMENT_FRAMES);
      this.runNotes();
      count = Math.min(count, Math.max(1, this.notes.nextFrame - this.frame));
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
    if (this.leaving.length > 0 || this.leavingChannels.size > 0) this.letLeave();
  }

  /** Parts that are gone are forgotten when they have faded. */
  private letLeave(): void {
    for (const part of this.leaving) if (this.voices.isSounding(part)) return;
    this.leaving = [];
    this.mix.update([], [...this.leavingChannels]);
    this.leavingChannels.clear();
  }

  private seekAll(isBeginning = false): void {
    for (const part of this.ordered) {
      part.cursor.seek(part.clockOr(this.clock).ticksRoundingTo(this.frame), isBeginning);
      part.joinSerial = isBeginning ? 0 : part.joinSerial;
    }
    this.nextBeat = Math.ceil(this.clock.ticksRoundingTo(this.frame) / this.beatTicks);
  }

  private runNotes(): void {
    for (let note = this.notes.take(this.frame); note; note = this.notes.take(this.frame)) {
      const entry = this.log.write();
      entry.kind = note.kind;
      entry.origin = 'key';
      entry.frame = Math.min(note.frame, this.frame);
      entry.songTicks = this.playing ? this.clock.ticksAt(entry.frame) : null;
      entry.partId = note.partId;
      entry.zoneId = '';
      entry.key = note.key;
      entry.velocity = note.velocity;
      entry.noteId = note.noteId;
      entry.lengthTicks = 0;
      if (note.kind === 'off') {
        this.voices.letGo(note.noteId);
        continue;
      }
      const part = this.parts.get(note.partId);
      if (!part) continue;
      for (const zone of part.zones.values()) {
        const { lowKey, highKey } = zone.fragment;
        if (lowKey < 0 || note.key < lowKey || note.key > highKey) continue;
        if (entry.zoneId === '') entry.zoneId = zone.fragment.id;
        this.startKey(part, zone, note.velocity, note.noteId);
      }
    }
  }

  private startKey(part: PartState, zone: ZoneState, velocity: number, noteId: number): void {
    const { next } = this.voices;
    next.gain = velocityToGain(velocity);
    next.pan = next.tuneCents = 0;
    next.reverse = zone.values[ZONE.reverse] !== 0;
    next.joinsPrevious = next.joinsNext = false;
    next.joinFrames = 0;
    next.origin = 'key';
    next.noteId = noteId;
    next.stopAtTicks = next.stopAtFrame = Infinity;
    next.playsRemainder = zone.fragment.follow === 'stretch';
    next.songTempoBpm = this.clock.tempoBpm;
    next.frame = this.frame;
    part.joinSerial = 0;
    this.voices.start(zone, part);
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
      if (this.song[SONG.clickOn] || this.nextBeat < 0) {
        this.click.start(this.song[SONG.clickSound]!, this.nextBeat % this.beatsABar === 0);
      }
      this.nextBeat++;
    }
    for (let index = 0; index < this.ordered.length; index++) {
      const part = this.ordered[index]!;
      const { cursor } = part;
      const clock = part.clockOr(this.clock);
      if (part.changeTicks !== Infinity && this.clock.frameAt(part.changeTicks) <= this.frame) {
        this.applyTransposition(part);
      }
      if (cursor.changeAt(this.frame, clock)) part.bindPattern();
      if (!part.ringsOver && cursor.endsRound(this.frame, clock)) this.voices.stopPattern(part);
      this.startDue(part, clock);
    }
  }

  private startDue(part: PartState, clock: SongClock): void {
    const { cursor } = part;
    for (;;) {
      const ticks = cursor.nextTicks();
      const { round } = cursor;
      const place = cursor.take(this.frame, clock);
      if (place < 0) return;
      this.startEvent(part, place, round, ticks, clock);
    }
  }

  private framesToNext(): number {
    let next = this.clock.frameAt(this.nextBeat * this.beatTicks);
    if (this.endTicks !== Infinity) next = Math.min(next, this.clock.frameAt(this.endTicks));
    for (let index = 0; index < this.ordered.length; index++) {
      const part = this.ordered[index]!;
      const clock = part.clockOr(this.clock);
      next = Math.min(next, part.cursor.nextFrame(clock));
      if (!part.ringsOver) next = Math.min(next, part.cursor.roundEndFrame(clock, this.frame));
      if (part.changeTicks !== Infinity) next = Math.min(next, this.clock.frameAt(part.changeTicks));
    }
    return Math.max(1, next - this.frame);
  }

  /** A transposition whose bar line has come. */
  private applyTransposition(part: PartState): void {
    part.applyTransposition();
    this.applyZoneSounds(part);
  }

  /** What a part plays follows its transposition. */
  private applyZoneSounds(part: PartState): void {
    for (const zone of part.zones.values()) {
      zone.applyPending(this.sources);
      this.voices.retarget(zone, this.frame, this.clock.tempoBpm);
    }
    part.joinSerial = 0;
  }

  private startEvent(part: PartState, place: number, round: number, ticks: number, clock: SongClock): void {
    const zone = part.patternZones[part.cursor.pattern!.events.zone[place]!];
    if (!zone) return;
    const { events, lengthTicks: patternTicks } = part.cursor.pattern!;
    const chance = events.chancePercent[place]!;
    if (chance < 100 && drawPercent(events.seed[place]!, round) >= chance) return;
    const isTimed = !part.cursor.isPlainTiming;
    const position = events.positionTicks[place]!;
    let lengthTicks = events.lengthTicks[place]!;
    let velocity = events.velocity[place]!;
    if (isTimed) {
      const timing = this.timingOf(part, this.timing);
      lengthTicks = timedLength(position, lengthTicks, timing, patternTicks);
      const accent = grooveAccent(position, timing.groove, timing.groovePercent, patternTicks);
      velocity = Math.max(0, Math.min(1, velocity * accent));
    }
    const { next } = this.voices;
    const gainDb = events.gainDb[place]!;
    next.gain = velocityToGain(velocity) * (gainDb === 0 ? 1 : dbToGain(gainDb));
    next.pan = events.pan[place]!;
    next.tuneCents = events.tuneCents[place]!;
    const flags = events.flags[place]!;
    next.reverse = ((flags & REVERSE) !== 0) !== (zone.values[ZONE.reverse] !== 0);
    next.origin = 'pattern';
    next.noteId = -1;
    next.frame = this.frame;
    next.songTempoBpm = this.clock.tempoBpm;
    const rings = (flags & REPEATED) === 0 && this.ringsOut(part, zone, next.reverse, lengthTicks, clock);
    const isJoined = this.isJoined(part, place, round);
    next.joinsPrevious = isJoined;
    const joinFrames = rings ? null : this.joinFrames(part, zone, round, place, ticks, clock);
    next.joinsNext = joinFrames !== null;
    next.joinFrames = joinFrames ?? 0;
    next.stopAtTicks = next.joinsNext || rings ? Infinity : ticks + lengthTicks;
    next.stopAtFrame =
      next.stopAtTicks === Infinity ? Infinity : Math.max(this.frame + 1, clock.frameAt(next.stopAtTicks));
    next.playsRemainder = !rings || zone.sound.hasRemainder;
    const voice = this.voices.start(zone, part);
    part.joinSerial = voice && next.joinsNext ? voice.serial : 0;
    part.joinRound = part.cursor.round;
    part.joinIndex = part.cursor.next;
    this.logEvent(zone, ticks, velocity, lengthTicks);
  }

  private logEvent(zone: ZoneState, ticks: number, velocity: number, lengthTicks: number): void {
    const entry = this.log.write();
    entry.kind = 'on';
    entry.origin = 'pattern';
    entry.frame = this.frame;
    entry.songTicks = ticks;
    entry.partId = zone.fragment.partId;
    entry.zoneId = zone.fragment.id;
    entry.key = -1;
    entry.velocity = velocity;
    entry.noteId = -1;
    entry.lengthTicks = lengthTicks;
  }

  /** Does an event go on over the next one, which is to ring beside it? Only what lasts as long as its slice does. */
  private ringsOut(part: PartState, zone: ZoneState, reverse: boolean, lengthTicks: number, clock: SongClock): boolean {
    const { sound, source, fragment } = zone;
    if (sound.hasRemainder ? reverse : part.isOneAtATime) return false;
    const tempo = sound.hasRemainder || fragment.loopTempoBpm === 0 ? clock.tempoBpm : fragment.loopTempoBpm;
    const share = sound.hasRemainder ? STRETCHED_SHARE : NATURAL_SHARE;
    const frames = sound.naturalEndFrame - sound.startFrame;
    return lengthTicks >= (share * frames) / framesPerTick(tempo, source?.sampleRate ?? this.sampleRate);
  }

  /** Does the start at a place go on where the voice before it has just ended? */
  private isJoined(part: PartState, place: number, round: number): boolean {
    return (
      part.joinSerial !== 0 &&
      part.joinRound === round &&
      part.joinIndex === place &&
      this.voices.hasPlayedOn(part.joinSerial)
    );
  }

  /**
   * Whether an event and the next are together one piece of the source, so that a loop played in its own order at its own
   * tempo comes out sample for sample; the last one goes on with the first of the next round.
   * @returns frames by which the slice is to last longer or shorter so that they meet: -1, 0 or 1; null when they do not
   */
  private joinFrames(
    part: PartState,
    zone: ZoneState,
    round: number,
    place: number,
    ticks: number,
    clock: SongClock,
  ): number | null {
    const { cursor, patternZones } = part;
    const { events } = cursor.pattern!;
    // The cursor stands on the next start already.
    const after = patternZones[events.zone[cursor.next]!];
    const next = this.voices.next;
    if (
      !after ||
      next.reverse ||
      part.tune !== 1 ||
      cursor.ticksOf(cursor.round, cursor.next) >= this.endTicks - 1e-3
    ) {
      return null;
    }
    if (!isPlainZone(zone) || !isPlainZone(after) || zone.source !== after.source) return null;
    const isLast = cursor.round !== round;
    if (!isLast && zone.sound.endFrame !== after.sound.startFrame) return null;
    if (events.flags[cursor.next]! !== 0 || after.values[ZONE.reverse] || after.values[ZONE.attackMs]) return null;
    if (events.chancePercent[cursor.next]! < 100) return null;
    const isAsLoud =
      zone.level === after.level &&
      zone.values[ZONE.pan] === after.values[ZONE.pan] &&
      events.velocity[place] === events.velocity[cursor.next] &&
      events.gainDb[place] === events.gainDb[cursor.next] &&
      events.pan[place] === events.pan[cursor.next];
    const isAsHigh = events.tuneCents[place] === 0 && events.tuneCents[cursor.next] === 0;
    if (!isAsLoud || !isAsHigh || zone.increment(this.sampleRate, this.clock.tempoBpm, 0) !== 1) return null;
    if (after.increment(this.sampleRate, this.clock.tempoBpm, 0) !== 1) return null;
    const nextTicks = cursor.ticksOf(cursor.round, cursor.next);
    const frames = clock.frameAt(nextTicks) - clock.frameAt(ticks);
    const off = frames - (zone.sound.endFrame - zone.sound.startFrame);
    return Math.abs(off) <= 1 ? off : null;
  }

  private renderSegment(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    this.voices.render(count, this.frame);
    this.mix.mixInto(left, right, offset, count, this.frame);
    this.click.render(left, right, offset, count, this.clickGain);
    this.previewPlayer.render(left, right, offset, count, this.frame);
  }

  private transportFade(): number {
    return Math.round(TRANSPORT_FADE_SECONDS * this.sampleRate);
  }

  /** Ids of what a patch takes away, by kind. */
  private goneBy(patch: PlanPatch): Record<FragmentKind, string[]> {
    const known = { parts: this.parts, zones: this.zones, patterns: this.patterns };
    const gone: Record<FragmentKind, string[]> = { parts: [], zones: [], patterns: [], channels: [] };
    if (!patch.isWhole) {
      for (const { kind, id } of patch.removed) {
        if (kind === 'channels' ? this.mix.get(id) : known[kind].has(id)) gone[kind].push(id);
      }
      return gone;
    }
    const named = (list: readonly { id: string }[]) => new Set(list.map(({ id }) => id));
    for (const kind of ['parts', 'zones', 'patterns'] as const) {
      const names = named(patch[kind]);
      gone[kind] = [...known[kind].keys()].filter((id) => !names.has(id));
    }
    const channels = named(patch.channels);
    gone.channels = this.mix.all().flatMap(({ id }) => (channels.has(id) ? [] : [id]));
    return gone;
  }
}

/** Plays its slice as it is: no rendering, no envelope, nothing that moves. */
function isPlainZone({ sound, values, fragment }: ZoneState): boolean {
  return (
    !sound.isRendering &&
    sound.tuneCents === 0 &&
    values[ZONE.sustain] === 1 &&
    values[ZONE.filter] === 0 &&
    fragment.modulators.length === 0
  );
}

/** A number of 0..100 that is drawn anew in each round, the same on every machine (mixing by M. O'Neill's PCG hash). */
function drawPercent(seed: number, round: number): number {
  let state = (Math.imul(seed ^ Math.imul(round + 1, 0x9e3779b1), 747796405) + 2891336453) >>> 0;
  state = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
  return (((state >>> 22) ^ state) >>> 0) / 42949672.96;
}
