/** What the page and the audio thread say to each other. */
import type { PlanSlice, PlanSource, RenderPlan } from './render-plan.ts';

/** A plan without samples: the audio thread keeps those of each source, so that a change of plan stays small. */
export interface PlanMessage extends Omit<RenderPlan, 'sources'> {
  sourceIds: string[];
}

export type ToEngine =
  | { type: 'source'; source: PlanSource }
  /** Sources that no plan will name again. */
  | { type: 'forget'; sourceIds: string[] }
  | { type: 'plan'; plan: PlanMessage }
  /** `endTicks` Infinity lets the song go round. */
  | { type: 'play'; fromTicks: number; endTicks: number }
  | { type: 'end-at'; endTicks: number }
  | { type: 'stop' }
  | { type: 'note-on'; partId: string; key: number; velocity: number }
  | { type: 'note-off'; partId: string; key: number }
  | { type: 'play-slice'; partId: string; sliceIndex: number; velocity: number }
  /** `endFrame` null plays to the source's end. */
  | { type: 'preview'; sourceId: string; startFrame: number; endFrame: number | null; looping: boolean }
  | { type: 'stop-preview' }
  /** Keeps the next frames of the output, from the next start of the song on when `withPlay` is set. */
  | { type: 'capture'; frames: number; withPlay: boolean };

export interface EngineStatus {
  type: 'status';
  frame: number;
  playing: boolean;
  positionTicks: number;
  /** Part, slice and frame of the source for each sounding slice, the latest last. */
  sounding: [partIndex: number, sliceIndex: number, sourceFrame: number][];
  patterns: { playing: string | null; waiting: string | null; positionTicks: number }[];
  peaks: [left: number, right: number];
  partPeaks: number[];
  previewing: boolean;
  previewFrame: number;
}

export type FromEngine = EngineStatus | { type: 'captured'; left: Float32Array; right: Float32Array };

/** The message for a plan. */
export function toPlanMessage({ sources, ...plan }: RenderPlan): PlanMessage {
  return { ...plan, sourceIds: sources.map((source) => source.id) };
}

/** The plan of a message, with the samples the receiver knows; parts whose source it does not know are silent. */
export function fromPlanMessage(message: PlanMessage, known: ReadonlyMap<string, PlanSource>): RenderPlan {
  const { sourceIds, parts, ...plan } = message;
  const sources = sourceIds.flatMap((id) => known.get(id) ?? []);
  const place = (index: number) => sources.findIndex((source) => source.id === sourceIds[index]);
  const placed = (slice: PlanSlice) => ({ ...slice, sourceIndex: place(slice.sourceIndex) });
  return { ...plan, sources, parts: parts.map((part) => ({ ...part, slices: part.slices.map(placed) })) };
}
