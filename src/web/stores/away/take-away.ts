/**
 * What leaves the project as files: rows that are ticked or not, each with its settings, the files it will give and how
 * large they will be; made one after another in workers, and handed over as one file.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { MixLevels } from '#core/analysis/loudness.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import { midiSong } from '#core/takeaway/midi-song.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { stemsDocument, stemsOf } from '#core/queries/stems.ts';
import { AppError } from '#core/units/errors.ts';
import { bounceInWorker, inWorker, planSlices, planToBounce } from '../../audio/bouncing.ts';
import { saveFile } from '../../audio/save-file.ts';
import { ENGINE_URL, library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import type { ExportRequest, ExportResult, NamedFile } from '../../workers/export.worker.ts';
import { unlike } from './unlike.ts';
import { useNotices } from '../frame/notices.ts';
import { usePlanSender } from '../sound/plan-sender.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import {
  DEFAULT_TAKE_AWAY,
  factsOfCut,
  mixName,
  mixRow,
  mixRange,
  mixSeconds,
  ROW_IDS,
  slicesInOrder,
  slicesRow,
  slicesToWrite,
  sourceRow,
  togetherName,
  type RowId,
  type TakeAwaySettings,
} from './take-away-rows.ts';
import {
  instrumentFolder,
  instrumentOf,
  instrumentRow,
  pageFileName,
  pageRow,
  projectFileName,
  projectRow,
  stemNames,
  stemsRow,
} from './more-rows.ts';
import { midiRow } from './midi-row.ts';
import { NO_ROW, type RowSummary } from './row-summary.ts';
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
  /** How loud each stem was, when they were made last. */
  const stemPeaks = shallowRef<{ name: string; peakDb: number }[]>([]);
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

  const hasParts = computed(() => (document.value?.partOrder.length ?? 0) > 0);
  const range = computed(() => mixRange(document.value!, settings.value.mix, transport.roundTicks()));
  const mix = computed<RowSummary>(() =>
    hasParts.value ? mixRow(document.value!, settings.value.mix, range.value) : NO_ROW,
  );
  const stems = computed<RowSummary>(() =>
    hasParts.value
      ? stemsRow(
          document.value!,
          settings.value.stems,
          mixSeconds(document.value!, range.value),
          settings.value.mix.sampleRate,
        )
      : NO_ROW,
  );
  const instrument = computed<RowSummary>(() => {
    const part = partOf(settings.value.instrument.partId);
    return part ? instrumentRow(document.value!, part, settings.value.instrument) : NO_ROW;
  });
  const page = computed<RowSummary>(() => (hasParts.value ? pageRow(document.value!) : NO_ROW));
  const wholeProject = computed<RowSummary>(() => (hasParts.value ? projectRow(document.value!, true) : NO_ROW));
  /** The slices that are written of a part: all, or those that are chosen on the bench. */
  function slicesOf(part: Part) {
    const { onlySelected, order } = settings.value.slices;
    return slicesInOrder(document.value!, part, onlySelected ? new Set(session.sliceIds) : null, order);
  }
  const slices = computed<RowSummary>(() => {
    const part = partOf(settings.value.slices.partId);
    if (!document.value || !part) return NO_ROW;
    const isLoaded = part.cutOrder.every((cutId) => audioOf(cutId) !== undefined);
    return slicesRow(document.value, part, slicesOf(part), settings.value.slices, isLoaded);
  });
  const source = computed<RowSummary>(() => {
    const part = partOf(settings.value.source.partId);
    if (!document.value || !part) return NO_ROW;
    const cutId = cutIdOf(part);
    const { ending } = settings.value.source;
    return sourceRow(document.value, part, cutId, ending, audioOf(cutId) !== undefined);
  });
  const notes = computed(() => (document.value ? midiSong(document.value, settings.value.midi) : null));
  const midi = computed<RowSummary>(() =>
    document.value && notes.value && document.value.partOrder.length > 0
      ? midiRow(document.value, settings.value.midi, notes.value)
      : NO_ROW,
  );
  const rows = computed<Record<RowId, RowSummary>>(() => ({
    mix: mix.value,
    stems: stems.value,
    instrument: instrument.value,
    project: wholeProject.value,
    page: page.value,
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

  const planOf = (from: ProjectDocument) =>
    planToBounce(from, settings.value.mix.onlyPartId ?? undefined, settings.value.mix.sampleRate);
  const exportWorker = () => new Worker(new URL('../../workers/export.worker.ts', import.meta.url), { type: 'module' });

  /** Renders the mix only to know how loud it is; what was measured of an earlier state is forgotten. */
  async function measure(): Promise<void> {
    const from = document.value;
    if (!from || isMeasuring.value || running.value || !hasParts.value || range.value.lengthTicks === 0) return;
    isMeasuring.value = true;
    const measuring = new AbortController();
    const workId = work.begin({ kind: 'listen', name: 'the mix', share: 0, cancel: () => measuring.abort() });
    try {
      const plan = await planOf(from);
      const { ringOut } = settings.value.mix;
      const result = await bounceInWorker(
        { plan, ...range.value, encoding: null, ringOut },
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

  /** Brings all parts nearer to a loudness, by as much each. In one step. */
  function bringToLufs(lufs: number): void {
    if (!levels.value || !document.value) return;
    const by = lufs - levels.value.loudnessLufs;
    const owners = Object.values(document.value.parts).map((part): Owner => ({ kind: 'channel', id: part.channelId }));
    project.run(`to ${lufs} LUFS`, setValue, { owners, param: 'gainDb', change: { by } });
  }

  /** Lowers all parts by as much as it takes to peak below full scale. In one step. */
  function lowerToFit(): void {
    if (!levels.value || !document.value) return;
    const by = -(levels.value.truePeakDb + HEADROOM_DB);
    const owners = Object.values(document.value.parts).map((part): Owner => ({ kind: 'channel', id: part.channelId }));
    project.run(`lower by ${(-by).toFixed(1)} dB`, setValue, { owners, param: 'gainDb', change: { by } });
  }

  async function makeMix(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const { encoding, ringOut } = settings.value.mix;
    const plan = await planOf(document.value!);
    const name = mixName(document.value!, settings.value.mix);
    const result = await bounceInWorker({ plan, ...range.value, encoding, ringOut }, onProgress, signal);
    levels.value = result.levels;
    return [{ name, file: result.file! }];
  }

  async function makeStems(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const { encoding } = settings.value.stems;
    const from = stemsDocument(document.value!, settings.value.stems);
    const stems = stemsOf(from, settings.value.stems.byDrum);
    const names = stemNames(from, settings.value.stems);
    const plan = await planToBounce(from, undefined, settings.value.mix.sampleRate);
    const { ringOut } = settings.value.mix;
    const request = { plan, ...range.value, encoding, ringOut, stems, onlyStems: true };
    const result = await bounceInWorker(request, onProgress, signal);
    const made = result.stems.map((stem, place) => ({ ...stem, ...stems[place]!, fileName: names[place]! }));
    // Drums that are never struck are no files.
    const heard = made.filter(({ only, peakDb }) => !only || peakDb > -Infinity);
    stemPeaks.value = heard.map(({ name, peakDb }) => ({ name, peakDb }));
    return heard.map(({ fileName, file }) => ({ name: fileName, file }));
  }

  async function makePage(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const from = JSON.parse(JSON.stringify(document.value)) as ProjectDocument;
    const engineUrl = new URL(ENGINE_URL, location.href).href;
    const file = await inExportWorker({ kind: 'page', document: from, engineUrl }, signal, onProgress);
    return [{ name: pageFileName(from), file }];
  }

  /** @returns the file; what of it could not be had is told */
  async function inExportWorker(
    request: ExportRequest,
    signal: AbortSignal,
    onProgress: (share: number) => void,
  ): Promise<Blob> {
    const { file, missing } = await inWorker<ExportRequest, ExportResult>(exportWorker(), request, onProgress, signal);
    if (missing.length > 0)
      notices.error(`These sounds could not be had and are missing in the file: ${missing.join(', ')}.`);
    return file;
  }

  async function makeInstrument(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const part = partOf(settings.value.instrument.partId)!;
    const instrument = instrumentOf(document.value!, part, settings.value.instrument);
    const name = safeFileName(part.name, 'part');
    const { ending } = settings.value.instrument;
    const request: ExportRequest = { kind: 'instrument', name, instrument, folder: instrumentFolder(part), ending };
    const file = await inExportWorker(request, signal, onProgress);
    if (instrument.unsaid.length > 0) notices.info(`SFZ cannot say all of it: ${instrument.unsaid.join('; ')}.`);
    return [{ name: `${name} instrument.zip`, file }];
  }

  async function makeProject(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const from = JSON.parse(JSON.stringify(document.value)) as ProjectDocument;
    const file = await inExportWorker({ kind: 'project', document: from }, signal, onProgress);
    return [{ name: projectFileName(from), file }];
  }

  const plainAudio = (cutId: string) => {
    const { sampleRate, channels } = audioOf(cutId)!;
    return { sampleRate, channels };
  };

  async function makeSlices(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const from = document.value!;
    const part = partOf(settings.value.slices.partId)!;
    const { asSounding } = settings.value.slices;
    const options = { ...settings.value.slices.options };
    const named = { sourceName: part.name, options };
    const request: ExportRequest = asSounding
      ? { kind: 'sounding', plans: await planSlices(from, part, slicesOf(part), options.sampleRate), ...named }
      : {
          kind: 'slices',
          sounds: slicesOf(part).map(({ cutId, slice }) => ({ audio: plainAudio(cutId), slices: [slice] })),
          ...named,
        };
    const file = await inExportWorker(request, signal, onProgress);
    return [{ name: options.together ? togetherName(part) : `${safeFileName(part.name, 'slices')} slices.zip`, file }];
  }

  async function makeSource(signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const part = partOf(settings.value.source.partId)!;
    const cutId = cutIdOf(part);
    const { loop } = document.value!.cuts[cutId]!;
    const request: ExportRequest = {
      kind: 'source',
      ending: settings.value.source.ending,
      audio: plainAudio(cutId),
      slices: slicesToWrite(document.value!, cutId, null),
      loop: loop && { startFrame: loop.startFrame, endFrame: loop.endFrame },
      facts: factsOfCut(document.value!, cutId),
    };
    return [{ name: source.value.fileName, file: await inExportWorker(request, signal, onProgress) }];
  }

  async function makeMidi(): Promise<NamedFile[]> {
    const { writeMidiFile } = await import('#core/formats/midi-file.ts');
    const bytes = writeMidiFile(notes.value!, settings.value.midi.options);
    return [{ name: midi.value.fileName, file: new Blob([bytes], { type: 'audio/midi' }) }];
  }

  function make(row: RowId, signal: AbortSignal, onProgress: (share: number) => void): Promise<NamedFile[]> {
    const makers = {
      mix: makeMix,
      stems: makeStems,
      instrument: makeInstrument,
      project: makeProject,
      page: makePage,
      midi: makeMidi,
      slices: makeSlices,
      source: makeSource,
    };
    return makers[row](signal, onProgress);
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
      const made: NamedFile[] = [];
      for (const [index, row] of ids.entries()) {
        running.value = { row, share: 0 };
        const onProgress = (share: number) => {
          running.value = { row, share };
          work.update(workId, { share: (index + share) / ids.length });
        };
        made.push(...(await make(row, signal, onProgress)));
      }
      const file = made.length === 1 ? made[0]! : await pack(from.name, made, signal);
      saveFile(file.name, file.file);
      const taken = { at: Date.now(), fileName: file.name, bytes: file.file.size, rows: ids, settings: remembered };
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

  async function pack(name: string, files: NamedFile[], signal: AbortSignal): Promise<NamedFile> {
    const onProgress = (share: number) => (running.value = { row: 'pack', share });
    onProgress(0);
    const file = await inExportWorker({ kind: 'pack', files: unlike(files) }, signal, onProgress);
    return { name: `${safeFileName(name, 'project')}.zip`, file };
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
    const {
      mix,
      stems: ofStems,
      instrument: ofInstrument,
      slices,
      source,
      ticked,
      midi,
    } = {
      ...structuredClone(DEFAULT_TAKE_AWAY),
      ...taken.settings,
    };
    settings.value = {
      ticked: { ...DEFAULT_TAKE_AWAY.ticked, ...ticked },
      mix: { ...DEFAULT_TAKE_AWAY.mix, ...mix, onlyPartId: known(mix.onlyPartId) },
      stems: { ...ofStems },
      instrument: { ...ofInstrument, partId: known(ofInstrument.partId) },
      slices: { ...DEFAULT_TAKE_AWAY.slices, ...slices, partId: known(slices.partId), options: { ...slices.options } },
      source: { ...DEFAULT_TAKE_AWAY.source, ...source, partId: known(source.partId) },
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
    stemPeaks,
    isMeasuring,
    bringToLufs,
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
