/** Plays a range of a source as it is, beside the song; round and round, and with the click over it, when asked. */
import { packValues } from '../params/row.ts';
import { ZONE_ROWS } from '../params/tables.ts';
import { Click } from './click.ts';
import type { PlanSource, ZoneFragment } from './plan/fragments.ts';
import { plainStart } from './voice/start.ts';
import { Voice } from './voice/voice.ts';
import { ZoneState } from './zone-state.ts';

/** Fade at ends that are not the source's own, and of a preview that another one replaces, in frames. */
const EDGE_FADE_FRAMES = 64;
const REPLACE_FADE_FRAMES = 128;

/** The click over a looping range, the first of each bar higher. */
export interface PreviewClick {
  /** How far on in the range each beat is, from 0 to below 1. */
  beatShares: readonly number[];
  beatsABar: number;
  /** Place in CLICK_SOUNDS. */
  sound: number;
  gain: number;
}

export class PreviewPlayer {
  private voice = new Voice();
  private leaving = new Voice();
  private readonly click: Click;
  private zone: ZoneState | null = null;
  private isLooping = false;
  private clickSettings: PreviewClick | null = null;
  private nextBeat = 0;
  /** Output frames until it begins; 0 when it has begun. */
  private waitFrames = 0;
  /** Output frames since the round began, and what a round lasts. */
  private roundAt = 0;
  private roundFrames = 0;

  constructor(private readonly sampleRate: number) {
    this.click = new Click(sampleRate);
  }

  /**
   * Begins a range, once or round and round; one that runs is faded out. Nothing sounds for an empty range.
   * @param endFrame the source's end when beyond it
   * @param waitFrames output frames until it begins: up to a bar line of the song
   */
  start(
    source: PlanSource,
    startFrame: number,
    endFrame: number,
    isLooping: boolean,
    click: PreviewClick | null = null,
    waitFrames = 0,
  ): void {
    const end = Math.min(endFrame, source.channels[0]?.length ?? 0);
    this.stop(REPLACE_FADE_FRAMES);
    if (startFrame >= end) return;
    [this.voice, this.leaving] = [this.leaving, this.voice];
    this.zone = rangeZone(source, startFrame, end);
    this.isLooping = isLooping;
    this.clickSettings = click;
    this.roundFrames = Math.max(1, Math.floor((end - startFrame) / (source.sampleRate / this.sampleRate)));
    this.waitFrames = waitFrames;
    if (waitFrames === 0) this.begin();
  }

  private begin(): void {
    const fade = { ...AS_IT_IS, stopFadeFrames: EDGE_FADE_FRAMES, sampleRate: this.sampleRate };
    this.voice.start(this.zone!, null, fade, 0);
    this.roundAt = 0;
    this.nextBeat = 0;
  }

  stop(fadeFrames: number): void {
    this.waitFrames = 0;
    this.isLooping = false;
    this.clickSettings = null;
    this.click.stop();
    if (this.voice.active) this.voice.stop(fadeFrames);
  }

  get playing(): boolean {
    return this.waitFrames > 0 || (this.voice.active && !this.voice.stopping);
  }

  /** Where it is in its source, in frames. */
  get sourceFrame(): number {
    return this.voice.sourceFrame;
  }

  /** Adds `count` frames to the outputs; a loop starts anew on the very frame after its last. */
  render(left: Float32Array, right: Float32Array, offset: number, count: number, frame: number): void {
    if (this.leaving.active) this.leaving.render(left, right, offset, count, frame, 0);
    let done = Math.min(count, this.waitFrames);
    if (this.waitFrames > 0) {
      this.waitFrames -= done;
      if (this.waitFrames > 0) return;
      this.begin();
    }
    while (done < count && this.voice.active) {
      if (this.clickSettings) this.startBeat(this.clickSettings);
      const run = Math.max(1, Math.min(count - done, this.voice.remainingFrames, this.framesToBeat()));
      this.voice.render(left, right, offset + done, run, frame + done, 0);
      if (this.clickSettings) this.click.render(left, right, offset + done, run, this.clickSettings.gain);
      done += run;
      this.roundAt += run;
      if (!this.voice.active && this.isLooping) this.begin();
    }
  }

  private beatFrame(beat: number): number {
    return Math.round(this.clickSettings!.beatShares[beat]! * this.roundFrames);
  }

  private startBeat({ beatShares, beatsABar, sound }: PreviewClick): void {
    if (this.nextBeat >= beatShares.length || this.beatFrame(this.nextBeat) > this.roundAt) return;
    this.click.start(sound, this.nextBeat % beatsABar === 0);
    this.nextBeat++;
  }

  private framesToBeat(): number {
    if (!this.clickSettings || this.nextBeat >= this.clickSettings.beatShares.length) return Infinity;
    return this.beatFrame(this.nextBeat) - this.roundAt;
  }
}

const AS_IT_IS = { ...plainStart(), origin: 'preview' as const };

/** A zone that plays a range as it is. */
function rangeZone(source: PlanSource, startFrame: number, endFrame: number): ZoneState {
  const sound = {
    sourceId: source.id,
    isRendering: false,
    isTransposed: true,
    startFrame,
    endFrame,
    naturalEndFrame: endFrame,
    hasRemainder: false,
    tuneCents: 0,
    loop: null,
  };
  const fragment: ZoneFragment = {
    id: '',
    partId: '',
    lowKey: -1,
    highKey: -1,
    rootKey: -1,
    lowVelocity: 1,
    highVelocity: 127,
    velocityFade: 0,
    playsPatternId: null,
    hitGroup: 0,
    follow: 'none',
    tail: 'leave',
    loopTempoBpm: 0,
    sliceStartFrame: startFrame,
    sliceEndFrame: endFrame,
    sound,
    keySounds: [],
    tempoSounds: [],
    values: packValues(ZONE_ROWS, {}),
  };
  return new ZoneState(fragment, new Map([[source.id, source]]));
}
