/** Starts voices for events of patterns and for keys: how loud, how long, joined to what came before, or ringing on. */
import { dbToGain, velocityToGain } from '../units/level.ts';
import { framesPerTick } from '../units/time.ts';
import type { PartState } from './part-state.ts';
import { REPEATED, REVERSE } from './plan/fragments.ts';
import type { NoteLog } from './sequence/notes.ts';
import type { SongClock } from './sequence/song-clock.ts';
import { grooveAccent, timedLength, type TimingSettings } from './sequence/timing.ts';
import { SONG, type SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';
import { ZONE, type ZoneState } from './zone-state.ts';

/** An event that is at least this share of its slice's own length plays it whole. */
const NATURAL_SHARE = 0.98;
/** Of what is stretched to its place a little less: feel and groove draw some events together. */
const STRETCHED_SHARE = 0.9;

export class EventStarter {
  private readonly timing: TimingSettings = { feelPercent: 100, groove: null, groovePercent: 0, swingPercent: 50 };

  constructor(
    private readonly song: SongState,
    private readonly voices: VoicePool,
    private readonly log: NoteLog,
  ) {}

  /** Starts a zone by a key's press. @param noteId names the press; -1 for one that is let go already */
  startKey(part: PartState, zone: ZoneState, velocity: number, noteId: number): void {
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
    next.songTempoBpm = this.song.clock.tempoBpm;
    next.frame = this.song.frame;
    part.joinSerial = 0;
    this.voices.start(zone, part);
  }

  /** Starts an event of the playing pattern. @param ticks where it is, by the part's clock */
  startEvent(part: PartState, place: number, round: number, ticks: number, clock: SongClock): void {
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
      const timing = part.timing(this.song.values[SONG.swingPercent]!, this.timing);
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
    next.frame = this.song.frame;
    next.songTempoBpm = this.song.clock.tempoBpm;
    const rings = (flags & REPEATED) === 0 && this.ringsOut(part, zone, next.reverse, lengthTicks, clock);
    const isJoined = this.isJoined(part, place, round);
    next.joinsPrevious = isJoined;
    const joinFrames = rings ? null : this.joinFrames(part, zone, round, place, ticks, clock);
    next.joinsNext = joinFrames !== null;
    next.joinFrames = joinFrames ?? 0;
    next.stopAtTicks = next.joinsNext || rings ? Infinity : ticks + lengthTicks;
    next.stopAtFrame =
      next.stopAtTicks === Infinity ? Infinity : Math.max(this.song.frame + 1, clock.frameAt(next.stopAtTicks));
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
    entry.frame = this.song.frame;
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
    return lengthTicks >= (share * frames) / framesPerTick(tempo, source?.sampleRate ?? this.song.sampleRate);
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
      cursor.ticksOf(cursor.round, cursor.next) >= this.song.endTicks - 1e-3
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
    if (!isAsLoud || !isAsHigh || zone.increment(this.song.sampleRate, this.song.clock.tempoBpm, 0) !== 1) return null;
    if (after.increment(this.song.sampleRate, this.song.clock.tempoBpm, 0) !== 1) return null;
    const nextTicks = cursor.ticksOf(cursor.round, cursor.next);
    const frames = clock.frameAt(nextTicks) - clock.frameAt(ticks);
    const off = frames - (zone.sound.endFrame - zone.sound.startFrame);
    return Math.abs(off) <= 1 ? off : null;
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
