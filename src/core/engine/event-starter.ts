/** Starts voices for events of patterns: how loud, how long, joined to what came before, or ringing on. */
import { dbToGain } from '../units/level.ts';
import { framesPerTick } from '../units/time.ts';
import { PART, type PartState } from './part-state.ts';
import type { PatternPlayer } from './pattern-player.ts';
import { ON_KEY, REPEATED, REVERSE } from './plan/fragments.ts';
import type { NoteLog } from './sequence/notes.ts';
import type { SongClock } from './sequence/song-clock.ts';
import { drawOf, isGiven, isInRound } from '../strips/comes-up.ts';
import { grooveAccent, plainTiming, timedLength, type TimingSettings } from '../strips/timing.ts';
import { SONG, type SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';
import { strengthGain, strengthOf } from './voice/strength.ts';
import type { Voice } from './voice/voice.ts';
import { ZONE, type ZoneState } from './zone-state.ts';

/** An event that is at least this share of its slice's own length plays it whole. */
const NATURAL_SHARE = 0.98;
/** Of what is stretched to its place a little less: feel and groove draw some events together. */
const STRETCHED_SHARE = 0.9;
/** Fade of what begins in its middle. */
const TAKE_UP_SECONDS = 0.003;
/** Places of the choices of glide. */
const BY_DISTANCE = 1;
const IF_HELD = 1;

/** How a pattern is played by a key: so loud, so much higher, until its press ends. */
export interface PressedManner {
  noteId: number;
  key: number;
  gain: number;
  cents: number;
}

export class EventStarter {
  readonly due = { velocity: 1, lengthTicks: 0, seed: 0 };
  private readonly timing: TimingSettings = plainTiming();

  constructor(
    private readonly song: SongState,
    private readonly voices: VoicePool,
    private readonly log: NoteLog,
  ) {}

  /**
   * Starts an event of a pattern.
   * @param player plays the pattern
   * @param ticks where it is, by the clock
   * @param pressed the key that plays the pattern; null for the part's own
   */
  startEvent(
    part: PartState,
    player: PatternPlayer,
    place: number,
    round: number,
    ticks: number,
    clock: SongClock,
    pressed: PressedManner | null,
  ): Voice | null {
    const { events } = player.cursor.pattern!;
    const zone = player.zones[events.zone[place]!];
    if (!zone || !part.isHeard(zone) || !this.comesUp(part, player, place, round)) return null;
    const { velocity, lengthTicks, seed } = this.due;
    const { next } = this.voices;
    const gainDb = events.gainDb[place]!;
    const strength = strengthOf(zone, velocity);
    next.gain = strengthGain(zone, strength) * (gainDb === 0 ? 1 : dbToGain(gainDb)) * (pressed?.gain ?? 1);
    next.velocity = strength;
    next.pan = events.pan[place]!;
    const cents = events.tuneCents[place]!;
    next.tuneCents = cents + (pressed?.cents ?? 0);
    next.key = zone.fragment.rootKey;
    next.seed = seed;
    next.clock = clock;
    this.glide(part, next.tuneCents, false);
    const flags = events.flags[place]!;
    next.reverse = ((flags & REVERSE) !== 0) !== (zone.values[ZONE.reverse] !== 0);
    next.origin = pressed ? 'key' : 'pattern';
    next.isPressed = false;
    next.noteId = next.pressId = pressed?.noteId ?? -1;
    next.frame = this.song.frame;
    next.songTempoBpm = this.song.clock.tempoBpm;
    const rings =
      !zone.goesRound &&
      (flags & REPEATED) === 0 &&
      (this.ringsOut(part, zone, next.reverse, lengthTicks, clock) || this.ringsInto(part, player, zone, place, clock));
    next.joinsPrevious = !isDoubled(zone.double) && this.isJoined(player, place, round);
    const joinFrames = rings || pressed?.cents ? null : this.joinFrames(part, player, zone, round, place, ticks, clock);
    next.joinsNext = joinFrames !== null;
    next.joinFrames = joinFrames ?? 0;
    next.stopAtTicks = next.joinsNext || rings ? Infinity : ticks + lengthTicks;
    next.stopAtFrame =
      next.stopAtTicks === Infinity ? Infinity : Math.max(this.song.frame + 1, clock.frameAt(next.stopAtTicks));
    // Only the part's own clock is asked again when the tempo changes.
    if (pressed) next.stopAtTicks = Infinity;
    next.playsRemainder = !rings || zone.sound.hasRemainder;
    const voice = this.voices.start(zone, part);
    player.joinSerial = voice && next.joinsNext ? voice.serial : 0;
    player.joinRound = player.cursor.round;
    player.joinIndex = player.cursor.next;
    if (!pressed) this.logEvent(zone, ticks, velocity, lengthTicks);
    return voice;
  }

  /** Is an event heard in a round? How strong and long it is then, and what its chances are drawn from, is {@link due}. */
  comesUp(part: PartState, { cursor }: PatternPlayer, place: number, round: number): boolean {
    const { events, lengthTicks: patternTicks } = cursor.pattern!;
    if (!isInRound(events.everyRounds[place]!, round)) return false;
    const { due } = this;
    due.seed = drawOf(events.seed[place]!, round);
    if (!isGiven(events.chancePercent[place]!, due.seed)) return false;
    const position = events.positionTicks[place]!;
    due.lengthTicks = events.lengthTicks[place]!;
    due.velocity = events.velocity[place]!;
    if (cursor.isPlainTiming) return true;
    const timing = part.timing(this.song.values[SONG.swingPercent]!, this.timing);
    due.lengthTicks = timedLength(position, due.lengthTicks, timing, patternTicks);
    const accent = grooveAccent(position, timing.groove, timing.groovePercent, patternTicks);
    due.velocity = Math.max(0, Math.min(1, due.velocity * accent));
    return true;
  }

  /**
   * Takes up in its middle what a pattern that has just taken over began before: so two patterns can be played against
   * each other without losing the place. What plays there already goes on.
   * @param press starts what means a key, and names the press
   */
  takeUp(
    part: PartState,
    clock: SongClock,
    press: (part: PartState, place: number, round: number, ticks: number, clock: SongClock) => number,
  ): void {
    part.isTakenOver = false;
    const { player } = part;
    const { cursor } = player;
    const { frame, sampleRate } = this.song;
    const round = cursor.roundBefore;
    player.joinSerial = 0;
    // Where a rest takes over nothing is to cut off what sounds.
    if (cursor.pattern?.zoneIds.length === 0) this.voices.stopPattern(part);
    for (let place = 0; place <= cursor.placeBefore; place++) {
      if (!cursor.isRunning(round, place, clock.ticksRoundingTo(frame))) continue;
      const ticks = cursor.ticksOf(round, place);
      const startFrame = clock.frameAt(ticks);
      const zone = player.zones[cursor.pattern!.events.zone[place]!];
      const running = zone && this.voices.inPattern(zone, startFrame);
      if (!zone || (running && this.isAlike(running, part, zone, place, round))) continue;
      const gone = frame - startFrame;
      const fadeFrames = Math.round(TAKE_UP_SECONDS * sampleRate);
      // The same hit in another pitch, level or direction: on in that from its own place.
      running?.stop(fadeFrames);
      if (cursor.pattern!.events.flags[place]! & ON_KEY) {
        this.voices.skipNote(press(part, place, round, ticks, clock), gone, fadeFrames);
        continue;
      }
      const voice = this.startEvent(part, player, place, round, ticks, clock, null);
      voice?.skip(gone, fadeFrames);
    }
  }

  /** Does a voice sound as an event of the pattern would have it? */
  private isAlike(voice: Voice, part: PartState, zone: ZoneState, place: number, round: number): boolean {
    const { events } = part.player.cursor.pattern!;
    const flags = events.flags[place]!;
    // What a key brings is drawn among all that lies there.
    if ((flags & ON_KEY) !== 0 || !this.comesUp(part, part.player, place, round)) return true;
    const reverse = ((flags & REVERSE) !== 0) !== (zone.values[ZONE.reverse] !== 0);
    const gain = strengthGain(zone, strengthOf(zone, this.due.velocity)) * dbToGain(events.gainDb[place]!);
    return (
      voice.isReversed === reverse &&
      voice.startCents === events.tuneCents[place] &&
      voice.eventPan === events.pan[place] &&
      Math.abs(voice.eventGain - gain) < 1e-6
    );
  }

  /**
   * Lets the next voice slide from the pitch of the part's last one, where notes of it come one at a time.
   * @param isHeld the key before is still held
   */
  glide(part: PartState, cents: number, isHeld: boolean): void {
    const { next } = this.voices;
    const { values } = part;
    const from = part.lastCents;
    part.lastCents = cents;
    next.glideCents = next.glideFrames = 0;
    const glideMs = values[PART.glideMs]!;
    if (glideMs === 0 || !part.isOneAtATime || from === null || from === cents) return;
    if (values[PART.glideWhen] === IF_HELD && !isHeld) return;
    const octaves = Math.abs(from - cents) / 1200;
    const ms = values[PART.glideBy] === BY_DISTANCE ? glideMs * octaves : glideMs;
    next.glideCents = from - cents;
    next.glideFrames = Math.round((ms / 1000) * this.song.sampleRate);
  }

  logEvent(zone: ZoneState, ticks: number, velocity: number, lengthTicks: number): void {
    const entry = this.log.write();
    entry.kind = 'on';
    entry.origin = 'pattern';
    entry.frame = this.song.frame;
    entry.songTicks = ticks;
    entry.partId = zone.fragment.partId;
    entry.zoneId = zone.fragment.id;
    entry.key = -1;
    entry.velocity = velocity;
    entry.noteId = -1;
    entry.cents = 0;
    entry.isEcho = false;
    entry.lengthTicks = lengthTicks;
  }

  /**
   * "To the end": what lasts as long as its own slice, or to the end of its pattern, goes on over the markers and into the
   * next round, where the part plays many at once.
   */
  private ringsInto(
    part: PartState,
    { cursor }: PatternPlayer,
    zone: ZoneState,
    place: number,
    clock: SongClock,
  ): boolean {
    if (part.isOneAtATime || zone.values[ZONE.runsOn] === 0) return false;
    const { events, lengthTicks } = cursor.pattern!;
    if (events.positionTicks[place]! + events.lengthTicks[place]! >= lengthTicks - 1e-6) return true;
    const { loopTempoBpm, sliceStartFrame, sliceEndFrame } = zone.fragment;
    const rate = zone.source?.sampleRate ?? this.song.sampleRate;
    const sliceTicks = (sliceEndFrame - sliceStartFrame) / framesPerTick(loopTempoBpm || clock.tempoBpm, rate);
    return this.due.lengthTicks >= NATURAL_SHARE * sliceTicks;
  }

  /** Does an event go on over the next one, which is to ring beside it? Only what lasts as long as its slice does. */
  private ringsOut(part: PartState, zone: ZoneState, reverse: boolean, lengthTicks: number, clock: SongClock): boolean {
    if (zone.sound.hasRemainder ? reverse : part.isOneAtATime) return false;
    return this.isWhole(zone, lengthTicks, clock);
  }

  /** Does something of a length play a zone to its own end? */
  isWhole({ sound, source, fragment }: ZoneState, lengthTicks: number, clock: SongClock): boolean {
    const tempo = sound.hasRemainder || fragment.loopTempoBpm === 0 ? clock.tempoBpm : fragment.loopTempoBpm;
    const share = sound.hasRemainder ? STRETCHED_SHARE : NATURAL_SHARE;
    const frames = sound.naturalEndFrame - sound.startFrame;
    return lengthTicks >= (share * frames) / framesPerTick(tempo, source?.sampleRate ?? this.song.sampleRate);
  }

  /** Does the start at a place go on where the voice before it has just ended? */
  private isJoined({ joinSerial, joinRound, joinIndex }: PatternPlayer, place: number, round: number): boolean {
    return joinSerial !== 0 && joinRound === round && joinIndex === place && this.voices.hasPlayedOn(joinSerial);
  }

  /**
   * Whether an event and the next are together one piece of the source, so that a loop played in its own order at its own
   * tempo comes out sample for sample; the last one goes on with the first of the next round.
   * @returns frames by which the slice is to last longer or shorter so that they meet: -1, 0 or 1; null when they do not
   */
  private joinFrames(
    part: PartState,
    { cursor, zones }: PatternPlayer,
    zone: ZoneState,
    round: number,
    place: number,
    ticks: number,
    clock: SongClock,
  ): number | null {
    const { events } = cursor.pattern!;
    // The cursor stands on the next start already.
    const after = zones[events.zone[cursor.next]!];
    const next = this.voices.next;
    if (
      !after ||
      next.reverse ||
      part.tune !== 1 ||
      clock.frameAt(cursor.ticksOf(cursor.round, cursor.next)) >= this.song.endFrame
    ) {
      return null;
    }
    if (!isPlainZone(zone) || !isPlainZone(after) || zone.source !== after.source) return null;
    const isLast = cursor.round !== round;
    if (!isLast && zone.sound.endFrame !== after.sound.startFrame) return null;
    if (events.flags[cursor.next]! !== 0 || after.values[ZONE.reverse] || !part.isHeard(after)) return null;
    if (events.chancePercent[cursor.next]! < 100 || events.everyRounds[cursor.next]! > 1) return null;
    const isAsLoud =
      zone.level === after.level &&
      zone.values[ZONE.pan] === after.values[ZONE.pan] &&
      events.velocity[place] === events.velocity[cursor.next] &&
      events.gainDb[place] === events.gainDb[cursor.next] &&
      events.pan[place] === events.pan[cursor.next];
    const isAsHigh = events.tuneCents[place] === 0 && events.tuneCents[cursor.next] === 0;
    if (!isAsLoud || !isAsHigh || zone.increment(this.song.sampleRate, this.song.clock.tempoBpm, 0) !== 1) return null;
    if (after.increment(this.song.sampleRate, this.song.clock.tempoBpm, 0) !== 1) return null;
    const nextTicks = cursor.ticksOf(cursor.round, cursor.next);
    const frames = clock.frameAt(nextTicks) - clock.frameAt(ticks);
    const off = frames - (zone.sound.endFrame - zone.sound.startFrame);
    return Math.abs(off) <= 1 ? off : null;
  }
}

/** Settings that, at these values, leave a slice as it is. */
const PLAIN_VALUES: readonly [slot: number, value: number][] = [
  [ZONE.sustain, 1],
  [ZONE.filter, 0],
  [ZONE.driveDb, 0],
  [ZONE.startOffsetMs, 0],
  [ZONE.endOffsetMs, 0],
  [ZONE.runsOn, 0],
  [ZONE.randomCents, 0],
  [ZONE.delayMs, 0],
  [ZONE.attackMs, 0],
  [ZONE.velocityStartMs, 0],
  [ZONE.velocityAttackMs, 0],
  [ZONE.chokeGroup, 0],
];

/** Is there anything to hear of a double? */
function isDoubled(double: ZoneState['double']): boolean {
  return double !== null && double.hitGain !== 1;
}

/** Plays its slice as it is: no rendering, no envelope, nothing that moves. */
function isPlainZone({ sound, values, isMoved, double }: ZoneState): boolean {
  if (sound.isRendering || sound.tuneCents !== 0 || sound.loop || isMoved || isDoubled(double)) return false;
  return PLAIN_VALUES.every(([slot, value]) => values[slot] === value);
}
