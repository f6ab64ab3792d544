/** What the renderer keeps of a zone: what it sounds like now, and what it will when a bar line has come. */
import { slotsOf } from '../params/row.ts';
import { ZONE_ROWS } from '../params/tables.ts';
import { dbToGain } from '../units/level.ts';
import { transposeRatio } from '../units/pitch.ts';
import type { PlanSource, ZoneFragment, ZoneSound } from './plan/fragments.ts';

export const ZONE = slotsOf(ZONE_ROWS);

export class ZoneState {
  fragment: ZoneFragment;
  values: Float64Array;
  /** What is heard. */
  sound: ZoneSound;
  source: PlanSource | null = null;
  /** The part that it is of, for its transposition. */
  part: { readonly tune: number } | null = null;
  /** Level as a factor. */
  level = 1;
  /** What is heard when the transposition that waits is. */
  private pending: ZoneSound | null = null;

  constructor(fragment: ZoneFragment, sources: ReadonlyMap<string, PlanSource>) {
    this.fragment = fragment;
    this.values = fragment.values.slice();
    this.sound = fragment.sound;
    this.source = sources.get(fragment.sound.sourceId ?? '') ?? null;
    this.refreshLevel();
  }

  /** Takes a new fragment; with `waits` the samples that play now play on until {@link applyPending}. */
  take(fragment: ZoneFragment, sources: ReadonlyMap<string, PlanSource>, waits: boolean): void {
    const isStretched = this.fragment.follow === 'stretch' && fragment.follow === 'stretch';
    this.fragment = fragment;
    this.values = fragment.values.slice();
    this.refreshLevel();
    this.pending = fragment.sound;
    // What is stretched has its transposition in the samples: those that play now play on.
    if (!waits || !isStretched) this.applyPending(sources);
  }

  /** What waited is heard from now on. */
  applyPending(sources: ReadonlyMap<string, PlanSource>): void {
    if (!this.pending) return;
    this.sound = this.pending;
    this.source = sources.get(this.sound.sourceId ?? '') ?? null;
    this.pending = null;
  }

  setValue(slot: number, value: number): void {
    this.values[slot] = value;
    if (slot === ZONE.gainDb) this.refreshLevel();
  }

  private refreshLevel(): void {
    this.level = dbToGain(this.values[ZONE.gainDb]!);
  }

  /** The loop's tempo over the song's: how much longer its place is than the slice. */
  songRatio(songTempoBpm: number): number {
    const { loopTempoBpm, follow } = this.fragment;
    return loopTempoBpm === 0 || follow === 'none' ? 1 : loopTempoBpm / songTempoBpm;
  }

  /** Source frames an output frame, before the part's transposition; see {@link partTune}. */
  increment(sampleRate: number, songTempoBpm: number, moreCents: number): number {
    const rate = (this.source?.sampleRate ?? sampleRate) / sampleRate;
    const speed = this.fragment.follow === 'speed' ? 1 / this.songRatio(songTempoBpm) : 1;
    return rate * transposeRatio(0, this.values[ZONE.tuneCents]! + this.sound.tuneCents + moreCents) * speed;
  }

  /** Factor of the increment by the part's transposition: 1 where that is in the samples. */
  get partTune(): number {
    return this.sound.isTransposed ? 1 : (this.part?.tune ?? 1);
  }
}
