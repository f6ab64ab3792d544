/** What server and page say to each other about the shelf's sounds. */
import { z } from 'zod';

/** What the browser has read from a source and the shelf shows: checked at the door, stored as it is. */
export const sourceFacts = z.strictObject({
  /** Most likely tempo and bars; null when the sound is no loop. */
  tempo: z.strictObject({ bpm: z.number().positive(), bars: z.number().int().positive() }).nullable(),
  /** Peak of each of some 100 equal stretches, 0..1. */
  skyline: z.array(z.number().min(0).max(1)).max(400),
});
export type SourceFacts = z.infer<typeof sourceFacts>;

const name = z.string().trim().min(1).max(200);
export const sourceId = z.string().regex(/^[0-9a-f]{64}$/);
/** Name and facts of an upload travel in the header `X-Source` as JSON in base64: the body is the audio itself. */
export const uploadHeader = z.strictObject({ name, facts: sourceFacts });
export const renameBody = z.strictObject({ name });

export interface SourceSummary {
  id: string;
  name: string;
  sampleRate: number;
  channels: number;
  frames: number;
  byteLength: number;
  createdAt: number;
  facts: SourceFacts;
}

/** A sound or project that was deleted: it can be brought back until it is given up for good. */
export interface DeletedItem {
  id: string;
  name: string;
  deletedAt: number;
}
