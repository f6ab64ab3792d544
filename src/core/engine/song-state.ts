/** The song as the renderer has it: its settings, its clock, and where it is. */
import { packValues, slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { countedBeats, countedBeatTicks, TICKS_PER_BEAT } from '../units/time.ts';
import type { PatternCursor } from './sequence/pattern-cursor.ts';
import { SongClock } from './sequence/song-clock.ts';

export const SONG = slotsOf(SONG_ROWS);
const [CHANGES_NOW, CHANGES_AT_BEAT, CHANGES_AT_BAR] = ['now', 'beat', 'bar'].map((wanted) =>
  SONG_ROWS.changesAt.choices.findIndex(({ value }) => value === wanted),
);

export class SongState {
  /** Frames rendered since the renderer was made. */
  frame = 0;
  playing = false;
  /** Where the song ends by itself, in ticks; Infinity while it goes round. */
  endTicks = Infinity;
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
    const barLength = this.values[SONG.beatsPerBar]! * TICKS_PER_BEAT;
    return Math.ceil(clock.ticksAt(this.frame) / barLength - 1e-9) * barLength;
  }

  /** The next beat that is counted, by a clock, in ticks. */
  beatTicksOf(clock: SongClock): number {
    return Math.ceil(clock.ticksAt(this.frame) / this.beatTicks - 1e-9) * this.beatTicks;
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
