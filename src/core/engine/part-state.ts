/** What the renderer keeps of a part: where it is in its pattern and time, and its transposition. */
import { slotsOf } from '../params/row.ts';
import { PART_ROWS } from '../params/tables.ts';
import { transposeRatio } from '../units/pitch.ts';
import { framesPerTick } from '../units/time.ts';
import { PartControls } from './control/controls.ts';
import { PartHit } from './control/part-hit.ts';
import type { ChannelState } from './mix/channel.ts';
import type { NoteWay } from './helpers/note-way.ts';
import type { Look, PartFragment } from './plan/fragments.ts';
import type { OrderFragment } from './plan/order-fragment.ts';
import { PatternPlayer } from './pattern-player.ts';
import { OrderWalk } from './sequence/order-walk.ts';
import { TreatmentChanges } from './sequence/treatment-changes.ts';
import { SongClock } from './sequence/song-clock.ts';
import { FEEL_STEP_TICKS } from '../strips/feel-step.ts';
import type { TimingSettings } from '../strips/timing.ts';
import { WaitingChanges } from './waiting-changes.ts';
import { ZONE, type ZoneState } from './zone-state.ts';

export const PART = slotsOf(PART_ROWS);
const AT_BAR = PART_ROWS.transposeAt.choices.findIndex(({ value }) => value === 'bar');

/** A press that has not ended. */
export interface HeldKey {
  noteId: number;
  /** Those of one chord share it. */
  pressId: number;
  key: number;
  velocity: number;
}

export class PartState {
  /** Walks through the part's pattern. */
  readonly player = new PatternPlayer();
  readonly controls = new PartControls();
  /** The latest hit, for what moves what the part is heard through. */
  readonly hit = new PartHit(this.controls);
  fragment: PartFragment;
  values: Float64Array;
  channel: ChannelState;
  /** Zones of the part by their ids. */
  readonly zones = new Map<string, ZoneState>();
  /** Some of its zones are soloed: only those are heard. */
  hasSolo = false;
  /** Transposition that is heard, as a factor of the increments. */
  tune: number;
  /** Song position at which another transposition is heard, in ticks; Infinity when none waits. */
  changeTicks = Infinity;
  /** Settings that are heard from a line of the song on. */
  readonly waiting = new WaitingChanges();
  /** A pattern that a key puts on in place of the chosen one; '' for a rest, null for none. */
  heldPatternId: string | null = null;
  /** Where it is in the running order that is played; null while none is. */
  walk: OrderWalk | null = null;
  /** How it may sound along the running order and its patterns, and how it does. */
  looks: readonly Look[] = [];
  look: Look | null = null;
  /** The treatments that its pattern puts on. */
  readonly changes = new TreatmentChanges();
  /** Frame at which they are looked at next. */
  changeFrame = Infinity;
  private readonly ownWalk = new OrderWalk();
  /** Another pattern has just taken over: what of it has begun already is taken up in its middle. */
  isTakenOver = false;
  /** Gone from the plan: it fades out. */
  isLeaving = false;
  /** Pitch of its last start, in cents from its sound's own, for gliding; null before the first. */
  lastCents: number | null = null;
  /** Keys that are held, the latest last. */
  readonly heldKeys: HeldKey[] = [];
  /** What notes pass on the way to the keys; null while there never was anything. */
  way: NoteWay | null = null;
  /** Where its time stood before the song was put elsewhere. */
  ticksBefore = 0;
  /** Whose turn it is, of those that take turns on a key. */
  readonly turns = new Uint16Array(128);
  private heardCents: number;
  /** Keeps the part's own tempo; null while it follows the song's. */
  private ownClock: SongClock | null = null;

  constructor(fragment: PartFragment, channel: ChannelState) {
    this.fragment = fragment;
    this.values = fragment.values.slice();
    this.channel = channel;
    this.heardCents = this.values[PART.transposeCents]!;
    this.tune = transposeRatio(0, this.heardCents);
  }

  /**
   * Follows the transposition that is wanted now.
   * @param barTicks the next bar line of the song in ticks, null while it does not run
   * @returns true when what is heard has changed; otherwise it is as it was, or waits
   */
  followTransposition(barTicks: number | null): boolean {
    const waits = this.values[PART.transposeAt] === AT_BAR && barTicks !== null;
    if (waits && this.values[PART.transposeCents] !== this.heardCents) {
      this.changeTicks = Math.min(this.changeTicks, barTicks);
      return false;
    }
    return this.applyTransposition();
  }

