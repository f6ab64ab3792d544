/** What the page and the audio thread say to each other. */
import type { PlanPatch, PlanSource, ValueChange } from './plan/fragments.ts';
import type { PlayWay } from './song-state.ts';
import type { PreviewClick } from './preview-player.ts';
import type { MixStatus, PartStatus } from './status.ts';
import type { PlayedNote } from '../strips/played-note.ts';
import type { ControlEvent } from './sequence/notes.ts';

export type ToEngine =
  | { type: 'source'; source: PlanSource }
  /** Sources that no plan will name again. */
  | { type: 'forget'; sourceIds: string[] }
  /** `waitsOf`: how this part sounds is heard from where another pattern would take over. */
  | { type: 'patch'; patch: PlanPatch; waitsOf?: string }
  /** Values alone, as while a field is dragged. */
  | { type: 'values'; values: ValueChange[]; waitsOf?: string }
  /** `endTicks` Infinity lets the song go round. */
  | { type: 'play'; fromTicks: number; endTicks: number; order: number; way: PlayWay }
  | { type: 'end-at'; endTicks: number; returnTicks: number | null }
  /** `order` counts plays and stops: the status tells which of them it has followed. */
  | { type: 'stop'; order: number }
  /** `timeSeconds`: when it was played, by the audio clock; null for now. */
  | { type: 'note-on'; noteId: number; partId: string; key: number; velocity: number; timeSeconds: number | null }
  | { type: 'note-off'; noteId: number; timeSeconds: number | null }
  | ({ type: 'control' } & ControlEvent)
  | { type: 'all-notes-off' }
  /** Everything falls silent, whatever holds it. */
  | { type: 'all-sound-off' }
  /** See {@link Renderer.holdPattern}. */
  | { type: 'hold-pattern'; partId: string; patternId: string | null }
  | { type: 'play-zone'; zoneId: string; velocity: number }
  /** `endFrame` null plays to the source's end. */
  | {
      type: 'preview';
      /** Counts previews, as `order` of plays does. */
      previewOrder: number;
      sourceId: string;
      startFrame: number;
      endFrame: number | null;
      looping: boolean;
      click: PreviewClick | null;
      /** It begins on the next bar line of the song while that runs. */
      inTime: boolean;
    }
  | { type: 'stop-preview' }
  /** See {@link Renderer.watchEffect}. */
  | { type: 'watch'; effectId: string | null }
  /** Keeps the next frames of the output, from the next start of the song on when `withPlay` is set. */
  | { type: 'capture'; frames: number; withPlay: boolean }
  /** Asks for the last of what went out. */
  | { type: 'last-output' };

export interface EngineStatus {
  type: 'status';
  frame: number;
  /** When that frame is heard, by the audio clock, in seconds; the way out of the machine comes on top. */
  timeSeconds: number;
  playing: boolean;
  /** The last play or stop that was followed. */
  order: number;
  positionTicks: number;
  /** As it is there. */
  tempoBpm: number;
  /** Part, zone and frame of the source for each that sounds, the latest last. */
  sounding: [partId: string, zoneId: string, sourceFrame: number][];
  parts: PartStatus[];
  mix: MixStatus;
  peaks: [left: number, right: number];
  previewing: boolean;
  /** The last preview that was begun, or refused. */
  previewOrder: number;
  previewFrame: number;
  /** What sounded since the last report. */
  played: PlayedNote[];
}

export type FromEngine =
  | EngineStatus
  | { type: 'captured'; left: Float32Array; right: Float32Array }
  | { type: 'last-output'; left: Float32Array; right: Float32Array };
