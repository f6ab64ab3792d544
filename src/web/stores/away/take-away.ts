/**
 * What leaves the project as files: rows that are ticked or not, each with its settings, the files it will give and how
 * large they will be; made one after another in workers, and handed over as one file.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { MixLevels } from '#core/analysis/loudness.ts';
import { endingOf } from '#core/formats/encode.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { AppError } from '#core/units/errors.ts';
import { bounceInWorker, inWorker, planToBounce } from '../../audio/bouncing.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { saveFile } from '../../audio/save-file.ts';
import { library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import type { ExportRequest } from '../../workers/export.worker.ts';
import { useNotices } from '../frame/notices.ts';
import { usePlanSender } from '../sound/plan-sender.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import {
  DEFAULT_TAKE_AWAY,
  midiRow,
  midiSong,
  mixName,
  mixRow,
  mixTicks,
  NO_ROW,
  ROW_IDS,
  slicesRow,
  slicesToWrite,
  sourceRow,
  type RowId,
  type RowSummary,
  type TakeAwaySettings,
} from './take-away-rows.ts';
import { useTransport } from '../sound/transport.ts';
import { useWork } from '../frame/work.ts';

/** What was taken away before, and how. */
export interface TakenBefore {
  at: number;
  fileName: string;
  bytes: number;
  rows: RowId[];
  settings: TakeAwaySettings;
}

const MOST_REMEMBERED = 12;
/** What is lowered leaves so much room below full scale, in dB. */
export const HEADROOM_DB = 1;

interface MadeFile {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
  type: string;
}

