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
/** A word that a sound is found by. */
const tag = z.string().trim().min(1).max(40);
export const tags = z.array(tag).max(20);
/** Name and facts of an upload travel in the header `X-Source` as JSON in base64: the body is the audio itself. */
export const uploadHeader = z.strictObject({ name, facts: sourceFacts, tags: tags.optional() });
export const changeSourceBody = z
  .strictObject({ name: name.optional(), tags: tags.optional() })
  .refine((change) => Object.keys(change).length > 0, 'says nothing to change');
export type SourceChange = z.infer<typeof changeSourceBody>;

export interface SourceSummary {
  id: string;
  name: string;
  sampleRate: number;
  channels: number;
  frames: number;
  byteLength: number;
  createdAt: number;
  facts: SourceFacts;
  tags: string[];
}

/** A project that plays a sound, or played it in one of its earlier versions. */
export interface SourceUse {
  projectId: string;
  name: string;
}

/** A sound or project that was deleted: it can be brought back until it is given up for good. */
export interface DeletedItem {
  id: string;
  name: string;
  deletedAt: number;
}
