/** What server and page say to each other about the shelf's sounds. */
import { z } from 'zod';
import { MOST_PRINTS, PRINT_BYTES } from '../analysis/print-size.ts';
import { ROLES } from '../analysis/role-names.ts';

/** What the browser has read from a source and the shelf shows: checked at the door, stored as it is. */
export const sourceFacts = z.strictObject({
  /** Most likely tempo and bars; null when the sound is no loop. */
  tempo: z.strictObject({ bpm: z.number().positive(), bars: z.number().int().positive() }).nullable(),
  /** Peak of each of some 100 equal stretches, 0..1. */
  skyline: z.array(z.number().min(0).max(1)).max(400),
  /** What it was printed from or captured of, in words; absent for a file. */
  origin: z.string().trim().min(1).max(500).optional(),
  /** What its first sound is: for single hits and notes. Absent for loops, and where nobody has listened yet. */
  heard: z
    .strictObject({
      role: z.enum(ROLES),
      midi: z.number().int().min(0).max(127).nullable(),
      brightnessHz: z.number().min(0).max(200_000),
    })
    .optional(),
});
export type SourceFacts = z.infer<typeof sourceFacts>;

const name = z.string().trim().min(1).max(200);
export const sourceId = z.string().regex(/^[0-9a-f]{64}$/);
/** A word that a sound is found by. */
const tag = z.string().trim().min(1).max(40);
export const tags = z.array(tag).max(20);
/** How the slices of a sound sound (see analysis/prints.ts): where each starts, and its print, one after another in base64. */
export const soundPrints = z.strictObject({
  startFrames: z.array(z.number().int().min(0)).max(MOST_PRINTS),
  bytes: z.base64().max(Math.ceil((MOST_PRINTS * PRINT_BYTES) / 3) * 4),
});
export type SoundPrints = z.infer<typeof soundPrints>;

/** Name and facts of an upload travel in the header `X-Source` as JSON in base64: the body is the audio itself. */
export const uploadHeader = z.strictObject({
  name,
  facts: sourceFacts,
  tags: tags.optional(),
  prints: soundPrints.optional(),
});
export type SourceUpload = z.infer<typeof uploadHeader>;
export const changeSourceBody = z
  .strictObject({
    name: name.optional(),
    tags: tags.optional(),
    prints: soundPrints.optional(),
    heard: sourceFacts.shape.heard,
  })
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
  /** Does a project, an earlier version of one, or a kit of the shelf play it? */
  isUsed: boolean;
  /** Has anybody listened to its slices (see {@link SoundPrints})? */
  hasPrints: boolean;
}

/** What is told of one sound, whether it is on the shelf or off it. */
export interface KnownSource {
  known: boolean;
  /** As it is called on the shelf; null where it is not on it. */
  name: string | null;
}

export interface PrintsOfSource extends SoundPrints {
  id: string;
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
