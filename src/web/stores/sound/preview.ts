/** Single sounds beside the song: sources of the shelf, ranges of them, loops with the click over them, grooves. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { AudioData } from '#core/dsp/audio.ts';
import { grooveTicks } from '#core/engine/groove-ticks.ts';
import type { PreviewClick } from '#core/engine/preview-player.ts';
import { CLICK_SOUNDS } from '#core/params/choices.ts';
import { songValues } from '#core/queries/values.ts';
import { dbToGain } from '#core/units/level.ts';
import { beatShares } from '#core/units/loop-time.ts';
import { countedBeats } from '#core/units/time.ts';
import type { ShelfItem } from '#core/api/shelf.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { engine, library, renderings } from '../../audio/services.ts';
import { isStretchable } from '#core/queries/following.ts';
import type { Material } from '#core/params/choices.ts';
import { useProject } from '../document/project.ts';

/** Grooves have no tempo of their own. */
const GROOVE_TEMPO_BPM = 100;

/** A loop of the shelf as it is read. */
export interface ShelfLoop {
  sourceId: string;
  startFrame: number;
  endFrame: number;
  tempoBpm: number;
  attackFrames: readonly number[];
  material: Material;
}

export const usePreview = defineStore('preview', () => {
  const project = useProject();
  /** What is heard, by a name of its own; null for nothing. */
  const previewId = ref<string | null>(null);
  /** Counts what was asked for: until the engine has dealt with it, what it tells is of the one before. */
  let previewOrder = 0;

  engine.onStatus((status) => {
    if (!status.previewing && status.previewOrder === previewOrder) previewId.value = null;
  });

  function start(
    source: { id: string } & AudioData,
    range: { startFrame: number; endFrame: number | null; looping: boolean; click?: PreviewClick; inTime?: boolean },
    shownId: string,
  ): void {
    engine.addSource(source);
    const { click = null, inTime = false } = range;
    engine.send({ type: 'preview', previewOrder: ++previewOrder, sourceId: source.id, ...range, click, inTime });
    previewId.value = shownId;
  }

  /** Plays a source of the shelf from its start, or stops it when it plays already. */
  async function preview(sourceId: string): Promise<void> {
    if (previewId.value === sourceId) stopPreview();
    else await playRange(sourceId, 0, null, false);
  }

  /** Plays a range of a source, once or round and round. */
  async function playRange(
    sourceId: string,
    startFrame: number,
    endFrame: number | null,
    looping: boolean,
  ): Promise<void> {
    await engine.resume();
    const { sampleRate, channels } = await library.load(sourceId);
    start({ id: sourceId, sampleRate, channels }, { startFrame, endFrame, looping }, sourceId);
  }

  /**
   * Plays a loop of the shelf stretched to the song's tempo, round and round, from the song's next bar line while it runs.
   * @returns false when it cannot be: too far to stretch, or no loop
   */
  async function playInTime(loop: ShelfLoop): Promise<boolean> {
    if (!project.document) return false;
    const ratio = loop.tempoBpm / songValues(project.document).tempoBpm;
    if (!isStretchable(ratio)) return false;
    await engine.resume();
    const { sampleRate, channels } = await library.load(loop.sourceId);
    const audio = { sampleRate, channels: channels.map((channel) => channel.slice(loop.startFrame, loop.endFrame)) };
    const attackFrames = loop.attackFrames.map((frame) => frame - loop.startFrame).filter((frame) => frame >= 0);
    const id = `in-time:${loop.sourceId}:${loop.startFrame}:${ratio.toFixed(6)}`;
    const stretched = await renderings.stretchLoop(id, { audio, attackFrames, ratio, material: loop.material });
    start({ id, ...stretched }, { startFrame: 0, endFrame: null, looping: true, inTime: true }, loop.sourceId);
    return true;
  }

  /** Plays a cut's loop round and round in its own tempo, with the click over it. */
  async function playWithClick(cutId: string): Promise<void> {
    const cut = project.document?.cuts[cutId];
    if (!project.document || !cut?.loop) return;
    const { startFrame, endFrame, beatsPerBar } = cut.loop;
    const { clickGainDb, clickSound } = songValues(project.document);
    await engine.resume();
    const { sampleRate, channels } = await library.load(cut.sourceId);
    const click = {
      beatShares: beatShares(cut.loop),
      beatsABar: countedBeats(beatsPerBar),
      sound: CLICK_SOUNDS.indexOf(clickSound),
      gain: dbToGain(clickGainDb),
    };
    const source = { id: cut.sourceId, sampleRate, channels };
    start(source, { startFrame, endFrame, looping: true, click }, `click:${cutId}`);
  }

  /** Plays samples that lie nowhere, once. @param id another one for other samples */
  async function playSamples(id: string, audio: AudioData): Promise<void> {
    await engine.resume();
    start({ id, ...audio }, { startFrame: 0, endFrame: null, looping: false }, id);
  }

  /** Plays a groove as ticks, round and round, or stops it. */
  async function previewGroove({ id, facts: { groove } }: ShelfItem<'groove'>): Promise<void> {
    const shownId = `groove:${id}`;
    if (previewId.value === shownId) return stopPreview();
    await engine.resume();
    const ticks = { id: shownId, ...grooveTicks(groove, GROOVE_TEMPO_BPM, ENGINE_SAMPLE_RATE) };
    start(ticks, { startFrame: 0, endFrame: null, looping: true }, shownId);
  }

  function stopPreview(): void {
    engine.send({ type: 'stop-preview' });
    previewId.value = null;
  }

  return { previewId, preview, playRange, playInTime, playWithClick, playSamples, previewGroove, stopPreview };
});
