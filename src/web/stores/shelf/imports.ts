/** Sounds on their way in: one line of progress each, errors named by file, a part at the end when a project is open. */
import { defineStore } from 'pinia';
import { until } from '../frame/until.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { namedFirst } from '#core/analysis/name-hints.ts';
import { isSingleHit } from '#core/analysis/single-hit.ts';
import { foundSlices, likeliestLoop, withNearHits } from '#core/project/new-part.ts';
import { addCut, addPart, type NewCut } from '#core/project/commands/parts.ts';
import { renameProject } from '#core/project/commands/song.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { mendedWords } from '#core/formats/mend-levels.ts';
import { library } from '../../audio/services.ts';
import { folderTags } from './folders.ts';
import { keyName } from '../../canvas/key-names.ts';
import type { EarlyReading } from '../../workers/analysis-protocol.ts';
import { describeFailure } from '../../api/words.ts';
import { AppError } from '#core/units/errors.ts';
import { useCutting } from '../source/cutting.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { NEW_PROJECT_NAME, useShelf } from './shelf.ts';
import { useWork } from '../frame/work.ts';

/** Names in one message. */
const MOST_NAMED = 5;
/** A role that was heard with less confidence is said to be unsure. */
const SURE = 0.6;

export const useImports = defineStore('imports', () => {
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const shelf = useShelf();
  const cutting = useCutting();
  const work = useWork();
  /** What waits for its turn, and the project that it is to become a part of. */
  let queue: {
    file: File;
    projectId: string | null;
    intoPartId: string | null;
    replaces: boolean;
    workId: number;
    abort: AbortController;
    isBegun: boolean;
  }[] = [];
  let isImporting = false;
  /** Of those that came since the last word of it: what lay on the shelf already, by its names there. */
  let hereBefore: string[] = [];

  /** What came twice is told once, at the end. */
  function tellOfThoseHere(): void {
    const [one, ...others] = hereBefore;
    hereBefore = [];
    if (one === undefined) return;
    notices.info(
      others.length === 0
        ? `It is on the shelf already, as "${one}": the very same samples.`
        : `${others.length + 1} of them are on the shelf already: ${[one, ...others].slice(0, MOST_NAMED).join(', ')}${others.length >= MOST_NAMED ? ' …' : ''}.`,
    );
  }

  /**
   * Imports files one after another; with `asParts` each becomes a part of the open project.
   * @param intoPartId or comes onto the free keys of this one
   * @param replaces or takes the place of its loop
   */
  async function importFiles(
    files: readonly File[],
    asParts: boolean,
    intoPartId: string | null = null,
    replaces = false,
  ): Promise<void> {
    const projectId = asParts ? (project.document?.id ?? null) : null;
    const sounds = files.filter((file) => !isProjectFile(file));
    if (sounds.length < files.length) void bringProjects(files.filter(isProjectFile), projectId !== null);
    if (sounds.length === 0) return;
    for (const file of sounds) {
      const abort = new AbortController();
      const workId = work.begin({ kind: 'import', name: file.name, share: null, cancel: () => giveUp(workId) });
      queue.push({ file, projectId, intoPartId, replaces, workId, abort, isBegun: false });
    }
    if (isImporting) return;
    isImporting = true;
    try {
      // While one is put on the shelf the next is read; they come into the project in their order.
      let last: Promise<void> = Promise.resolve();
      for (let next = queue[0]; next; next = queue.find(({ isBegun }) => !isBegun)) {
        const one = next;
        one.isBegun = true;
        const before = last;
        await new Promise<void>((onRead) => {
          last = importFile(one, before, onRead).finally(() => {
            queue = queue.filter((other) => other !== one);
            work.end(one.workId);
            onRead();
          });
        });
        if (!queue.some(({ isBegun }) => !isBegun)) await last;
      }
    } finally {
      isImporting = false;
      tellOfThoseHere();
    }
  }

  /** Whole projects: what opens them is fetched when there is one. */
  async function bringProjects(files: readonly File[], intoOpen: boolean): Promise<void> {
    const { useProjectFiles } = await import('./project-files.ts');
    for (const file of files) await useProjectFiles().bring(file, intoOpen);
  }

  function giveUp(workId: number): void {
    const one = queue.find((other) => other.workId === workId);
    one?.abort.abort();
    if (!one || one.isBegun) return;
    queue = queue.filter((other) => other !== one);
    work.end(workId);
  }

  /**
   * @param before what was dropped before it comes into the project first
   * @param onRead called when it only has to be put on the shelf
   */
  async function importFile(
    { file, projectId, intoPartId, replaces, workId, abort }: (typeof queue)[number],
    before: Promise<void>,
    onRead: () => void,
  ): Promise<void> {
    work.update(workId, { share: 0 });
    const onProgress = (share: number, early?: EarlyReading) =>
      work.update(workId, { share, ...(early && { words: earlyWords(early), skyline: early.skyline }) });
    try {
      const moreTags = folderTags(file);
      const imported = await library.importFile(file, { onProgress, signal: abort.signal, onRead, moreTags });
      if (imported.shelfName !== null) hereBefore.push(imported.shelfName);
      await before;
      const mended = mendedWords(imported.mended);
      if (mended) notices.info(`${file.name}: ${mended}.`);
      // It belongs to the project that it was dropped on, and to no other that was opened meanwhile.
      if (projectId !== null && project.document?.id === projectId) {
        await addSource(imported.source.sourceId, imported.name, intoPartId, replaces);
      } else if (projectId !== null)
        notices.info(`${imported.name} is on the shelf: its project is not open any more.`);
      void shelf.refreshSourcesSoon().catch(() => undefined);
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') return;
      const words = describeFailure(file.name, error);
      notices.error(words);
      work.fail(words);
    }
  }

  /** A source cut at its hits, as it comes into a project. @returns where its cutting ended early, too */
  async function newCutOf(sourceId: string, name: string): Promise<{ newCut: NewCut; uncutFrame: number | null }> {
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
    const tempoReadings = namedFirst(reading.tempoReadings, name);
    const likeliest = likeliestLoop(tempoReadings, frames, source.sampleRate, isHit);
    const starts = cut.markers.map(({ frame }) => frame);
    const newCut = {
      source: { id: sourceId, name, sampleRate: source.sampleRate, channels: source.channels.length, frames },
      loop: likeliest && withNearHits(likeliest, starts, frames, source.sampleRate),
      tempoReadings,
      slices: foundSlices(cut.markers, cut.facts),
    };
    return { newCut, uncutFrame: cut.uncutFrame };
  }

  /**
   * Cuts a source at its hits and adds it to the open project: as a part, or onto the free keys of one.
   * @param intoPartId null: as a part of its own
   * @param replaces in the place of that part's loop
   */
  async function addSource(
    sourceId: string,
    name: string,
    intoPartId: string | null = null,
    replaces = false,
  ): Promise<void> {
    const projectId = project.document?.id;
    const { newCut, uncutFrame } = await newCutOf(sourceId, name);
    const isUnnamed = project.document?.partOrder.length === 0 && project.document.name === NEW_PROJECT_NAME;
    if (project.document?.id !== projectId) return;
    if (intoPartId !== null && project.document?.parts[intoPartId]) {
      if (replaces) await putInPlace(intoPartId, name, newCut);
      else addToPart(intoPartId, name, newCut);
      return;
    }
    let added = false;
    project.step(`add ${name}`, () => {
      added = project.run('', addPart, { name, ...newCut, adoptTempo: true }) !== null;
      // A project that nobody has named is called after its first sound.
      if (added && isUnnamed) project.run('', renameProject, { name });
    });
    if (!added) return;
    session.choosePart(project.document!.partOrder.at(-1)!);
    if (session.cut) cutting.sayWhereItEnds(uncutFrame, session.cut);
  }

  /** Another loop in the place of the one that is shown of a part; what found its like in it is told. */
  async function putInPlace(partId: string, name: string, newCut: NewCut): Promise<void> {
    const { replaceLoop } = await import('#core/project/commands/replace-loop.ts');
    const { matchSlices } = await import('#core/queries/match-slices.ts');
    const { document } = project;
    const part = document?.parts[partId];
    if (!document || !part) return;
    const cutId = session.cut?.partId === partId ? session.cut.id : part.cutOrder[0]!;
    const before = Object.values(document.cuts[cutId]!.slices).sort((a, b) => a.startFrame - b.startFrame);
    if (!project.run(`${name} in its place`, replaceLoop, { cutId, ...newCut })) return;
    const { byRole } = matchSlices(before, newCut.slices);
    const alike = byRole.filter(Boolean).length;
    const isUnsure = newCut.slices.filter(({ roleConfidence }) => roleConfidence < SURE).length;
    const words = [
      `${name} is in its place: ${alike} of ${before.length} slices found their like by role`,
      alike < before.length ? `${before.length - alike} took the place in order` : '',
      isUnsure > 0 ? `${isUnsure} of the new ones are not sure to be what they are taken for` : '',
    ];
    notices.info(`${words.filter(Boolean).join('; ')}.`);
  }

  function addToPart(partId: string, name: string, newCut: NewCut): void {
    if (!project.run(`add ${name}`, addCut, { partId, ...newCut })) return;
    const part = project.document!.parts[partId]!;
    session.choosePart(partId);
    session.showCut(part.cutOrder.at(-1)!);
    const keys = session.zones.flatMap((one) =>
      one.cut.id === part.cutOrder.at(-1) && one.keys ? [one.keys.low] : [],
    );
    const where = keys.length > 0 ? ` on the keys from ${keyName(Math.min(...keys))} on` : '';
    notices.info(`${name} lies in ${part.name}${where}.`);
  }

  /** Adds a source to a project that is about to open. */
  async function addWhenOpen(projectId: string, sourceId: string, name: string): Promise<void> {
    try {
      await until(() => project.document?.id === projectId);
      await addSource(sourceId, name);
    } catch (error) {
      notices.error(describeFailure(name, error));
    }
  }

  return { importFiles, newCutOf, addSource, addWhenOpen };
});

const isProjectFile = ({ name, type }: File) => /\.zip$/i.test(name) || type === 'application/zip';

/** What is known of a long sound while the rest of it is read. */
function earlyWords({ totalSeconds, hits, readSeconds }: EarlyReading): string {
  const length = `${Math.floor(totalSeconds / 60)} min ${Math.round(totalSeconds % 60)} s`;
  return `${length} · ${hits} hits in the first ${readSeconds} s`;
}

/** What a file dialog offers. */
export const AUDIO_FILES = 'audio/*,.wav,.flac,.mp3,.ogg,.aif,.aiff,.zip';
