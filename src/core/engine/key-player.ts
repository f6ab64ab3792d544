/** What keys, wheels and pedals do: which sounds a press reaches, how strong, and what letting go ends. */
import { textHash } from '../units/hash.ts';
import { dbToGain } from '../units/level.ts';
import type { EventStarter } from './event-starter.ts';
import { HeldLoops } from './held-loops.ts';
import { NoteWay } from './helpers/note-way.ts';
import { PartKeys, type KeyPresser } from './helpers/part-keys.ts';
import { plainNote, type WayNote } from './helpers/way-note.ts';
import { PART, type HeldKey, type PartState } from './part-state.ts';
import type { PlanState } from './plan-state.ts';
import { PAST_HELPERS, REVERSE } from './plan/fragments.ts';
import { ReachedZones } from './reached-zones.ts';
import type { ControlEvent, NoteEvent, NoteLog } from './sequence/notes.ts';
import type { SongClock } from './sequence/song-clock.ts';
import type { SongState } from './song-state.ts';
import { TimedReleases } from './timed-releases.ts';
import { ALL_NOTES_OFF, ALL_SOUND_OFF, RESET_CONTROLLERS, SUSTAIN_PEDAL } from './control/controls.ts';
import type { VoicePool } from './voice/pool.ts';
import { strengthGain, strengthOf } from './voice/strength.ts';
import { GATE, ONE_SHOT, TOGGLE, ZONE, type ZoneState } from './zone-state.ts';

/** Places of the choices: when a loop begins. */
const AT_BEAT = 1;
const AT_BAR = 2;

export class KeyPlayer implements KeyPresser {
  readonly loops: HeldLoops;
  private readonly reached = new ReachedZones();
  private readonly manner = { noteId: -1, key: -1, gain: 1, cents: 0 };
  /** What is pressed now: made once. */
  private readonly incoming = plainNote();
  private readonly releases = new TimedReleases((noteId) => this.letGo(noteId));
  /** Presses of strips and helpers have names below those of hands. */
  private lastNoteId = -2;

  constructor(
    private readonly song: SongState,
    private readonly plan: PlanState,
    private readonly voices: VoicePool,
    private readonly starter: EventStarter,
    private readonly log: NoteLog,
  ) {
    this.loops = new HeldLoops(song, starter);
    plan.newWay = (part) => {
      const keys = new PartKeys(part, song, this);
      return new NoteWay(keys, keys);
    };
  }

  newNoteId(): number {
    return this.lastNoteId--;
  }

  /** A key is pressed or let go. */
  note(note: NoteEvent): void {
    const entry = this.log.write();
    entry.kind = note.kind;
    entry.origin = 'key';
    entry.frame = Math.min(note.frame, this.song.frame);
    entry.songTicks = this.song.playing ? this.song.clock.ticksAt(entry.frame) : null;
    entry.partId = note.partId;
    entry.zoneId = '';
    entry.key = note.key;
    entry.velocity = note.velocity;
    entry.noteId = note.noteId;
    entry.cents = 0;
    entry.isEcho = false;
    entry.lengthTicks = 0;
    if (note.kind === 'off') {
      const held = this.heldBy(note.noteId);
      if (held) {
        entry.partId = held.part.fragment.id;
        entry.key = held.key;
      }
      this.letGo(note.noteId);
      return;
    }
    const part = this.plan.parts.get(note.partId);
    if (!part) return;
    const { noteId } = note;
    const press = this.setIncoming(part, noteId, note.key, note.velocity, noteId);
    if (part.way?.isThere) {
      entry.zoneId = this.firstOn(part, press);
      part.way.on(press);
    } else entry.zoneId = this.press(part, press);
  }

  /** A press that brings nothing but its strength. */
  private setIncoming(part: PartState, noteId: number, key: number, velocity: number, seed: number): WayNote {
    const { incoming } = this;
    incoming.noteId = incoming.pressId = noteId;
    incoming.key = key;
    incoming.velocity = velocity;
    incoming.gain = 1;
    incoming.pan = incoming.cents = 0;
    incoming.reverse = incoming.isOfPattern = incoming.isEcho = false;
    incoming.seed = seed;
    incoming.ticks = part.clockOr(this.song.clock).ticksAt(this.song.frame);
    incoming.cutTicks = Infinity;
    return incoming;
  }

  /** What a press would reach by itself: so it is known what was meant, whatever helpers make of it. */
  private firstOn(part: PartState, { key, velocity, seed }: WayNote): string {
    const { reached } = this;
    reached.find(part, key, velocity, seed, true);
    const first = reached.firstId;
    reached.forget();
    return first;
  }

