/** A source as a part uses it: its loop and its slices. */
import * as z from 'zod/mini';
import { ROLES } from '../../analysis/role-names.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { CUT_ROWS } from '../../params/tables.ts';
import { beatsPerBar, between, frame, id, key, listOf, name, unit, whole } from './basics.ts';
import { MAX_BARS } from '../limits.ts';
import { barLines, type TimedLoop } from '../../units/loop-time.ts';

export const slice = z.strictObject({
  id,
  startFrame: frame,
  /** Null: up to the next slice. */
  endFrame: z.nullable(frame),
  /** Empty: named after its role. */
  name,
  role: z.enum(ROLES),
  roleConfidence: unit,
  /** The likeliest role but one; left out where that is not known. */
  secondRole: z.optional(z.enum(ROLES)),
  /** Version of the ears that guessed; left out where those told none. */
  earsVersion: z.optional(whole(1, 65_535)),
  roleByHand: z.boolean(),
  /** Strength of the hit at its start, 0..1. */
  strength: unit,
  /** `hand` for markers that were set or moved by hand: finding again keeps them. */
  origin: z.enum(['found', 'hand']),
  locked: z.boolean(),
  brightnessHz: between(0, 200_000),
  midi: z.nullable(key),
  cents: z.nullable(between(-50, 50)),
});
export type Slice = z.infer<typeof slice>;

function hasLinesInOrder(loop: TimedLoop): boolean {
  if (!loop.barFrames) return true;
  const lines = barLines(loop);
  return lines.length === loop.bars + 1 && lines.every((line, place) => place === 0 || line > lines[place - 1]!);
}

/** The musical loop within a source: its tempo follows from its length, bars and beats (see loopTempoBpm). */
export const loop = z
  .strictObject({
    startFrame: frame,
    endFrame: frame,
    bars: whole(1, MAX_BARS),
    beatsPerBar,
    /** Where each bar but the first begins; left out where all are of one length. */
    barFrames: z.optional(listOf(frame, MAX_BARS - 1, 1)),
  })
  .check(
    z.refine((value) => value.endFrame > value.startFrame, 'a loop ends after its start'),
    z.refine(
      hasLinesInOrder,
      'the bar lines of a loop lie one after another inside it, one for each bar but the first',
    ),
  );
export type Loop = z.infer<typeof loop>;

export const tempoReading = z.strictObject({
  bpm: between(1, 10_000),
  bars: whole(1, MAX_BARS),
  beatsPerBar,
  confidence: unit,
  /** Where in the source the loop lies by this reading. */
  startFrame: frame,
  endFrame: frame,
});

/** One source as a part uses it: how its loop is read, how it keeps time, and where it is cut. */
export const cut = z.strictObject({
  id,
  partId: id,
  sourceId: id,
  /** Null: a single hit or another sound that is no loop. */
  loop: z.nullable(loop),
  /** Other readings of the loop's tempo, the likeliest first. */
  tempoReadings: listOf(tempoReading, 64),
  slices: z.record(id, slice),
  values: valuesSchema(CUT_ROWS),
});
export type Cut = z.infer<typeof cut>;
