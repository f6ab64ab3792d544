/** What the renderer keeps of a part from one plan to the next: where it is, and what its slices sound like now. */
import { PartBus } from './part-bus.ts';
import { PatternPlayer } from './pattern-player.ts';
import type { PlanPart, PlanSlice, PlanSource } from './render-plan.ts';
import { SongClock } from './song-clock.ts';

/** A slice and the samples it plays; null while they are not there. */
export interface Sound {
  slice: PlanSlice;
  source: PlanSource | null;
}

/** The moment at which a plan is taken. */
export interface PlanMoment {
  /** Frame of the output, and the song's position there in ticks. */
  frame: number;
  songTicks: number;
  /** The next bar line in ticks, null while the song does not run. */
  barTicks: number | null;
  /** The song's tempo is what it was. */
  sameTempo: boolean;
}

export class PartState {
  readonly player = new PatternPlayer();
  readonly bus: PartBus;
  part: PlanPart;
  /** What is played, by the slices' places in the cut. */
  sounds: readonly Sound[];
  /** Transposition that is heard, as a factor of the increments. */
  tune: number;
  /** Song position at which another transposition is heard, in ticks; Infinity when none waits. */
  changeTicks = Infinity;
  /** Keeps the part's own tempo; null while it follows the song's. */
  private ownClock: SongClock | null = null;
  private transposeCents: number;
  /** What is played from `changeTicks` on. */
  private arriving: readonly Sound[];

  constructor(part: PlanPart, sources: readonly PlanSource[]) {
    this.part = part;
    this.bus = new PartBus(part);
    this.tune = part.tuneRatio;
    this.transposeCents = part.transposeCents;
    this.sounds = this.arriving = soundsOf(part, sources);
  }

  /** Takes the part of a new plan. A change of transposition may have to wait for the bar line. */
  follow(part: PlanPart, sources: readonly PlanSource[], moment: PlanMoment): void {
    const waits = part.tuneAtBar && moment.barTicks !== null && part.transposeCents !== this.transposeCents;
    const alike = part.keepsPlace === this.part.keepsPlace;
    this.part = part;
    this.arriving = soundsOf(part, sources);
    if (waits) {
      this.changeTicks = Math.min(this.changeTicks, moment.barTicks!);
      // Renderings carry their transposition in themselves: those that play now play on.
      if (part.keepsPlace && alike && moment.sameTempo) this.sounds = asBefore(this.arriving, this.sounds);
      else if (part.keepsPlace) this.settle();
      else this.sounds = this.arriving;
    } else this.settle();
    this.bus.setLevel(part);
  }

  /** What waited is heard from now on. */
  settle(): void {
    this.sounds = this.arriving;
    this.tune = this.part.tuneRatio;
    this.transposeCents = this.part.transposeCents;
    this.changeTicks = Infinity;
  }

  /** A part that leaves the song's tempo, or comes back to it, goes on from where the song is. */
  keepTime(sampleRate: number, { frame, songTicks }: Pick<PlanMoment, 'frame' | 'songTicks'>): void {
    const { ownTempoBpm } = this.part;
    if (ownTempoBpm === null) this.ownClock = null;
    else if (this.ownClock) this.ownClock.setTempo(ownTempoBpm, frame);
    else {
      this.ownClock = new SongClock(sampleRate, ownTempoBpm);
      this.ownClock.locate(frame, songTicks);
    }
  }

  /** Puts the part at a position of the song. */
  locate(frame: number, ticks: number): void {
    this.player.setPart(this.part, null);
    this.ownClock?.locate(frame, ticks);
  }

  clockOr(song: SongClock): SongClock {
    return this.ownClock ?? song;
  }
}

function soundsOf(part: PlanPart, sources: readonly PlanSource[]): Sound[] {
  return part.slices.map((slice) => ({ slice, source: sources[slice.sourceIndex] ?? null }));
}

/** New slices that play the samples of the old ones; the new ones as they are when the cut has changed. */
function asBefore(sounds: readonly Sound[], before: readonly Sound[]): readonly Sound[] {
  if (sounds.length !== before.length || sounds.some(({ slice }, index) => slice.id !== before[index]!.slice.id)) {
    return sounds;
  }
  return sounds.map(({ slice }, index) => {
    const { slice: old, source } = before[index]!;
    const { isRendering, startFrame, endFrame, naturalEndFrame, hasRest } = old;
    const { increment, startFadeFrames, endFadeFrames } = old;
    const range = { isRendering, startFrame, endFrame, naturalEndFrame, hasRest };
    return { slice: { ...slice, ...range, increment, startFadeFrames, endFadeFrames }, source };
  });
}
