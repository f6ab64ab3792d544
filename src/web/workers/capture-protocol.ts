/** What the page and the worker that captures say to each other. */
import type { SliceFacts } from '#core/analysis/analyse-source.ts';
import type { CapturedTake, CaptureEvent, CaptureSettings } from '#core/capture/capture-session.ts';

export interface CaptureBlock {
  left: Float32Array;
  right: Float32Array;
  /** By the audio clock. */
  startFrame: number;
}

export type ToCapture =
  | {
      type: 'begin';
      sampleRate: number;
      settings: CaptureSettings;
      finds: boolean;
      recordingId: string;
      mayBreakOff: boolean;
    }
  | { type: 'settings'; settings: CaptureSettings }
  | ({ type: 'block' } & CaptureBlock)
  /** What was recorded stays until it is fetched. */
  | { type: 'end' };

export type FromCapture =
  | { type: 'events'; events: Exclude<CaptureEvent, { kind: 'take' }>[] }
  | { type: 'take'; take: CapturedTake; facts: SliceFacts }
  /** So much lies on the disk. */
  | { type: 'stored'; seconds: number }
  /** The input broke off: so much of it is missing. */
  | { type: 'gap'; atSeconds: number; seconds: number }
  | { type: 'failed'; reason: string }
  /** `firstFrame`: by the audio clock, where it begins. */
  | { type: 'ended'; recordingId: string; seconds: number; firstFrame: number };