  pressByHelper(part: PartState, note: WayNote): void {
    const entry = this.log.write();
    this.logHelper(entry, part, note.noteId);
    entry.kind = 'on';
    entry.key = note.key;
    entry.velocity = note.velocity;
    entry.cents = note.cents;
    entry.isEcho = note.isEcho;
    // Its worked time, and not that of the frame which is nearest to it.
    if (entry.songTicks !== null && !part.keepsOwnTempo) entry.songTicks = note.ticks;
    entry.lengthTicks = note.cutTicks === Infinity ? 0 : note.cutTicks - note.ticks;
    entry.zoneId = this.press(part, note);
  }

  letGoByHelper(part: PartState, noteId: number): void {
    if (!part.heldKeys.some((held) => held.noteId === noteId)) return;
    const entry = this.log.write();
    this.logHelper(entry, part, noteId);
    entry.kind = 'off';
    entry.key = -1;
    entry.velocity = entry.cents = 0;
    entry.isEcho = false;
    entry.zoneId = '';
    this.letGoOf(part, noteId);
  }

  private logHelper(entry: ReturnType<NoteLog['write']>, part: PartState, noteId: number): void {
    entry.origin = 'helper';
    entry.frame = this.song.frame;
    entry.songTicks = this.song.playing ? this.song.clock.ticksAt(this.song.frame) : null;
    entry.partId = part.fragment.id;
    entry.noteId = noteId;
    entry.lengthTicks = 0;
  }

  /** @returns the first zone that the press reaches, or '' */
  private press(part: PartState, note: WayNote): string {
    const isHeld = part.heldKeys.some(({ pressId }) => pressId !== note.pressId);
    const { noteId, pressId, key, velocity, seed } = note;
    part.heldKeys.push({ noteId, pressId, key, velocity });
    const { reached } = this;
    reached.find(part, key, velocity, seed);
    for (let i = 0; i < reached.count; i++) this.start(part, reached.zones[i]!, note, reached.gains[i]!, isHeld);
    const first = reached.firstId;
    reached.forget();
    return first;
  }

  private start(part: PartState, zone: ZoneState, note: WayNote, gain: number, isHeld: boolean): void {
    if (zone.fragment.playsPatternId !== null) this.startLoop(part, zone, note, gain);
    else if (zone.values[ZONE.answer] !== TOGGLE || !this.voices.toggleOff(zone, note.key)) {
      this.startZone(part, zone, note, gain, isHeld);
    }
  }

  /** Plays a zone once, as if its key were pressed and let go. */
  playZone(part: PartState, zone: ZoneState, velocity: number): void {
    this.startZone(part, zone, this.setIncoming(part, -1, zone.fragment.rootKey, velocity, -1), 1, false);
  }

  /** Starts a zone by a key's press. */
  private startZone(part: PartState, zone: ZoneState, note: WayNote, gain: number, isHeld: boolean): void {
    const { next } = this.voices;
    const { key, isOfPattern, cents } = note;
    const strength = strengthOf(zone, note.velocity);
    next.gain = strengthGain(zone, strength) * gain * note.gain;
    next.velocity = strength;
    next.pan = note.pan;
    next.tuneCents = cents;
    next.key = key;
    next.seed = textHash(zone.fragment.id) ^ Math.imul(note.seed + 2, 0x9e3779b1);
    next.clock = part.clockOr(this.song.clock);
    this.starter.glide(part, zone.keyCents(key) + cents, isHeld);
    next.reverse = (zone.values[ZONE.reverse] !== 0) !== note.reverse;
    next.joinsPrevious = next.joinsNext = false;
    next.joinFrames = 0;
    next.origin = isOfPattern ? 'pattern' : 'key';
    next.isPressed = true;
    next.noteId = note.noteId;
    next.pressId = note.pressId;
    next.stopAtTicks = next.stopAtFrame = Infinity;
    if (note.cutTicks !== Infinity && isWholeKey(part, key)) {
      next.stopAtTicks = note.cutTicks;
      next.stopAtFrame = Math.max(this.song.frame + 1, next.clock.frameAt(note.cutTicks));
    }
    next.playsRemainder = zone.fragment.follow === 'stretch';
    next.songTempoBpm = this.song.clock.tempoBpm;
    next.frame = this.song.frame;
    part.player.joinSerial = 0;
    this.voices.start(zone, part);
  }

