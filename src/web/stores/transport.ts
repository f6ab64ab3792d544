/** Play, stop and single sounds. Only what changes rarely is reactive; the playhead is read from the engine. */
import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { compilePlan } from '#core/engine/compile-plan.ts';
import { clickOver } from '#core/engine/click-over.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { grooveTicks } from '#core/engine/groove-ticks.ts';
import { dbToGain } from '#core/units/level.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { patternLengthTicks } from '#core/project/commands/patterns.ts';
import type { ShelfGroove } from '../api/client.ts';
import { ENGINE_SAMPLE_RATE } from '../audio/engine-host.ts';
import { engine, library, renderings } from '../audio/services.ts';
import { describeFailure } from '../api/words.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** Plans for finished renderings are sent no more often than this. */
const SEND_EVERY_MS = 60;
/** Grooves have no tempo of their own. */
const GROOVE_TEMPO_BPM = 100;

export const useTransport = defineStore('transport', () => {
  const project = useProject();
  const notices = useNotices();
  const playing = ref(false);
  /** Goes round until stopped; otherwise every round is the last one. */
  const looping = ref(true);
  const previewId = ref<string | null>(null);
  /** Ids of the patterns that wait for their bar line, by the part's place. */
  const waitingPatterns = ref<(string | null)[]>([]);
  /** Counts up when a source has arrived, so that what draws it draws again. */
  const loadedCount = ref(0);
  /** How many stretched slices are still being made. */
  const rendering = ref(0);
  const asked = new Set<string>();

  engine.onStatus((status) => {
    if (playing.value && !status.playing && playSince + 300 < performance.now()) playing.value = false;
    if (!status.previewing && previewId.value && previewSince + 300 < performance.now()) previewId.value = null;
    const waiting = status.patterns.map((pattern) => pattern.waiting);
    if (waiting.join() !== waitingPatterns.value.join()) waitingPatterns.value = waiting;
  });
  let previewSince = 0;
  let playSince = 0;

  /** Length of one round: the longest pattern that plays. */
  function roundTicks(): number {
    const { document } = project;
    if (!document) return 0;
    return Math.max(
      0,
      ...document.partOrder.map((partId) =>
        patternLengthTicks(document, partId, document.parts[partId]!.activePatternId),
      ),
    );
  }

  /** The end of the round that a song position lies in; Infinity while going round. */
  function endTicksAfter(ticks: number): number {
    const round = roundTicks();
    return looping.value || round === 0 ? Infinity : (Math.floor(ticks / round) + 1) * round;
  }

  function setLooping(value: boolean): void {
    looping.value = value;
    engine.send({
      type: 'end-at',
      endTicks: endTicksAfter(engine.positionTicksNow(project.document?.tempoBpm ?? 120)),
    });
  }

  /** Sends the document to the engine as it stands, and has made what it lacks. */
  function sendPlan(): void {
    const { document } = project;
    if (!document) return;
    renderings.request(document, engine.positionTicksNow(document.tempoBpm));
    rendering.value = renderings.missing;
    engine.setPlan(compilePlan(document, library.audio, ENGINE_SAMPLE_RATE, renderings));
  }

  renderings.onFailed = (error) => notices.error(describeFailure('Stretching a slice', error));
  let lastSent = 0;
  let later: ReturnType<typeof setTimeout> | undefined;
  // A slice that has been stretched is heard within a few hundredths of a second, but not each by a plan of its own.
  renderings.onReady = () => {
    rendering.value = renderings.missing;
    clearTimeout(later);
    const wait = renderings.missing === 0 ? 0 : Math.max(0, SEND_EVERY_MS - (performance.now() - lastSent));
    later = setTimeout(() => {
      lastSent = performance.now();
      if (project.document) {
        engine.setPlan(compilePlan(project.document, library.audio, ENGINE_SAMPLE_RATE, renderings));
      }
    }, wait);
  };

  async function loadMissing(): Promise<void> {
    for (const sourceId of Object.keys(project.document?.sources ?? {})) {
      if (library.audio.has(sourceId) || asked.has(sourceId)) continue;
      asked.add(sourceId);
      try {
        await library.load(sourceId);
        loadedCount.value++;
        sendPlan();
      } catch (error) {
        const name = project.document?.sources[sourceId]?.name ?? 'A sound';
        notices.error(describeFailure(name, error));
      } finally {
        asked.delete(sourceId);
      }
    }
  }

  watch(
    () => project.document,
    () => {
      sendPlan();
      void loadMissing();
    },
  );

  async function play(): Promise<void> {
    await engine.resume();
    sendPlan();
    engine.send({ type: 'stop-preview' });
    const { click, beatsPerBar } = project.document ?? { click: null, beatsPerBar: 4 };
    const countIn = (click?.countInBars ?? 0) * beatsPerBar * TICKS_PER_BEAT;
    engine.send({ type: 'play', fromTicks: -countIn, endTicks: endTicksAfter(0) });
    playSince = performance.now();
    playing.value = true;
  }

  function stop(): void {
    engine.send({ type: 'stop' });
    playing.value = false;
  }

  function toggle(): void {
    if (playing.value) stop();
    else void play();
  }

  async function playSlice(partId: string, sliceIndex: number): Promise<void> {
    await engine.resume();
    engine.send({ type: 'play-slice', partId, sliceIndex, velocity: 1 });
  }

  async function keyDown(partId: string, key: number, velocity = 0.9): Promise<void> {
    await engine.resume();
    engine.send({ type: 'note-on', partId, key, velocity });
  }

  function keyUp(partId: string, key: number): void {
    engine.send({ type: 'note-off', partId, key });
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
    startPreview({ id: sourceId, sampleRate, channels }, startFrame, endFrame, looping, sourceId);
  }

  /** Plays a part's loop round and round in its own tempo, with the click over it. */
  async function playWithClick(partId: string): Promise<void> {
    const { document } = project;
    const part = document?.parts[partId];
    if (!document || !part) return;
    await engine.resume();
    const audio = await library.load(part.sourceId);
    const { click } = document;
    const mixed = clickOver(audio, part.loop, click.sound, dbToGain(click.gainDb));
    const id = `click:${part.sourceId}:${Object.values(part.loop).join(':')}:${click.sound}:${click.gainDb}`;
    startPreview({ id, ...mixed }, 0, null, true, `click:${partId}`);
  }

  /** Plays a groove as ticks, round and round, or stops it. */
  async function previewGroove({ id, groove }: ShelfGroove): Promise<void> {
    const shownId = `groove:${id}`;
    if (previewId.value === shownId) return stopPreview();
    await engine.resume();
    startPreview({ id: shownId, ...grooveTicks(groove, GROOVE_TEMPO_BPM, ENGINE_SAMPLE_RATE) }, 0, null, true, shownId);
  }

  function startPreview(
    source: { id: string } & AudioData,
    startFrame: number,
    endFrame: number | null,
    looping: boolean,
    shownId: string,
  ): void {
    engine.addSource(source);
    engine.send({ type: 'preview', sourceId: source.id, startFrame, endFrame, looping });
    previewSince = performance.now();
    previewId.value = shownId;
  }

  function stopPreview(): void {
    engine.send({ type: 'stop-preview' });
    previewId.value = null;
  }

  return {
    playing,
    looping,
    setLooping,
    roundTicks,
    previewId,
    waitingPatterns,
    loadedCount,
    rendering,
    sendPlan,
    play,
    stop,
    toggle,
    playSlice,
    keyDown,
    keyUp,
    preview,
    previewGroove,
    playRange,
    playWithClick,
    stopPreview,
  };
});
