/** What keys, wheels and pedals do: which sounds a press reaches, how strong, and what letting go ends. */
import { hashed01, textHash } from '../units/hash.ts';
import { dbToGain } from '../units/level.ts';
import type { EventStarter } from './event-starter.ts';
import { HeldLoops } from './held-loops.ts';
import { PART, type HeldKey, type PartState } from './part-state.ts';
import type { PlanState } from './plan-state.ts';
import { REVERSE } from './plan/fragments.ts';
import type { ControlEvent, NoteEvent, NoteLog } from './sequence/notes.ts';
import type { SongClock } from './sequence/song-clock.ts';
import type { SongState } from './song-state.ts';
import { StripReleases } from './strip-releases.ts';
import { ALL_NOTES_OFF, ALL_SOUND_OFF, RESET_CONTROLLERS, SUSTAIN_PEDAL } from './control/controls.ts';
import type { VoicePool } from './voice/pool.ts';
import { layerGain, strengthGain, strengthOf, velocityStep } from './voice/strength.ts';
import { GATE, ONE_SHOT, TOGGLE, ZONE, type ZoneState } from './zone-state.ts';

/** Places of the choices: how several sounds on one key share it, and when a loop begins. */
const IN_TURN = 1;
const BY_CHANCE = 2;
const AT_BEAT = 1;
const AT_BAR = 2;
/** More sounds on one key than anybody lays there. */
const MAX_LAYERS = 64;
const NO_STRIP = {
  isOn: false,
  gain: 1,
  pan: 0,
  cents: 0,
  reverse: false,
  seed: 0,
  endTicks: 0,
  /** It ends what it starts: shorter than the sound itself. */
  isCut: false,
};

export class KeyPlayer {
  readonly loops: HeldLoops;
  /** What a press reaches: made once. */
  private readonly reached: (ZoneState | null)[] = new Array<ZoneState | null>(MAX_LAYERS).fill(null);
  private readonly gains = new Float64Array(MAX_LAYERS);
  private readonly manner = { noteId: -1, key: -1, gain: 1, cents: 0 };
  /** What a strip that presses brings beside its strength; that of a hand brings nothing. */
  private readonly strip = { ...NO_STRIP };
  private readonly releases = new StripReleases((noteId) => this.letGo(noteId));
  /** Presses of strips have names below those of hands. */
  private lastEventNote = -2;

  constructor(
    private readonly song: SongState,
    private readonly plan: PlanState,
    private readonly voices: VoicePool,
    private readonly starter: EventStarter,
    private readonly log: NoteLog,
  ) {
    this.loops = new HeldLoops(song, starter);
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
    entry.lengthTicks = 0;
    if (note.kind === 'off') {
      const held = this.heldBy(note.noteId);
      if (held) {
        entry.partId = held.part.fragment.id;
        entry.key = held.press.key;
      }
      this.letGo(note.noteId);
      return;
    }
    const part = this.plan.parts.get(note.partId);
    if (part) entry.zoneId = this.press(part, note.key, note.velocity, note.noteId);
  }

  /** @returns the first zone that the press reaches, or '' */
  private press(part: PartState, key: number, velocity: number, noteId: number, chanceSeed = noteId): string {
    const isHeld = part.heldKeys.length > 0;
    part.heldKeys.push({ noteId, key, velocity });
    const count = this.reach(part, key, velocity, chanceSeed);
    for (let i = 0; i < count; i++) this.start(part, this.reached[i]!, key, velocity, noteId, this.gains[i]!, isHeld);
    const first = count > 0 ? this.reached[0]!.fragment.id : '';
    this.reached.fill(null, 0, count);
    return first;
  }

