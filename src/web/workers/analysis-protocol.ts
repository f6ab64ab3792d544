/** What the analysis worker can be asked. */
import type { FrameRange, SliceFacts } from '#core/analysis/analyse-source.ts';
import type { BreakWish } from '#core/analysis/breaks/find-breaks.ts';
import type { GridCut, Marker } from '#core/analysis/cut.ts';
import type { StrengthLandscape } from '#core/analysis/detect-onsets.ts';
import type { Onset, OnsetSelection } from '#core/analysis/select-onsets.ts';
import type { LoopSlice, SliceApart, SliceWish, Guide } from '#core/unmix/in-loop.ts';
import type { NewSound } from '#core/unmix/results.ts';
import type { TempoReading } from '#core/analysis/tempo.ts';
import type { Role } from '#core/analysis/role-names.ts';
import type { PeakPyramid } from '#core/dsp/peaks.ts';
import type { MendedLevels } from '#core/formats/mend-levels.ts';
import type { FlatWish } from '#core/stretch/flatten.ts';
import type { SoundPrints } from '#core/api/sources.ts';
import type { TimedLoop } from '#core/units/loop-time.ts';
import type { SourceFacts } from '../api/client.ts';

export type CutRequest =
  | ({ method: 'hits'; pull?: { grid: GridCut; percent: number } } & OnsetSelection)
  | ({ method: 'grid' } & GridCut)
  | { method: 'equal'; count: number; startFrame: number; endFrame: number }
  | { method: 'pitch'; minLengthMs: number }
  | { method: 'file' }
  /** At frames that are known. */
  | { method: 'at'; frames: number[] };

export type AnalysisRequest =
  /** Decodes a file that was dropped, reads it, and keeps it in the shelf's encoding until it is put there. */
  | { kind: 'import'; bytes: Uint8Array<ArrayBuffer> }
  /** Puts an imported sound on the shelf: from here, for handing over its bytes would hold the page up. */
  | { kind: 'put-on-shelf'; sourceId: string; name: string; facts: SourceFacts; tags: string[]; prints: SoundPrints }
  /** What the shelf is searched by: what a single hit is, and how the slices sound. */
  | { kind: 'hear'; sourceId: string }
  /** Where drums play alone in a long recording, or anything goes round. */
  | { kind: 'find-breaks'; sourceId: string; wish: BreakWish }
  /** What is in a slice: its layers, to be looked at and heard. */
  | { kind: 'take-apart'; sourceId: string; slices: LoopSlice[]; wish: ApartAsked }
  /** Slices taken apart, as a file to be put on the shelf. */
  | { kind: 'keep-apart'; sourceId: string; slices: LoopSlice[]; asked: KeepAsked[]; inPlace: boolean }
  /** A range with its pitch brought to one note, as a file: by itself, or the whole sound with it in its place. */
  | { kind: 'flatten'; sourceId: string; range: FrameRange; wish: FlatWish; inPlace: boolean }
  /** Fetches a sound from the shelf, decodes it and keeps it. */
  | { kind: 'load'; sourceId: string }
  /** Lets a sound go: an import that was given up, or what nobody has asked for in a long time. */
  | { kind: 'forget'; sourceId: string }
  | { kind: 'analyse'; sourceId: string }
  | { kind: 'cut'; sourceId: string; cut: CutRequest }
  /** Where each bar of a loop but the first begins; null where all are of one length. */
  | { kind: 'find-bars'; sourceId: string; loop: TimedLoop; stepTicks: number }
  /** Only the markers, for showing while a setting moves. */
  | { kind: 'preview-cut'; sourceId: string; cut: CutRequest }
  /** What of each range is louder than a level, silence left out. */
  | { kind: 'trim'; sourceId: string; ranges: FrameRange[]; levelDb: number }
  /** The level below which the sound's own noise lies, in dB. */
  | { kind: 'silence-level'; sourceId: string }
  /** For each range how far every range is from it in sound, 0 (alike) upwards. */
  | { kind: 'likeness'; sourceId: string; ranges: FrameRange[] }
  /** @param among the loop's other slices, beside which they are heard */
  | { kind: 'describe'; sourceId: string; ranges: FrameRange[]; among: FrameRange[] }
  /** Places in a range where the sound can go round, the best first. */
  | ({ kind: 'loop-points'; sourceId: string } & FrameRange)
  /** How well a loop goes round. */
  | ({ kind: 'loop-quality'; sourceId: string } & FrameRange)
  /** Where a marker set by hand near a frame belongs: on the attack there (if asked for), or on a zero crossing. */
  | { kind: 'snap'; sourceId: string; frame: number; reachFrames: number; toAttack: boolean };

/** A guide from the shelf is named: it has been loaded before. */
export type GuideAsked = Exclude<Guide, { kind: 'sound' }> | { kind: 'sound'; sourceId: string };

export interface ApartAsked extends Omit<SliceWish, 'layers'> {
  layers: { role: Role; guide: GuideAsked }[];
}

export interface KeepAsked {
  wish: ApartAsked;
  /** Linear, by layer; 0 leaves it out. */
  gains: number[];
}

export type ApartResult = SliceApart;

export interface KeptResult {
  wav: Uint8Array<ArrayBuffer>;
  /** Where each new sound lies in it; none of those that stay in their place. */
  sounds: NewSound[];
}

/** Null where no single note is heard. */
export type FlatResult = { wav: Uint8Array<ArrayBuffer>; note: number } | null;

/** Samples in memory that the page, the workers and the audio thread share where the browser allows it. */
export interface LoadedSource {
  sourceId: string;
  sampleRate: number;
  channels: Float32Array[];
  peaks: PeakPyramid;
}

export interface ImportedSource extends LoadedSource {
  skyline: number[];
  mended: MendedLevels;
}

/** What is known of a long sound while the rest of it is read. */
export interface EarlyReading {
  /** Length of what was read, and of the whole. */
  readSeconds: number;
  totalSeconds: number;
  hits: number;
  skyline: number[];
}

export interface SourceReading {
  onsets: Onset[];
  landscape: StrengthLandscape;
  tempoReadings: TempoReading[];
  /** Places named in the file, in frames: cue points and the ends of its loops. */
  cueFrames: number[];
}

export interface HeardSource {
  /** Of a single hit or note; absent of a loop. */
  heard?: NonNullable<SourceFacts['heard']>;
  prints: SoundPrints;
}

export interface CutResult {
  markers: Marker[];
  /** Where the sound is not cut any more, because there would be too many slices; null when all of it is. */
  uncutFrame: number | null;
  facts: SliceFacts[];
}
