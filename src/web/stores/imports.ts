/** Sounds on their way in: one line of progress each, errors named by file, a part at the end when a project is open. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { until } from './until.ts';
import { DEFAULT_SELECTION } from '#core/analysis/detect-onsets.ts';
import { isSingleHit } from '#core/analysis/single-hit.ts';
import { foundSlices, likeliestLoop } from '#core/project/new-part.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { mendedWords } from '#core/formats/mend-levels.ts';
import { library } from '../audio/services.ts';
import type { EarlyReading } from '../workers/analysis-protocol.ts';
import { describeFailure } from '../api/words.ts';
import { AppError } from '#core/units/errors.ts';
import { useCutting } from './cutting.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';
import { useShelf } from './shelf.ts';

export interface RunningImport {
  id: number;
  name: string;
  share: number;
  /** Of a long sound: what is known while the rest is read. */
  early: EarlyReading | null;
  cancel: () => void;
}

export const useImports = defineStore('imports', () => {
  const running = ref<RunningImport[]>([]);
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const shelf = useShelf();
  const cutting = useCutting();
  let lastId = 0;

  /** Imports files one after another; with `asParts` each becomes a part of the open project. */
  async function importFiles(files: readonly File[], asParts: boolean): Promise<void> {
    for (const file of files) await importFile(file, asParts);
  }

  async function importFile(file: File, asPart: boolean): Promise<void> {
    const id = ++lastId;
    const abort = new AbortController();
    running.value = [...running.value, { id, name: file.name, share: 0, early: null, cancel: () => abort.abort() }];
    const onProgress = (share: number, early?: EarlyReading) => {
      running.value = running.value.map((one) => (one.id === id ? { ...one, share, early: early ?? one.early } : one));
    };
    try {
      const imported = await library.importFile(file, onProgress, abort.signal);
      const mended = mendedWords(imported.mended);
      if (mended) notices.info(`${file.name}: ${mended}.`);
      if (asPart && project.document) await addSourceAsPart(imported.source.sourceId, imported.name);
      await shelf.refreshSources();
    } catch (error) {
      if (!(error instanceof AppError && error.code === 'cancelled')) notices.error(describeFailure(file.name, error));
    } finally {
      running.value = running.value.filter((one) => one.id !== id);
    }
  }

  /** Cuts a source at its hits and adds it to the open project. */
  async function addSourceAsPart(sourceId: string, name: string): Promise<void> {
    const source = await library.load(sourceId);
    const reading = await library.reading(sourceId);
    const found = await library.cut(sourceId, { method: 'hits', ...DEFAULT_SELECTION });
    const isHit = isSingleHit(
      source,
      found.markers.map(({ frame }) => frame),
    );
    // What shimmers in the tail of a hit is no hit: it stays in one piece.
    const frames = frameCount(source);
    const whole = { method: 'equal', count: 1, startFrame: 0, endFrame: frames } as const;
    const cut = isHit && found.markers.length > 1 ? await library.cut(sourceId, whole) : found;
    const added = project.run(`add ${name}`, addPart, {
      name,
      source: { id: sourceId, name, sampleRate: source.sampleRate, channels: source.channels.length, frames },
      loop: likeliestLoop(reading.tempoReadings, frames, source.sampleRate, isHit),
      tempoReadings: reading.tempoReadings,
      slices: foundSlices(cut.markers, cut.facts),
      adoptTempo: true,
    });
    if (!added) return;
    session.choosePart(project.document!.partOrder.at(-1)!);
    if (session.cut) cutting.sayWhereItEnds(cut.uncutFrame, session.cut);
  }

  /** Adds a source to a project that is about to open. */
  async function addWhenOpen(projectId: string, sourceId: string, name: string): Promise<void> {
    try {
      await until(() => project.document?.id === projectId);
      await addSourceAsPart(sourceId, name);
    } catch (error) {
      notices.error(describeFailure(name, error));
    }
  }

  return { running, importFiles, addSourceAsPart, addWhenOpen };
});