  /** Finds the zones that a press reaches, with how much of each; @returns how many */
  private reach(part: PartState, key: number, velocity: number, chanceSeed: number, isAgain = false): number {
    const { reached, gains } = this;
    let count = 0;
    let takingTurns = 0;
    let byChance = 0;
    for (const zone of part.zones.values()) {
      const { lowKey, highKey } = zone.fragment;
      if (lowKey < 0 || key < lowKey || key > highKey || !part.isHeard(zone) || count === MAX_LAYERS) continue;
      const gain = layerGain(zone.fragment, velocityStep(strengthOf(zone, velocity)));
      if (gain === 0) continue;
      reached[count] = zone;
      gains[count] = gain;
      count++;
      if (zone.values[ZONE.turn] === IN_TURN) takingTurns++;
      else if (zone.values[ZONE.turn] === BY_CHANCE) byChance++;
    }
    if (takingTurns + byChance === 0) return count;
    // What is heard again is what was heard before.
    if (takingTurns > 0 && !isAgain) part.turns[key]!++;
    const turn = takingTurns > 0 ? Math.max(0, part.turns[key]! - 1) % takingTurns : -1;
    const drawn = byChance > 0 ? Math.floor(hashed01(chanceSeed, key) * byChance) : -1;
    return this.keepChosen(count, turn, drawn);
  }

  /** Of those that share a key one after another, or by chance, one is left of each. */
  private keepChosen(count: number, turn: number, drawn: number): number {
    const { reached, gains } = this;
    let kept = 0;
    let ofTurns = 0;
    let ofChance = 0;
    for (let i = 0; i < count; i++) {
      const zone = reached[i]!;
      const how = zone.values[ZONE.turn];
      if (how === IN_TURN ? ofTurns++ !== turn : how === BY_CHANCE && ofChance++ !== drawn) continue;
      reached[kept] = zone;
      gains[kept] = gains[i]!;
      kept++;
    }
    return kept;
  }

  private start(
    part: PartState,
    zone: ZoneState,
    key: number,
    velocity: number,
    noteId: number,
    gain: number,
    isHeld: boolean,
  ): void {
    if (zone.fragment.playsPatternId !== null) this.startLoop(part, zone, key, velocity, noteId, gain);
    else if (zone.values[ZONE.answer] !== TOGGLE || !this.voices.toggleOff(zone, key)) {
      this.startZone(part, zone, key, velocity, noteId, gain, isHeld);
    }
  }

  /** Starts a zone by a key's press. @param noteId names the press; -1 for one that is let go already */
  startZone(
    part: PartState,
    zone: ZoneState,
    key: number,
    velocity: number,
    noteId: number,
    gain = 1,
    isHeld = false,
  ): void {
    const { next } = this.voices;
    const strength = strengthOf(zone, velocity);
    const { strip } = this;
    next.gain = strengthGain(zone, strength) * gain * strip.gain;
    next.velocity = strength;
    next.pan = strip.pan;
    next.tuneCents = strip.cents;
    next.key = key;
    next.seed = textHash(zone.fragment.id) ^ Math.imul((strip.isOn ? strip.seed : noteId) + 2, 0x9e3779b1);
    next.clock = part.clockOr(this.song.clock);
    this.starter.glide(part, zone.keyCents(key) + strip.cents, isHeld);
    next.reverse = (zone.values[ZONE.reverse] !== 0) !== strip.reverse;
    next.joinsPrevious = next.joinsNext = false;
    next.joinFrames = 0;
    next.origin = strip.isOn ? 'pattern' : 'key';
    next.isPressed = true;
    next.noteId = noteId;
    next.stopAtTicks = next.stopAtFrame = Infinity;
    if (strip.isCut) {
      next.stopAtTicks = strip.endTicks;
      next.stopAtFrame = Math.max(this.song.frame + 1, next.clock.frameAt(strip.endTicks));
    }
    next.playsRemainder = zone.fragment.follow === 'stretch';
    next.songTempoBpm = this.song.clock.tempoBpm;
    next.frame = this.song.frame;
    part.player.joinSerial = 0;
    this.voices.start(zone, part);
  }