  /** Another transposition is heard from a position of the song on, in ticks. */
  awaitTransposition(cents: number, atTicks: number): void {
    this.values[PART.transposeCents] = cents;
    if (cents !== this.heardCents) this.changeTicks = Math.min(this.changeTicks, atTicks);
  }

  /** What waited is heard from now on. @returns true when that is another transposition, or one waited */
  applyTransposition(): boolean {
    const cents = this.values[PART.transposeCents]!;
    const isOther = cents !== this.heardCents || this.changeTicks !== Infinity;
    this.heardCents = cents;
    this.tune = transposeRatio(0, cents);
    this.changeTicks = Infinity;
    return isOther;
  }

  /** A part that leaves the song's tempo, or comes back to it, goes on from where the song is. */
  keepTime(sampleRate: number, frame: number, songTicks: number): void {
    const { ownTempoBpm } = this.fragment;
    if (ownTempoBpm === null) this.ownClock = null;
    else if (this.ownClock) this.ownClock.setTempo(ownTempoBpm, frame);
    else {
      this.ownClock = new SongClock(sampleRate, ownTempoBpm);
      this.ownClock.locate(frame, songTicks);
      this.ownClock.isRunning = true;
    }
  }

  /** The song begins at a position. */
  locate(frame: number, ticks: number): void {
    if (!this.ownClock) return;
    this.ownClock.locate(frame, ticks);
    this.ownClock.isRunning = true;
  }

  /** What keeps a tempo of its own began so many frames ago. */
  locateAfter(frame: number, goneFrames: number): void {
    if (this.ownClock) this.locate(frame, goneFrames / framesPerTick(this.ownClock.tempoBpm, this.ownClock.sampleRate));
  }

  /** It follows a running order from a position on, or none. */
  follow(order: OrderFragment | null, ticks: number): void {
    this.walk = order ? this.ownWalk : null;
    if (order) this.ownWalk.seek(order, this.fragment.id, ticks);
  }

  /** How its pattern, or else the running order, lets it sound now; null for as it does by itself. */
  get wantedLook(): Look | null {
    const wanted = this.changes.treatmentId || (this.walk?.treatmentId ?? '');
    return wanted === '' ? null : (this.looks.find(({ treatmentId }) => treatmentId === wanted) ?? null);
  }

  /** The song has stopped. */
  stopClock(): void {
    if (this.ownClock) this.ownClock.isRunning = false;
  }

  clockOr(song: SongClock): SongClock {
    return this.ownClock ?? song;
  }

  get keepsOwnTempo(): boolean {
    return this.ownClock !== null;
  }

  get isOneAtATime(): boolean {
    return this.values[PART.oneAtATime] !== 0;
  }

  /** How many of its sounds at once. */
  get mostVoices(): number {
    return this.values[PART.voices]! || Infinity;
  }

  /** Of its zones, which are silenced may have changed. */
  followSolo(): void {
    this.hasSolo = false;
    for (const zone of this.zones.values()) if (zone.values[ZONE.soloed]) this.hasSolo = true;
  }

  isHeard({ values }: ZoneState): boolean {
    return this.hasSolo ? values[ZONE.soloed] !== 0 : values[ZONE.muted] === 0;
  }

  get cursor(): PatternPlayer['cursor'] {
    return this.player.cursor;
  }

  get ringsOver(): boolean {
    return this.values[PART.ringOver] !== 0;
  }

  /** How its events are moved; written into `out`. @param swingPercent of the song */
  timing(swingPercent: number, out: TimingSettings): TimingSettings {
    out.feelPercent = this.values[PART.feelPercent]!;
    out.feelStepTicks = FEEL_STEP_TICKS[this.values[PART.feelStep]!]!;
    out.groove = this.fragment.groove;
    out.groovePercent = this.values[PART.groovePercent]!;
    out.swingPercent = this.fragment.ownTempoBpm === null ? swingPercent : 50;
    return out;
  }

  /** The zones that the playing pattern names. */
  bindPattern(): void {
    this.player.bind(this.zones);
  }
}
