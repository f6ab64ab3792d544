/** Sounds in memory: decoded, analysed and drawn from the same worker; imported to the shelf; loaded when needed. */
import type { BreakWish, FoundBreak } from '#core/analysis/breaks/find-breaks.ts';
import type { Marker } from '#core/analysis/cut.ts';
import { namedFirst, suggestTags } from '#core/analysis/name-hints.ts';
import type { LoopPoints } from '#core/analysis/loop-points.ts';
import type { SliceFacts, FrameRange } from '#core/analysis/analyse-source.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import type { PeakPyramid } from '#core/dsp/peaks.ts';
import type { MendedLevels } from '#core/formats/mend-levels.ts';
import type { FlatWish } from '#core/stretch/flatten.ts';
import type { LoopSlice } from '#core/unmix/in-loop.ts';
import { AppError } from '#core/units/errors.ts';
import type { TimedLoop } from '#core/units/loop-time.ts';
import { api, type SourceSummary } from '../api/client.ts';
import type {
  AnalysisRequest,
  ApartAsked,
  ApartResult,
  CutRequest,
  CutResult,
  EarlyReading,
  FlatResult,
  HeardSource,
  ImportedSource,
  KeepAsked,
  KeptResult,
  LoadedSource,
  SourceReading,
} from '../workers/analysis-protocol.ts';
import { WorkerClient } from '../workers/rpc.ts';
import { samplesOf, withoutRoom } from './room.ts';

/** Files above this are refused before they are read, in bytes. */
const MAX_FILE_BYTES = 1_500_000_000;

/** Samples that stay of sounds that the project does not have: about 160 MB, and more for what was heard in them. */
const KEEP_SAMPLES = 40_000_000;
/** The sounds that were asked for last stay in any case; of those that fill all the room by themselves only the last one. */
const KEEP_LATEST = 4;

export interface ImportResult {
  source: LoadedSource;
  reading: SourceReading;
  /** As the file is called. */
  name: string;
  mended: MendedLevels;
  /** The same samples lay on the shelf before, under this name, which they keep there; null for what is new. */
  shelfName: string | null;
}

export interface ImportWays {
  onProgress?: (share: number, early?: EarlyReading) => void;
  signal?: AbortSignal;
  /** It only has to be put on the shelf. */
  onRead?: () => void;
  /** Where it comes from, in words, if it is no file of somebody's. */
  origin?: string;
  /** Tags beside those that its name says. */
  moreTags?: readonly string[];
}

export class SoundLibrary {
  /** Everything loaded, by source id. */
  readonly audio = new Map<string, AudioData>();
  /** Peak levels of everything loaded, by source id. */
  readonly peaks = new Map<string, PeakPyramid>();
  /** Which sounds are not let go: those of the project. */
  isNeeded: (sourceId: string) => boolean = () => false;
  /** Called with what was let go. */
  onLetGo: (sourceIds: readonly string[]) => void = () => undefined;
  /** The one that was asked for last is the last one. */
  private readonly loaded = new Map<string, Promise<LoadedSource>>();
  private readonly readings = new Map<string, Promise<SourceReading>>();
  private worker: WorkerClient<AnalysisRequest> | null = null;

  constructor(private readonly keepSamples = KEEP_SAMPLES) {}

  private get client(): WorkerClient<AnalysisRequest> {
    this.worker ??= new WorkerClient(
      new Worker(new URL('../workers/analysis.worker.ts', import.meta.url), { type: 'module' }),
    );
    return this.worker;
  }