  private startLoop(
    part: PartState,
    zone: ZoneState,
    key: number,
    velocity: number,
    noteId: number,
    gain: number,
  ): void {
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
    manner.gain = strengthGain(zone, strengthOf(zone, velocity)) * gain * zone.level * this.strip.gain;
    manner.cents = zone.keyCents(key) + values[ZONE.tuneCents]! + this.strip.cents;
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
    const { strip } = this;
    const { velocity, lengthTicks, seed } = this.starter.due;
    const cents = events.tuneCents[place]!;
    const wanted = rootKey + Math.round(cents / 100);
    const isReached = zone.values[ZONE.followsKey] !== 0 && wanted >= lowKey && wanted <= highKey;
    const key = isReached ? wanted : rootKey;
    const gainDb = events.gainDb[place]!;
    strip.isOn = true;
    strip.gain = gainDb === 0 ? 1 : dbToGain(gainDb);
    strip.pan = events.pan[place]!;
    strip.cents = cents - (key - rootKey) * 100;
    strip.reverse = (events.flags[place]! & REVERSE) !== 0;
    strip.seed = seed;
    strip.endTicks = ticks + lengthTicks;
    // What plays whole whatever its key does is cut where a strip is shorter, as far as there is room in the pattern.
    const isToEnd = events.positionTicks[place]! + events.lengthTicks[place]! >= patternTicks - 1e-6;
    strip.isCut = !isToEnd && isWholeKey(part, key) && !this.starter.isWhole(zone, lengthTicks, clock);
    const noteId = this.lastEventNote--;
    this.press(part, key, velocity, noteId, seed);
    Object.assign(strip, NO_STRIP);
    this.releases.add(part, noteId, ticks + lengthTicks, clock);
    this.starter.logEvent(zone, ticks, velocity, lengthTicks);
    return noteId;
  }

  /** Lets go what strips have pressed and that has come to its end. */
  runReleases(): void {
    this.releases.run(this.song.frame);
  }

  /** The song stops, or begins anew: nothing of it stays pressed. */
  releaseEvents(): void {
    this.releases.endAll();
  }

  /** Frame of what is due next; Infinity when nothing is. */
  get nextFrame(): number {
    return Math.min(this.loops.nextFrame, this.releases.nextFrame);
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

  /** The press of a name, and the part whose key it holds. */
  private heldBy(noteId: number): { part: PartState; press: HeldKey } | null {
    for (const part of this.plan.ordered) {
      const press = part.heldKeys.find((held) => held.noteId === noteId);
      if (press) return { part, press };
    }
    return null;
  }

  private letGo(noteId: number): void {
    for (const part of this.plan.ordered) {
      const at = part.heldKeys.findIndex((held) => held.noteId === noteId);
      if (at < 0) continue;
      const wasLatest = at === part.heldKeys.length - 1;
      part.heldKeys.splice(at, 1);
      part.hit.letGo(noteId, this.song.frame);
      const before = part.heldKeys.at(-1);
      if (before && wasLatest && part.isOneAtATime) this.takeUpAgain(part, before);
    }
    // Before its voices forget whose they are.
    const ended = this.loops.end(null, -1, noteId);
    if (ended >= 0) this.voices.stopNote(ended, Math.round(0.005 * this.song.sampleRate));
    this.voices.letGo(noteId);
  }

  /** One at a time: the key before, still held, is heard again (common practice: the latest key counts). */
  private takeUpAgain(part: PartState, { key, velocity, noteId }: HeldKey): void {
    const count = this.reach(part, key, velocity, noteId, true);
    for (let i = 0; i < count; i++) {
      const zone = this.reached[i]!;
      if (zone.values[ZONE.answer] === GATE && zone.fragment.playsPatternId === null) {
        this.startZone(part, zone, key, velocity, noteId, this.gains[i], true);
      }
    }
    this.reached.fill(null, 0, count);
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