export const useTakeAway = defineStore('take-away', () => {
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const notices = useNotices();
  const work = useWork();
  const planSender = usePlanSender();
  const settings = ref<TakeAwaySettings>(structuredClone(DEFAULT_TAKE_AWAY));
  const before = useStorage<Record<string, TakenBefore[]>>('yappa.taken', {});
  /** What is being made, and how far it is; null while nothing is. */
  const running = ref<{ row: RowId | 'pack'; share: number } | null>(null);
  const levels = shallowRef<MixLevels | null>(null);
  const isMeasuring = ref(false);
  let abort: AbortController | null = null;

  const document = computed(() => project.document);
  const takenBefore = computed(() => before.value[document.value?.id ?? ''] ?? []);

  function partOf(partId: string | null): Part | null {
    if (!document.value) return null;
    const { parts, partOrder } = document.value;
    return parts[partId ?? ''] ?? session.part ?? parts[partOrder[0] ?? ''] ?? null;
  }

  function audioOf(cutId: string) {
    // What has been loaded meanwhile can be written.
    void planSender.loadedCount;
    return library.audio.get(document.value!.cuts[cutId]!.sourceId);
  }

  /** The sound of a part that is worked on, else its first. */
  function cutIdOf(part: Part): string {
    return session.cut?.partId === part.id ? session.cut.id : part.cutOrder[0]!;
  }

  const ticks = computed(() =>
    document.value ? mixTicks(document.value, settings.value.mix, transport.roundTicks()) : 0,
  );
  const mix = computed<RowSummary>(() =>
    document.value && document.value.partOrder.length > 0
      ? mixRow(document.value, settings.value.mix, ticks.value, ENGINE_SAMPLE_RATE)
      : NO_ROW,
  );
  /** The slices that are written of a part, by cut: all, or those that are chosen on the bench. */
  function slicesOf(part: Part) {
    const only = settings.value.slices.onlySelected ? new Set(session.sliceIds) : null;
    return new Map(part.cutOrder.map((cutId) => [cutId, slicesToWrite(document.value!, cutId, only)]));
  }
  const slices = computed<RowSummary>(() => {
    const part = partOf(settings.value.slices.partId);
    if (!document.value || !part) return NO_ROW;
    const { options } = settings.value.slices;
    const isLoaded = part.cutOrder.every((cutId) => audioOf(cutId) !== undefined);
    return slicesRow(document.value, part, slicesOf(part), options, isLoaded);
  });
  const source = computed<RowSummary>(() => {
    const part = partOf(settings.value.source.partId);
    if (!document.value || !part) return NO_ROW;
    const cutId = cutIdOf(part);
    return sourceRow(document.value, part, cutId, audioOf(cutId) !== undefined);
  });
  const notes = computed(() => (document.value ? midiSong(document.value, settings.value.midi) : null));
  const midi = computed<RowSummary>(() =>
    document.value && notes.value && document.value.partOrder.length > 0
      ? midiRow(document.value, settings.value.midi, notes.value)
      : NO_ROW,
  );
  const rows = computed<Record<RowId, RowSummary>>(() => ({
    mix: mix.value,
    slices: slices.value,
    source: source.value,
    midi: midi.value,
  }));
  const tickedRows = computed(() =>
    ROW_IDS.filter((id) => settings.value.ticked[id] && rows.value[id].problem === null),
  );
  const sum = computed(() =>
    tickedRows.value.reduce(
      (all, id) => {
        const { files, bytes, seconds, isAbout } = rows.value[id];
        return {
          files: all.files + files,
          bytes: all.bytes + bytes,
          // Notes are no sound.
          seconds: all.seconds + (id === 'midi' ? 0 : seconds),
          isAbout: all.isAbout || isAbout,
        };
      },
      { files: 0, bytes: 0, seconds: 0, isAbout: false },
    ),
  );

  const planOf = (from: ProjectDocument) => planToBounce(from, settings.value.mix.onlyPartId ?? undefined);
  const exportWorker = () => new Worker(new URL('../../workers/export.worker.ts', import.meta.url), { type: 'module' });

  /** Renders the mix only to know how loud it is; what was measured of an earlier state is forgotten. */
  async function measure(): Promise<void> {
    const from = document.value;
    if (!from || isMeasuring.value || running.value || ticks.value === 0) return;
    isMeasuring.value = true;
    const measuring = new AbortController();
    const workId = work.begin({ kind: 'listen', name: 'the mix', share: 0, cancel: () => measuring.abort() });
    try {
      const plan = await planOf(from);
      const { ringOut } = settings.value.mix;
      const result = await bounceInWorker(
        { plan, lengthTicks: ticks.value, encoding: null, ringOut },
        (share) => work.update(workId, { share }),
        measuring.signal,
      );
      levels.value = result.levels;
    } catch (error) {
      if (!isCancelled(error)) notices.error(describeFailure('Measuring the mix', error));
    } finally {
      work.end(workId);
      isMeasuring.value = false;
    }
  }

  /** Lowers all parts by as much as it takes to peak below full scale. In one step. */
  function lowerToFit(): void {
    if (!levels.value || !document.value) return;
    const by = -(levels.value.truePeakDb + HEADROOM_DB);
    const owners = Object.values(document.value.parts).map((part): Owner => ({ kind: 'channel', id: part.channelId }));
    project.run(`lower by ${(-by).toFixed(1)} dB`, setValue, { owners, param: 'gainDb', change: { by } });
  }

  async function makeMix(signal: AbortSignal, onProgress: (share: number) => void): Promise<MadeFile> {
    const { encoding, ringOut } = settings.value.mix;
    const plan = await planOf(document.value!);
    const name = mixName(document.value!, settings.value.mix);
    const request = { plan, lengthTicks: ticks.value, encoding, ringOut };
    const result = await bounceInWorker(request, onProgress, signal);
    levels.value = result.levels;
    return { name, bytes: result.bytes!, type: endingOf(encoding) === 'flac' ? 'audio/flac' : 'audio/wav' };
  }

  async function makeExport(
    row: 'slices' | 'source',
    signal: AbortSignal,
    onProgress: (share: number) => void,
  ): Promise<MadeFile> {
    const part = partOf(settings.value[row].partId)!;
    const plain = (cutId: string) => {
      const { sampleRate, channels } = audioOf(cutId)!;
      return { sampleRate, channels };
    };
    const cutId = cutIdOf(part);
    const { loop } = document.value!.cuts[cutId]!;
    const isZip = row === 'slices';
    const request: ExportRequest = isZip
      ? {
          kind: 'slices',
          sounds: [...slicesOf(part)].map(([id, slices]) => ({ audio: plain(id), slices })),
          sourceName: part.name,
          options: { ...settings.value.slices.options },
        }
      : {
          kind: 'source',
          audio: plain(cutId),
          slices: slicesToWrite(document.value!, cutId, null),
          loop: loop && { startFrame: loop.startFrame, endFrame: loop.endFrame },
        };
    const bytes = await inWorker<ExportRequest, Uint8Array<ArrayBuffer>>(exportWorker(), request, onProgress, signal);
    const name = isZip ? `${safeFileName(part.name, 'slices')} slices.zip` : source.value.fileName;
    return { name, bytes, type: isZip ? 'application/zip' : 'audio/wav' };
  }

  async function makeMidi(): Promise<MadeFile> {
    const { writeMidiFile } = await import('#core/formats/midi-file.ts');
    const bytes = writeMidiFile(notes.value!, settings.value.midi.options);
    return { name: midi.value.fileName, bytes, type: 'audio/midi' };
  }

  function make(row: RowId, signal: AbortSignal, onProgress: (share: number) => void): Promise<MadeFile> {
    if (row === 'mix') return makeMix(signal, onProgress);
    return row === 'midi' ? makeMidi() : makeExport(row, signal, onProgress);
  }

  /** Makes what is ticked: one row as its own file, several as one zip. */
  async function run(): Promise<void> {
    const from = document.value;
    const ids = tickedRows.value;
    if (!from || running.value || ids.length === 0) return;
    abort = new AbortController();
    const { signal } = abort;
    const remembered = structuredClone(JSON.parse(JSON.stringify(settings.value)) as TakeAwaySettings);
    const workId = work.begin({ kind: 'take-away', name: 'files', share: 0, cancel: () => abort?.abort() });
    try {
      const made: MadeFile[] = [];
      for (const [index, row] of ids.entries()) {
        running.value = { row, share: 0 };
        const onProgress = (share: number) => {
          running.value = { row, share };
          work.update(workId, { share: (index + share) / ids.length });
        };
        made.push(await make(row, signal, onProgress));
      }
      const file = made.length === 1 ? made[0]! : await pack(from.name, made, signal);
      saveFile(file.name, file.bytes, file.type);
      const taken = { at: Date.now(), fileName: file.name, bytes: file.bytes.length, rows: ids, settings: remembered };
      before.value = { ...before.value, [from.id]: [taken, ...takenBefore.value].slice(0, MOST_REMEMBERED) };
    } catch (error) {
      if (isCancelled(error)) return;
      const words = describeFailure('Taking away', error);
      notices.error(words);
      work.fail(words);
    } finally {
      work.end(workId);
      running.value = null;
      abort = null;
    }
  }

  async function pack(name: string, files: MadeFile[], signal: AbortSignal): Promise<MadeFile> {
    running.value = { row: 'pack', share: 0 };
    const request: ExportRequest = {
      kind: 'pack',
      files: files.map(({ name: entry, bytes }) => ({ name: entry, bytes })),
    };
    const bytes = await inWorker<ExportRequest, Uint8Array<ArrayBuffer>>(exportWorker(), request, () => {}, signal);
    return { name: `${safeFileName(name, 'project')}.zip`, bytes, type: 'application/zip' };
  }

  /** How far a row is, 0..1; null while it is not being made. */
  const shareOf = (row: RowId) => (running.value?.row === row ? running.value.share : null);

  function cancel(): void {
    abort?.abort();
  }

  /** The same once more, with the settings that it had. */
  async function again(taken: TakenBefore): Promise<void> {
    const parts = document.value?.parts ?? {};
    const known = (id: string | null) => (id !== null && parts[id] ? id : null);
    // What was taken by an earlier version had fewer rows.
    const { mix, slices, source, ticked, midi } = { ...structuredClone(DEFAULT_TAKE_AWAY), ...taken.settings };
    settings.value = {
      ticked: { ...DEFAULT_TAKE_AWAY.ticked, ...ticked },
      mix: { ...mix, onlyPartId: known(mix.onlyPartId) },
      slices: { ...slices, partId: known(slices.partId), options: { ...slices.options } },
      source: { partId: known(source.partId) },
      midi: { ...DEFAULT_TAKE_AWAY.midi, ...midi, partId: known(midi.partId), options: { ...midi.options } },
    };
    await run();
  }

  return {
    settings,
    rows,
    tickedRows,
    sum,
    running,
    shareOf,
    levels,
    isMeasuring,
    mixSeconds: computed(() => mix.value.seconds),
    takenBefore,
    measure,
    lowerToFit,
    run,
    cancel,
    again,
  };
});

function isCancelled(error: unknown): boolean {
  return error instanceof AppError && error.code === 'cancelled';
}
