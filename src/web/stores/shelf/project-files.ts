/** Whole projects that come as one zip: as a new project, or into the one that is open. */
import { defineStore } from 'pinia';
import { diff } from '#core/document/diff.ts';
import { mergeProject } from '#core/project/commands/merge.ts';
import type { OpenedProject } from '#core/takeaway/project-zip.ts';
import { AppError } from '#core/units/errors.ts';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { inWorker } from '../../audio/bouncing.ts';
import { library } from '../../audio/services.ts';
import type { ProjectZipRequest } from '../../workers/project-zip.worker.ts';
import { COMMAND_ENV, useProject } from '../document/project.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { useShelf } from './shelf.ts';

/** Opening the file, then its sounds. */
const OPENING_SHARE = 0.1;

export const useProjectFiles = defineStore('project-files', () => {
  const project = useProject();
  const notices = useNotices();
  const shelf = useShelf();
  const work = useWork();

  /**
   * @param intoOpen its parts come into the open project
   * @returns the id of the project that it is in now; null where nothing came of it
   */
  async function bring(file: File, intoOpen: boolean): Promise<string | null> {
    const abort = new AbortController();
    const { signal } = abort;
    const workId = work.begin({ kind: 'import', name: file.name, share: 0, cancel: () => abort.abort() });
    const projectId = intoOpen ? (project.document?.id ?? null) : null;
    try {
      const worker = new Worker(new URL('../../workers/project-zip.worker.ts', import.meta.url), { type: 'module' });
      const opened = await inWorker<ProjectZipRequest, OpenedProject>(worker, { file }, () => undefined, signal);
      const problems = [...opened.problems];
      for (const [place, sound] of opened.sounds.entries()) {
        work.update(workId, { share: OPENING_SHARE + ((1 - OPENING_SHARE) * place) / opened.sounds.length });
        const problem = await bringSound(sound, file.name, signal);
        if (problem) problems.push(problem);
      }
      const id = projectId === null ? await asNew(opened) : intoIt(opened, projectId);
      if (problems.length > 0) notices.error(`${file.name}: ${problems.join('; ')}. The rest is there.`);
      await Promise.all([shelf.refreshProjects(), shelf.refreshSourcesSoon()]).catch(() => undefined);
      return id;
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') return null;
      const words = describeFailure(file.name, error);
      notices.error(words);
      work.fail(words);
      return null;
    } finally {
      work.end(workId);
    }
  }

  /** Onto the shelf, unless it is there; what it is called is a sum over its samples, so nothing can be mistaken. */
  async function bringSound(
    { id, name, file, bytes }: OpenedProject['sounds'][number],
    from: string,
    signal: AbortSignal,
  ): Promise<string | null> {
    if (shelf.sources.some((one) => one.id === id)) return null;
    const ending = file.slice(file.lastIndexOf('.'));
    try {
      const sound = new File([bytes], `${name}${ending}`);
      const { source } = await library.importFile(sound, { signal, origin: `came with ${from}` });
      return source.sourceId === id ? null : `the sound ${name} is another one than it was`;
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') throw error;
      return `the sound ${name} cannot be read`;
    }
  }

  async function asNew({ document }: OpenedProject): Promise<string> {
    const created = await api.createProject(document.name.trim() || 'A project');
    const { document: empty, revision } = await api.loadProject(created.id);
    const result = mergeProject(empty, { from: document, isWhole: true }, COMMAND_ENV);
    if (!result.ok) throw new Error(result.reason);
    await api.saveProject(created.id, {
      saveId: crypto.randomUUID(),
      baseRevision: revision,
      label: 'from a file',
      changes: diff(empty, result.document),
    });
    return created.id;
  }

  function intoIt({ document }: OpenedProject, projectId: string): string | null {
    // It belongs to the project that it was dropped on, and to no other that was opened meanwhile.
    if (project.document?.id !== projectId) {
      notices.info('The project that it was to come into is not open any more.');
      return null;
    }
    const isDone = project.run(`bring in ${document.name}`, mergeProject, { from: document, isWhole: false });
    return isDone ? projectId : null;
  }

  return { bring };
});