  private startLoop(part: PartState, zone: ZoneState, note: WayNote, gain: number): void {
    const { key, noteId } = note;
    const { values } = zone;
    const answer = values[ZONE.answer];
    if (answer === TOGGLE && this.loops.isHeld(zone, key)) {
      this.voices.stopNote(this.loops.end(zone, key, -1), this.fadeFrames(part));
      return;
    }
    const pattern = this.plan.patterns.get(zone.fragment.playsPatternId!);
    if (!pattern) return;
    if (part.isOneAtATime) this.loops.endAll((other) => other === part);
    const { manner } = this;
    manner.noteId = noteId;
    manner.key = key;
    manner.gain = strengthGain(zone, strengthOf(zone, note.velocity)) * gain * zone.level * note.gain;
    manner.cents = zone.keyCents(key) + values[ZONE.tuneCents]! + note.cents;
    this.loops.begin(part, zone, pattern, manner, answer !== GATE && answer !== TOGGLE, this.beginFrame(values));
    this.loops.run();
  }

  /**
   * A strip that means its key: it is pressed as by a hand, so that all that lies there answers alike, and let go where
   * the strip ends. A sound that lies over several keys is pressed where the strip's pitch is.
   * @returns the name of the press; -1 where nothing is heard
   */
  startEvent(part: PartState, place: number, round: number, ticks: number, clock: SongClock): number {
    const { player } = part;
    const { events, lengthTicks: patternTicks } = player.cursor.pattern!;
    const zone = player.zones[events.zone[place]!];
    if (!zone) return -1;
    const { lowKey, highKey, rootKey } = zone.fragment;
    if (lowKey < 0) {
      this.starter.startEvent(part, player, place, round, ticks, clock, null);
      return -1;
    }
    if (!this.starter.comesUp(part, player, place, round)) return -1;
    const { velocity, lengthTicks, seed } = this.starter.due;
    const cents = events.tuneCents[place]!;
    const wanted = rootKey + Math.round(cents / 100);
    const isReached = zone.values[ZONE.followsKey] !== 0 && wanted >= lowKey && wanted <= highKey;
    const key = isReached ? wanted : rootKey;
    const gainDb = events.gainDb[place]!;
    const flags = events.flags[place]!;
    const noteId = this.newNoteId();
    const note = this.setIncoming(part, noteId, key, velocity, seed);
    note.isOfPattern = true;
    note.gain = gainDb === 0 ? 1 : dbToGain(gainDb);
    note.pan = events.pan[place]!;
    note.cents = cents - (key - rootKey) * 100;
    note.reverse = (flags & REVERSE) !== 0;
    note.ticks = ticks;
    if (part.way?.isThere && (flags & PAST_HELPERS) === 0) part.way.on(note);
    else {
      // What plays whole whatever its key does is cut where a strip is shorter, as far as there is room in the pattern.
      const isToEnd = events.positionTicks[place]! + events.lengthTicks[place]! >= patternTicks - 1e-6;
      if (!isToEnd && !this.starter.isWhole(zone, lengthTicks, clock)) note.cutTicks = ticks + lengthTicks;
      this.press(part, note);
    }
    this.releases.add(noteId, ticks + lengthTicks, clock);
    this.starter.logEvent(zone, ticks, velocity, lengthTicks);
    return noteId;
  }

  /** Lets go what strips have pressed and that has come to its end; helpers answer what is over. */
  runReleases(): void {
    this.releases.run(this.song.frame);
    const { ordered } = this.plan;
    for (let p = 0; p < ordered.length; p++) {
      const { way } = ordered[p]!;
      if (way?.isThere) way.runAnswers();
    }
  }

  /** Helpers play what is due. */
  runHelpers(): void {
    const { ordered } = this.plan;
    for (let p = 0; p < ordered.length; p++) {
      const { way } = ordered[p]!;
      if (way?.isThere) way.run();
    }
  }

  /** The song stops, or begins anew: nothing of it stays pressed. */
  releaseEvents(): void {
    this.releases.endAll();
    this.endHelpers();
  }

  /** The song has come to its end: what sounds rings out, and no helper plays on for it. */
  endHelpers(): void {
    for (const { way } of this.plan.ordered) way?.endPatterns();
  }

  /** The song is about to be put elsewhere. */
  noteTicks(): void {
    for (const part of this.plan.ordered) part.ticksBefore = part.clockOr(this.song.clock).ticksAt(this.song.frame);
  }

  /** It has been: what helpers have begun goes on from there. */
  shiftHelpers(): void {
    for (const part of this.plan.ordered) {
      part.way?.shift(part.clockOr(this.song.clock).ticksAt(this.song.frame) - part.ticksBefore);
    }
  }

  /** Frame of what is due next; Infinity when nothing is. */
  get nextFrame(): number {
    let next = Math.min(this.loops.nextFrame, this.releases.nextFrame);
    const { ordered } = this.plan;
    for (let p = 0; p < ordered.length; p++) {
      const { way } = ordered[p]!;
      if (way?.isThere) next = Math.min(next, way.nextFrame);
    }
    return next;
  }

