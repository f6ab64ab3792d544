/** What modulators of a part as a whole see: its latest hit, and the song. They move what the part is heard through. */
import type { SongClock } from '../sequence/song-clock.ts';
import type { VoiceStart } from '../voice/start.ts';
import type { PartControls } from './controls.ts';
import { controlView } from './modulators.ts';

const TICKS_PER_QUARTER = 960;
const MIDDLE_KEY = 60;

export class PartHit {
  readonly view = controlView();
  private beganFrame = -Infinity;
  private endFrame = Infinity;
  private noteId = -1;
  private lookedAtFrame = 0;

  constructor(controls: PartControls) {
    this.view.controls = controls;
    this.forget();
  }

  /** Nothing has been hit yet. */
  forget(): void {
    this.beganFrame = -Infinity;
    this.endFrame = Infinity;
    this.noteId = -1;
    this.view.turns.fill(0);
    this.view.velocity = 0;
    this.view.key = MIDDLE_KEY;
    this.view.seed = 0;
  }

  begin({ frame, velocity, key, seed, noteId, stopAtFrame }: VoiceStart): void {
    const { view } = this;
    this.beganFrame = frame;
    this.endFrame = stopAtFrame;
    this.noteId = noteId;
    this.lookedAtFrame = frame;
    view.velocity = velocity;
    view.key = key < 0 ? MIDDLE_KEY : key;
    view.seed = seed;
    view.voiceQuarters = 0;
    view.turns.fill(0);
  }

  letGo(noteId: number, frame: number): void {
    if (noteId === this.noteId) this.endFrame = Math.min(this.endFrame, frame);
  }

  look(frame: number, clock: SongClock, sampleRate: number): void {
    const { view, beganFrame, endFrame } = this;
    const hasBegun = beganFrame > -Infinity;
    view.sinceSeconds = Math.max(0, frame - this.lookedAtFrame) / sampleRate;
    this.lookedAtFrame = frame;
    view.voiceQuarters += view.sinceSeconds * (clock.tempoBpm / 60);
    // Before the first hit all of its course is over.
    view.voiceSeconds = hasBegun ? (frame - beganFrame) / sampleRate : Number.MAX_SAFE_INTEGER;
    view.releasedAtSeconds = hasBegun ? (endFrame - beganFrame) / sampleRate : 0;
    view.songSeconds = (frame - (clock.isRunning ? clock.zeroFrame : 0)) / sampleRate;
    view.songQuarters = clock.isRunning
      ? clock.ticksAt(frame) / TICKS_PER_QUARTER
      : view.songSeconds * (clock.tempoBpm / 60);
  }
}
