/** The song as the renderer has it: its settings, its clock, and where it is. */
import { packValues, slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { countedBeats, countedBeatTicks, TICKS_PER_BEAT } from '../units/time.ts';
import type { OrderFragment } from './plan/order-fragment.ts';
import type { PatternCursor } from './sequence/pattern-cursor.ts';
import { SongClock } from './sequence/song-clock.ts';
import { TempoMap } from '../order/tempo-map.ts';

export const SONG = slotsOf(SONG_ROWS);
const [CHANGES_NOW, CHANGES_AT_BEAT, CHANGES_AT_BAR] = ['now', 'beat', 'bar'].map((wanted) =>
  SONG_ROWS.changesAt.choices.findIndex(({ value }) => value === wanted),
);

/** How the song is played: along its running order or in rounds of what is chosen; and where it goes on from its end. */
export interface PlayWay {
  followsOrder: boolean;
  returnTicks: number | null;
}
export const ROUNDS: PlayWay = { followsOrder: false, returnTicks: null };

export class SongState {
  /** Frames rendered since the renderer was made. */
  frame = 0;
  playing = false;
  /** Where the song ends by itself, in ticks; Infinity while it goes round. */
  endTicks = Infinity;
  /** Where it goes on from its end, in ticks; null: it stops there. */
  returnTicks: number | null = null;
  /** The running order, whether it is played or not; null where there is none. */
  order: OrderFragment | null = null;
  /** Its sections are played one after the other. */
  followsOrder = false;
  private map: TempoMap | null = null;
  /** In the order of SONG_ROWS. */
  readonly values = packValues(SONG_ROWS, {});
  readonly clock: SongClock;
  /** Control steps lie on multiples from here on: with the song they begin at its start, as in a bounce. */
  gridFrame = 0;
  /** What is clicked, in ticks, and how many of them make a bar. */
  beatTicks = TICKS_PER_BEAT;
  beatsABar = 4;

  constructor(readonly sampleRate: number) {
    this.clock = new SongClock(sampleRate, this.values[SONG.tempoBpm]!);
  }

  /** Takes another running order; one that is played goes on from where the song is. */
  takeOrder(order: OrderFragment | null): void {
    this.order = order;
    this.map = order && new TempoMap(order.tempos, this.sampleRate);
    if (!this.followsOrder) return;
    if (!order) this.followsOrder = false;
    this.clock.locate(this.frame, this.clock.ticksAt(this.frame), this.map);
    if (!order) this.clock.setTempo(this.values[SONG.tempoBpm]!, this.frame);
    else if (this.returnTicks === null || this.endTicks > order.lengthTicks) this.endTicks = order.lengthTicks;
  }

  /** Puts the song at a position. @param followsOrder along the running order, if there is one */
  locate(ticks: number, followsOrder: boolean): void {
    this.followsOrder = followsOrder && this.order !== null;
    if (this.followsOrder) {
      this.clock.locate(this.frame, ticks, this.map);
      return;
    }
    this.clock.locate(this.frame, ticks);
    this.clock.setTempo(this.values[SONG.tempoBpm]!, this.frame);
    this.clock.locate(this.frame, ticks);
  }

  /** The running order is played no longer: the tempo is the song's again. */
  leaveOrder(): void {
    this.locate(this.clock.ticksAt(this.frame), false);
  }

  /** The order that is played now; null while rounds are. */
  get playedOrder(): OrderFragment | null {
    return this.followsOrder ? this.order : null;
  }

  /** Frame at which the next stretch of the tempo begins. */
  get nextTempoFrame(): number {
    if (!this.followsOrder) return Infinity;
    const ticks = this.map!.nextStretchTicks(this.clock.ticksRoundingTo(this.frame + 1));
    return ticks === Infinity ? Infinity : this.clock.frameAt(ticks);
  }

  /** The song runs from now on, or no longer. */
  run(isOn: boolean): void {
    this.playing = isOn;
    this.clock.isRunning = isOn;
    if (isOn) this.gridFrame = this.clock.zeroFrame;
  }

  /** Frame at which it ends by itself; Infinity while it goes round. */
  get endFrame(): number {
    return this.endTicks === Infinity ? Infinity : this.clock.frameAt(this.endTicks);
  }

  /** Follows its values. @returns true when the tempo is another */
  follow(): boolean {
    const beatsPerBar = this.values[SONG.beatsPerBar]!;
    this.beatTicks = countedBeatTicks(beatsPerBar);
    this.beatsABar = countedBeats(beatsPerBar);
    const before = this.clock.tempoBpm;
    this.clock.setTempo(this.values[SONG.tempoBpm]!, this.frame);
    return this.clock.tempoBpm !== before;
  }

  /** Position in ticks; 0 while it does not run. */
  get positionTicks(): number {
    return this.playing ? this.clock.ticksAt(this.frame) : 0;
  }

  /** The next bar line by a clock, in ticks. */
  barTicksOf(clock: SongClock): number {
    const { beatTicks, beatsABar, startTicks } = this.metreAt(clock);
    return startTicks + nextMultiple(clock.ticksAt(this.frame) - startTicks, beatTicks * beatsABar);
  }

  /** The next beat that is counted, by a clock, in ticks. */
  beatTicksOf(clock: SongClock): number {
    const { beatTicks, startTicks } = this.metreAt(clock);
    return startTicks + nextMultiple(clock.ticksAt(this.frame) - startTicks, beatTicks);
  }

  /** The metre that holds now, and where it begins: with its section, or with the song. */
  private metreAt(clock: SongClock): { beatTicks: number; beatsABar: number; startTicks: number } {
    const sections = clock === this.clock ? this.playedOrder?.sections : undefined;
    const ticks = sections ? clock.ticksAt(this.frame) : 0;
    const found = sections?.findLast(({ startTicks }) => startTicks <= ticks) ?? sections?.[0];
    return found ?? { beatTicks: this.beatTicks, beatsABar: this.beatsABar, startTicks: 0 };
  }

  /** Where another pattern takes over from the one at a cursor, in ticks; null for at once. */
  changeTicksOf(clock: SongClock, cursor: PatternCursor): number | null {
    const when = this.values[SONG.changesAt];
    if (!this.playing || when === CHANGES_NOW) return null;
    if (when === CHANGES_AT_BEAT) return this.beatTicksOf(clock);
    return when === CHANGES_AT_BAR ? this.barTicksOf(clock) : cursor.roundEndTicks(clock.ticksAt(this.frame));
  }

  /** The next bar line of the song in ticks, null while it does not run. */
  get barTicks(): number | null {
    return this.playing ? this.barTicksOf(this.clock) : null;
  }
}

function nextMultiple(ticks: number, of: number): number {
  return Math.ceil(ticks / of - 1e-9) * of;
}
