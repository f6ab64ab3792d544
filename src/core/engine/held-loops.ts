/**
 * Whole loops on keys: while a key is held, the pattern of its cut goes round at the song's tempo, transposed by the key;
 * each press has a place and a clock of its own. Places are made once; pressing allocates nothing.
 */
import type { EventStarter, PressedManner } from './event-starter.ts';
import type { PartState } from './part-state.ts';
import { PatternPlayer } from './pattern-player.ts';
import type { PatternFragment } from './plan/fragments.ts';
import { SongClock } from './sequence/song-clock.ts';
import { plainTiming, type TimingSettings } from '../strips/timing.ts';
import { SONG, type SongState } from './song-state.ts';
import type { ZoneState } from './zone-state.ts';

/** More keys than hands hold. */
const MAX_HELD = 24;

class HeldLoop implements PressedManner {
  readonly player = new PatternPlayer();
  readonly clock: SongClock;
  readonly timing: TimingSettings = plainTiming();
  part: PartState | null = null;
  zone: ZoneState | null = null;
  noteId = -1;
  key = -1;
  gain = 1;
  cents = 0;
  /** Ends after its first round. */
  isOnce = false;

  constructor(sampleRate: number) {
    this.clock = new SongClock(sampleRate, 120);
    this.clock.isRunning = true;
  }
}

export class HeldLoops {
  private readonly held: HeldLoop[];

  constructor(
    private readonly song: SongState,
    private readonly starter: EventStarter,
  ) {
    this.held = Array.from({ length: MAX_HELD }, () => new HeldLoop(song.sampleRate));
  }

  /**
   * Begins a loop, at once or at a frame to come.
   * @param isOnce it plays one round, whatever the key does
   */
  begin(
    part: PartState,
    zone: ZoneState,
    pattern: PatternFragment,
    manner: PressedManner,
    isOnce: boolean,
    atFrame: number,
  ): void {
    const one = this.held.find(({ part: busy }) => busy === null) ?? this.held[0]!;
    one.part = part;
    one.zone = zone;
    one.noteId = manner.noteId;
    one.key = manner.key;
    one.gain = manner.gain;
    one.cents = manner.cents;
    one.isOnce = isOnce;
    const tempoBpm = part.fragment.ownTempoBpm ?? this.song.clock.tempoBpm;
    one.clock.locate(atFrame, 0);
    one.clock.setTempo(tempoBpm, atFrame);
    const { player } = one;
    player.joinSerial = 0;
    player.cursor.choose(pattern, null);
    player.cursor.setTiming(part.timing(this.song.values[SONG.swingPercent]!, one.timing), 0);
    player.bind(part.zones);
    player.cursor.seek(0, true);
  }

  /** Is a zone's loop held on a key? */
  isHeld(zone: ZoneState, key: number): boolean {
    return this.held.some((one) => one.part !== null && one.zone === zone && one.key === key);
  }

  /** Ends what a press began. @returns the press that its voices know, -1 when there is none */
  end(zone: ZoneState | null, key: number, noteId: number): number {
    let ended = -1;
    for (const one of this.held) {
      if (!one.part || one.isOnce) continue;
      if (zone ? one.zone !== zone || one.key !== key : one.noteId !== noteId) continue;
      one.part = null;
      ended = one.noteId;
    }
    return ended;
  }

  /** Ends all; of one part alone, or what zones play that are gone. */
  endAll(counts: (part: PartState, zone: ZoneState) => boolean = () => true): void {
    for (const one of this.held) if (one.part && counts(one.part, one.zone!)) one.part = null;
  }

  /** Follows the song's tempo, and parts and patterns that were changed. */
  follow(patterns: ReadonlyMap<string, PatternFragment>): void {
    for (const one of this.held) {
      const { part, zone, player, clock } = one;
      if (!part || !zone) continue;
      const pattern = patterns.get(zone.fragment.playsPatternId ?? '');
      if (part.isLeaving || !pattern || !part.zones.has(zone.fragment.id)) {
        one.part = null;
        continue;
      }
      clock.setTempo(part.fragment.ownTempoBpm ?? this.song.clock.tempoBpm, this.song.frame);
      player.cursor.choose(pattern, null);
      player.cursor.setTiming(part.timing(this.song.values[SONG.swingPercent]!, one.timing), 0);
      player.bind(part.zones);
      player.joinSerial = 0;
      player.cursor.seek(clock.ticksRoundingTo(this.song.frame));
    }
  }

  /** Starts what is due. */
  run(): void {
    const { frame } = this.song;
    for (const one of this.held) {
      const { player, clock } = one;
      const { cursor } = player;
      while (one.part) {
        const ticks = cursor.nextTicks();
        const { round } = cursor;
        if (one.isOnce && round > 0) {
          one.part = null;
          break;
        }
        const place = cursor.take(frame, clock);
        if (place < 0) break;
        this.starter.startEvent(one.part, player, place, round, ticks, clock, one);
      }
    }
  }

  /** Frame of what is due next; Infinity when nothing is. */
  get nextFrame(): number {
    let next = Infinity;
    for (const { part, player, clock } of this.held) {
      if (part) next = Math.min(next, player.cursor.nextFrame(clock));
    }
    return next;
  }
}