  /**
   * Decodes a file, reads it, and puts it on the shelf; nothing stays behind when any of it fails.
   * @param onRead called when it only has to be put on the shelf: there is time to read another one
   */
  async importFile(
    file: File,
    { onProgress, signal, onRead, origin, moreTags = [] }: ImportWays = {},
  ): Promise<ImportResult> {
    if (file.size > MAX_FILE_BYTES) throw new AppError('format.too-large', 'the file is too large');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const imported = await this.client.call<ImportedSource>(
      { kind: 'import', bytes },
      {
        transfer: [bytes.buffer],
        onProgress: (share, early) => onProgress?.(share, early as EarlyReading | undefined),
        signal,
      },
    );
    const { skyline, mended, ...source } = imported;
    const { sourceId } = source;
    try {
      const reading = await this.client.call<SourceReading>({ kind: 'analyse', sourceId }, { signal });
      const name = nameOfFile(file.name);
      const [best] = namedFirst(reading.tempoReadings, name);
      const tempo = best ? { bpm: best.bpm, bars: best.bars } : null;
      const { heard, prints } = await this.hear(sourceId);
      const tags = [...new Set([...suggestTags(name, heard !== undefined), ...moreTags])];
      onProgress?.(0.99);
      onRead?.();
      const { name: shelfName } = await api.knownSource(sourceId);
      const facts = { tempo, skyline, ...(origin && { origin }), ...(heard && { heard }) };
      // What lies there already keeps the name and tags that it was given.
      if (shelfName === null)
        await this.client.call({ kind: 'put-on-shelf', sourceId, name, facts, tags, prints }, { signal });
      this.remember(source);
      return { source, reading, name, mended, shelfName };
    } catch (error) {
      if (!this.audio.has(sourceId)) void this.client.call({ kind: 'forget', sourceId });
      throw error;
    }
  }

  /** What the shelf is searched by, of a loaded source. */
  hear(sourceId: string): Promise<HeardSource> {
    return this.client.call({ kind: 'hear', sourceId });
  }

  /** Where drums play alone in a loaded source, or anything goes round. */
  findBreaks(
    sourceId: string,
    wish: BreakWish,
    { onProgress, signal }: Pick<ImportWays, 'onProgress' | 'signal'> = {},
  ): Promise<FoundBreak[]> {
    return this.client.call(
      { kind: 'find-breaks', sourceId, wish },
      { onProgress: (share) => onProgress?.(share), signal },
    );
  }

  takeApart(sourceId: string, slices: LoopSlice[], wish: ApartAsked): Promise<ApartResult> {
    return this.client.call({ kind: 'take-apart', sourceId, slices, wish });
  }

  /** Slices taken apart as a file: the whole sound with them changed, or their layers one after another. */
  keepApart(
    sourceId: string,
    slices: LoopSlice[],
    asked: KeepAsked[],
    inPlace: boolean,
    { onProgress, signal }: Pick<ImportWays, 'onProgress' | 'signal'> = {},
  ): Promise<KeptResult> {
    return this.client.call(
      { kind: 'keep-apart', sourceId, slices, asked, inPlace },
      { onProgress: (share) => onProgress?.(share), signal },
    );
  }

  /** A range with its pitch brought to one note; null where no single note is heard in it. */
  flatten(
    sourceId: string,
    range: FrameRange,
    wish: FlatWish,
    inPlace: boolean,
    { onProgress, signal }: Pick<ImportWays, 'onProgress' | 'signal'> = {},
  ): Promise<FlatResult> {
    return this.client.call(
      { kind: 'flatten', sourceId, range, wish, inPlace },
      { onProgress: (share) => onProgress?.(share), signal },
    );
  }

  /** Loads a source from the shelf, once. */
  load(sourceId: string): Promise<LoadedSource> {
    const known = this.loaded.get(sourceId);
    this.loaded.delete(sourceId);
    const loading = known ?? this.fetchSource(sourceId);
    this.loaded.set(sourceId, loading);
    if (!known) loading.catch(() => this.loaded.delete(sourceId));
    return loading;
  }

  private async fetchSource(sourceId: string): Promise<LoadedSource> {
    const source = await this.client.call<LoadedSource>({ kind: 'load', sourceId });
    this.keep(source);
    return source;
  }

  private remember(source: LoadedSource): void {
    this.loaded.set(source.sourceId, Promise.resolve(source));
    this.keep(source);
  }

