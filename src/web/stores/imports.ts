/** Sounds on their way in: one line of progress each, errors named by file, a part at the end when a project is open. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { Loop } from '#core/project/schema.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { library } from '../audio/services.ts';
import { describeFailure } from '../api/words.ts';
import { AppError } from '#core/units/errors.ts';
import type { SourceReading } from '../workers/analysis-protocol.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';
import { useShelf } from './shelf.ts';

export interface RunningImport {
  id: number;
  name: string;
  share: number;
  cancel: () => void;
}

export const useImports = defineStore('imports', () => {
  const running = ref<RunningImport[]>([]);
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const shelf = useShelf();
  let lastId = 0;

  /** Imports files one after another; with `asParts` each becomes a part of the open project. */
  async function importFiles(files: readonly File[], asParts: boolean): Promise<void> {
    for (const file of files) await importFile(file, asParts);
  }

  async function importFile(file: File, asPart: boolean): Promise<void> {
    const id = ++lastId;
    const abort = new AbortController();
    running.value = [...running.value, { id, name: file.name, share: 0, cancel: () => abort.abort() }];
    const onProgress = (share: number) => {
      running.value = running.value.map((one) => (one.id === id ? { ...one, share } : one));
    };
    try {
      const imported = await library.importFile(file, onProgress, abort.signal);
      if (imported.mendedSamples > 0) {
        notices.info(`${file.name}: ${imported.mendedSamples} samples were not numbers and are now silent.`);
      }
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
    const cut = await library.cut(sourceId, { method: 'hits', sensitivity: 0.5, minGapMs: 18 });
    const frames = frameCount(source);
    const added = project.run(`add ${name}`, addPart, {
      name,
      source: { id: sourceId, name, sampleRate: source.sampleRate, channels: source.channels.length, frames },
      loop: loopOf(reading, frames),
      tempoReadings: reading.tempoReadings,
      slices: cut.markers.map((marker, index) => ({
        startFrame: marker.frame,
        strength: marker.strength,
        ...cut.facts[index]!,
      })),
      adoptTempo: true,
    });
    if (added) session.choosePart(project.document!.partOrder.at(-1)!);
  }

  return { running, importFiles, addSourceAsPart };
});

/** The whole file as a loop, by the likeliest reading; a sound that is no loop counts as one bar. */
function loopOf(reading: SourceReading, frames: number): Loop {
  const best = reading.tempoReadings[0];
  return { startFrame: 0, endFrame: frames, bars: best?.bars ?? 1, beatsPerBar: best?.beatsPerBar ?? 4 };
}
