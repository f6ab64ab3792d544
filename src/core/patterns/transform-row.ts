/** What a transform of chosen strips is. */
import type { PatternEvent } from '../document/schema.ts';
import type { Random } from '../units/random.ts';

export interface TransformContext {
  /** Of the pattern. */
  lengthTicks: number;
  /** What is filled and shifted by; a sixteenth on a free grid. */
  gridTicks: number;
  /** What is counted, and how many of them make a bar. */
  beatTicks: number;
  beatsPerBar: number;
  random: Random;
  newId: () => string;
}

/** Takes strips in order of position and gives those that stand in their place. */
export type Transform = (events: readonly PatternEvent[], context: TransformContext) => PatternEvent[];

export interface TransformRow {
  words: string;
  hint: string;
  apply: Transform;
  /** Rows of one kind stand together. */
  kind?: 'accents';
}