  /** At once, or on the next beat or bar line while the song runs. */
  private beginFrame(values: Float64Array): number {
    const { song } = this;
    const when = values[ZONE.startsAt];
    if (!song.playing || (when !== AT_BEAT && when !== AT_BAR)) return song.frame;
    const ticks = when === AT_BAR ? song.barTicksOf(song.clock) : song.beatTicksOf(song.clock);
    return Math.max(song.frame, song.clock.frameAt(ticks));
  }

  private fadeFrames(part: PartState): number {
    return Math.round((part.values[PART.stopFadeMs]! / 1000) * this.song.sampleRate);
  }

  /** The key of a press, and the part that it is of. */
  private heldBy(noteId: number): { part: PartState; key: number } | null {
    for (const part of this.plan.ordered) {
      const key = part.way?.keyOf(noteId) ?? -1;
      if (key >= 0) return { part, key };
      const press = part.heldKeys.find((held) => held.noteId === noteId);
      if (press) return { part, key: press.key };
    }
    return null;
  }

  /** A press has ended: helpers hear of it where it came by way of them. */
  private letGo(noteId: number): void {
    for (const part of this.plan.ordered) {
      if (part.way?.off(noteId)) return;
      if (this.letGoOf(part, noteId)) return;
    }
    this.endHeld(noteId);
  }

  /** @returns whether it was one of the part */
  private letGoOf(part: PartState, noteId: number): boolean {
    const at = part.heldKeys.findIndex((held) => held.noteId === noteId);
    if (at < 0) return false;
    const wasLatest = at === part.heldKeys.length - 1;
    const [gone] = part.heldKeys.splice(at, 1);
    part.hit.letGo(noteId, this.song.frame);
    const before = part.heldKeys.at(-1);
    // The other notes of a chord have not made way for it.
    const isOther = before !== undefined && before.pressId !== gone!.pressId;
    if (isOther && wasLatest && part.isOneAtATime) this.takeUpAgain(part, before);
    this.endHeld(noteId);
    return true;
  }

  private endHeld(noteId: number): void {
    // Before its voices forget whose they are.
    const ended = this.loops.end(null, -1, noteId);
    if (ended !== -1) this.voices.stopNote(ended, Math.round(0.005 * this.song.sampleRate));
    this.voices.letGo(noteId);
  }

  /** One at a time: the key before, still held, is heard again (common practice: the latest key counts). */
  private takeUpAgain(part: PartState, { key, velocity, noteId, pressId }: HeldKey): void {
    const { reached } = this;
    reached.find(part, key, velocity, noteId, true);
    const note = this.setIncoming(part, noteId, key, velocity, noteId);
    note.pressId = pressId;
    for (let i = 0; i < reached.count; i++) {
      const zone = reached.zones[i]!;
      if (zone.values[ZONE.answer] === GATE && zone.fragment.playsPatternId === null) {
        this.startZone(part, zone, note, reached.gains[i]!, true);
      }
    }
    reached.forget();
  }

  /** A wheel, a pedal, a controller. Numbers of the MIDI 1.0 specification. */
  control({ partId, control, value }: ControlEvent): void {
    const part = this.plan.parts.get(partId);
    if (!part) return;
    const { controls } = part;
    if (control === 'bend') controls.bend = value;
    else if (control === 'pressure') controls.pressure = value;
    else if (control === ALL_SOUND_OFF) this.allSoundOff();
    else if (control === ALL_NOTES_OFF) this.allNotesOff();
    else {
      const wasDown = controls.isPedalDown;
      if (control === RESET_CONTROLLERS) controls.reset();
      else controls.controllers[control] = value;
      if (wasDown && !controls.isPedalDown) this.voices.letSustainedGo(part);
      if (control === SUSTAIN_PEDAL) return;
    }
    this.voices.followControls(part);
  }

  /** Lets all keys go, and the pedals. */
  allNotesOff(): void {
    for (const part of this.plan.ordered) {
      part.heldKeys.length = 0;
      part.way?.forget();
      part.controls.controllers[SUSTAIN_PEDAL] = 0;
    }
    this.releases.clear();
    this.loops.endAll();
    this.voices.letAllGo();
  }

  /** Everything falls silent at once. */
  allSoundOff(): void {
    this.allNotesOff();
    this.voices.stopAll();
  }
}

/** Does all that lies on a key play whole? Where something ends with its key, strips are as long as that was held. */
function isWholeKey(part: PartState, key: number): boolean {
  for (const { fragment, values } of part.zones.values()) {
    const isThere = fragment.lowKey >= 0 && key >= fragment.lowKey && key <= fragment.highKey;
    if (isThere && (values[ZONE.answer] !== ONE_SHOT || fragment.playsPatternId !== null)) return false;
  }
  return true;
}
