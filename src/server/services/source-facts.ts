/** What the browser has read from a source and the shelf shows: checked at the door, stored as it is. */
import { z } from 'zod';

export const sourceFacts = z.strictObject({
  /** Most likely tempo and bars; null when the sound is no loop. */
  tempo: z.strictObject({ bpm: z.number().positive(), bars: z.number().int().positive() }).nullable(),
  /** Peak of each of some 100 equal stretches, 0..1. */
  skyline: z.array(z.number().min(0).max(1)).max(400),
});
export type SourceFacts = z.infer<typeof sourceFacts>;