  private keep({ sourceId, sampleRate, channels, peaks }: LoadedSource): void {
    this.audio.set(sourceId, { sampleRate, channels });
    this.peaks.set(sourceId, peaks);
    this.letGo();
  }

  /** Lets sounds go that were heard long ago and are not part of the project, where there are too many. */
  private letGo(): void {
    const sizes = new Map(
      [...this.loaded.keys()].flatMap((id) => {
        const audio = this.audio.get(id);
        return audio ? [[id, samplesOf(audio)] as const] : [];
      }),
    );
    const latest = new Set(
      [...this.loaded.keys()]
        .slice(-KEEP_LATEST)
        .filter((id, place, all) => place === all.length - 1 || (sizes.get(id) ?? 0) <= this.keepSamples),
    );
    const gone = withoutRoom(sizes, (id) => this.isNeeded(id) || latest.has(id), this.keepSamples);
    for (const sourceId of gone) {
      for (const table of [this.audio, this.peaks, this.loaded, this.readings]) table.delete(sourceId);
      void this.client.call({ kind: 'forget', sourceId });
    }
    if (gone.length > 0) this.onLetGo(gone);
  }

  /** Hits, landscape and tempo of a loaded source, once. */
  reading(sourceId: string): Promise<SourceReading> {
    let reading = this.readings.get(sourceId);
    if (!reading) {
      reading = this.client.call<SourceReading>({ kind: 'analyse', sourceId });
      this.readings.set(sourceId, reading);
      reading.catch(() => this.readings.delete(sourceId));
    }
    return reading;
  }

  cut(sourceId: string, cut: CutRequest): Promise<CutResult> {
    return this.client.call({ kind: 'cut', sourceId, cut });
  }

  previewCut(sourceId: string, cut: CutRequest): Promise<Marker[]> {
    return this.client.call({ kind: 'preview-cut', sourceId, cut });
  }

  /** The lines of all bars but the first; null where bars of one length fit as well. */
  findBars(sourceId: string, loop: TimedLoop, stepTicks: number): Promise<number[] | null> {
    return this.client.call({ kind: 'find-bars', sourceId, loop, stepTicks });
  }

  trim(sourceId: string, ranges: FrameRange[], levelDb: number): Promise<FrameRange[]> {
    return this.client.call({ kind: 'trim', sourceId, ranges, levelDb });
  }

  silenceLevelDb(sourceId: string): Promise<number> {
    return this.client.call({ kind: 'silence-level', sourceId });
  }

  likeness(sourceId: string, ranges: FrameRange[]): Promise<number[][]> {
    return this.client.call({ kind: 'likeness', sourceId, ranges });
  }

  /** @param among the loop's other slices, beside which they are heard */
  describe(sourceId: string, ranges: readonly FrameRange[], among: readonly FrameRange[] = []): Promise<SliceFacts[]> {
    return this.client.call({ kind: 'describe', sourceId, ranges: [...ranges], among: [...among] });
  }

  loopPoints(sourceId: string, range: FrameRange): Promise<LoopPoints[]> {
    return this.client.call({ kind: 'loop-points', sourceId, ...range });
  }

  loopQuality(sourceId: string, range: FrameRange): Promise<Pick<LoopPoints, 'likeness' | 'levelStepDb'>> {
    return this.client.call({ kind: 'loop-quality', sourceId, ...range });
  }

  snap(sourceId: string, frame: number, reachFrames: number, toAttack: boolean): Promise<number> {
    return this.client.call({ kind: 'snap', sourceId, frame, reachFrames, toAttack });
  }
}

/** The file's name without its ending. */
export function nameOfFile(fileName: string): string {
  return (
    fileName
      .replace(/\.[^.]+$/, '')
      .trim()
      .slice(0, 200) || 'sound'
  );
}

/** Length of a shelf source in seconds. */
export function secondsOf(source: Pick<SourceSummary, 'frames' | 'sampleRate'>): number {
  return source.frames / source.sampleRate;
}
