/** What the renderer keeps of a zone: what it sounds like now, and what it will when a bar line has come. */
import type { DoubleState } from './double-state.ts';
import { slotsOf } from '../params/row.ts';
import { ZONE_ROWS } from '../params/tables.ts';
import { dbToGain } from '../units/level.ts';
import { transposeRatio } from '../units/pitch.ts';
import type { ModulatorState, RouteState } from './control/modulation.ts';
import type { PlanSource, ZoneFragment, ZoneSound } from './plan/fragments.ts';

/** Tempi nearer than this share are the same. */
const SAME_TEMPO = 1e-6;

export const ZONE = slotsOf(ZONE_ROWS);
/** Places of the answers. */
export const ONE_SHOT = 0;
export const GATE = 1;
export const TOGGLE = 2;

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
  /** What moves its sounds, in the order in which it is worked out. */
  modulators: readonly ModulatorState[] = [];
  /** What sounds under it; null for nothing. */
  double: DoubleState<ZoneState> | null = null;
  /** What macros and lanes give to its sounds. */
  given: readonly RouteState[] = [];
  private readonly sources: ReadonlyMap<string, PlanSource>;
  /** The tempo of the section that it is played in; 0: that of the song. */
  private tempoBpm = 0;
  /** What is heard when the transposition that waits is. */
  private pending: ZoneSound | null = null;

  constructor(fragment: ZoneFragment, sources: ReadonlyMap<string, PlanSource>) {
    this.sources = sources;
    this.fragment = fragment;
    this.values = fragment.values.slice();
    this.sound = fragment.sound;
    this.source = this.sourceOf(fragment.sound);
    this.refreshLevel();
  }

  /** Takes a new fragment; with `waits` the samples that play now play on until {@link applyPending}. */
  take(fragment: ZoneFragment, waits: boolean): void {
    this.fragment = fragment;
    this.values = fragment.values.slice();
    this.refreshLevel();
    this.pending = this.soundAt(this.tempoBpm);
    if (!waits) this.applyPending();
  }

  /** Has it the part's transposition in its samples, and another fragment too? */
  isTransposedBy(fragment: ZoneFragment): boolean {
    return this.fragment.follow === 'stretch' && fragment.follow === 'stretch';
  }

  /** What waited is heard from now on. */
  applyPending(): void {
    if (!this.pending) return;
    this.sound = this.pending;
    this.source = this.sourceOf(this.sound);
    this.pending = null;
  }

  /** Plays the samples that are for a tempo; 0 for those of the song's. @returns true when they are others */
  followTempo(tempoBpm: number): boolean {
    this.tempoBpm = tempoBpm;
    const sound = this.soundAt(tempoBpm);
    if (sound === this.sound || (this.pending !== null && this.pending !== this.sound)) return false;
    this.pending = sound;
    this.applyPending();
    return true;
  }

  /** Of samples for tempi those for the next slower one: too long is cut off, too short would leave a gap. */
  private soundAt(tempoBpm: number): ZoneSound {
    const { sound, tempoSounds } = this.fragment;
    if (tempoBpm === 0 || tempoSounds.length === 0) return sound;
    let found = tempoSounds[0]!;
    for (let i = 1; i < tempoSounds.length; i++) {
      if (tempoSounds[i]!.tempoBpm > tempoBpm * (1 + SAME_TEMPO)) break;
      found = tempoSounds[i]!;
    }
    return found.sound;
  }

  /** The samples of a sound; null while they are not there. */
  sourceOf(sound: ZoneSound): PlanSource | null {
    return this.sources.get(sound.sourceId ?? '') ?? null;
  }

  /** The samples with a sound's loop laid; null where nothing goes round. */
  loopSourceOf({ loop }: ZoneSound): PlanSource | null {
    return loop ? (this.sources.get(loop.sourceId) ?? null) : null;
  }

  /** The samples that are for a key alone; null where it plays {@link sound} faster or slower. */
  keySound(key: number): ZoneSound | null {
    const { keySounds, lowKey } = this.fragment;
    const sound = keySounds[key - lowKey] ?? null;
    return sound && this.sourceOf(sound) ? sound : null;
  }

  /** Cents that a key is away from the root; 0 where pitch does not follow. */
  keyCents(key: number): number {
    const { rootKey } = this.fragment;
    return key < 0 || rootKey < 0 || !this.values[ZONE.followsKey] ? 0 : (key - rootKey) * 100;
  }

  setValue(slot: number, value: number): void {
    this.values[slot] = value;
    if (slot === ZONE.gainDb) this.refreshLevel();
  }

  /** Follows the values that were put in. */
  refreshLevel(): void {
    this.level = dbToGain(this.values[ZONE.gainDb]!);
  }

  /** The loop's tempo over the song's: how much longer its place is than the slice. */
  songRatio(songTempoBpm: number): number {
    const { loopTempoBpm, follow } = this.fragment;
    return loopTempoBpm === 0 || follow === 'none' ? 1 : loopTempoBpm / songTempoBpm;
  }

  /** Source frames an output frame, before the part's transposition; see {@link partTune}. */
  increment(sampleRate: number, songTempoBpm: number, moreCents: number, sound = this.sound): number {
    const rate = ((sound === this.sound ? this.source : this.sourceOf(sound))?.sampleRate ?? sampleRate) / sampleRate;
    const speed = this.fragment.follow === 'speed' ? 1 / this.songRatio(songTempoBpm) : 1;
    return rate * transposeRatio(0, this.values[ZONE.tuneCents]! + sound.tuneCents + moreCents) * speed;
  }

  /** Factor of the increment by the part's transposition: 1 where that is in the samples. */
  partTune(sound = this.sound): number {
    return sound.isTransposed ? 1 : (this.part?.tune ?? 1);
  }

  /** Does anything move its sounds while they play? */
  get isMoved(): boolean {
    return this.modulators.length > 0 || this.given.length > 0;
  }

  /** Goes round inside while its key is held? */
  get goesRound(): boolean {
    return this.sound.loop !== null;
  }
}
