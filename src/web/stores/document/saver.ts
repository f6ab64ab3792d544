/** Which projects of this window are saved, and how the open one stands. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { ProjectDocument } from '#core/document/schema.ts';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { ProjectSaver, type SaveState } from '../../saving/project-saver.ts';
import { keeping, type UnsavedStore } from '../../saving/unsaved.ts';
import { useNotices } from '../frame/notices.ts';

export const useSaver = defineStore('saver', () => {
  const notices = useNotices();
  /** How the open project stands. */
  const state = ref<SaveState>('saved');
  const revision = ref(0);
  /** Savers of this window by project: one that has something unsaved stays when another project is opened. */
  const savers = new Map<string, ProjectSaver>();
  const opening = new Map<string, Promise<ProjectSaver>>();
  let current: ProjectSaver | null = null;
  let kept: UnsavedStore | null = null;
  const unsaved = () => (kept ??= keeping.open());

  function follow(saver: ProjectSaver, error?: unknown): void {
    if (error !== undefined && saver.state === 'refused') notices.error(describeFailure('Saving', error));
    if (saver !== current) {
      if (saver.isSaved) savers.delete(saver.projectId);
      return;
    }
    state.value = saver.state;
    revision.value = saver.revision;
  }

  function watched(saver: ProjectSaver): ProjectSaver {
    savers.set(saver.projectId, saver);
    saver.onState = (error) => follow(saver, error);
    saver.onNotKept = warnOfStorage;
    return saver;
  }

  let isWarned = false;
  function warnOfStorage(): void {
    if (isWarned) return;
    isWarned = true;
    notices.error(
      'This browser has no room to keep what is not saved: leave the window open until everything is saved.',
    );
  }

  /**
   * Reads a project, in this window's own version where that is not saved yet. The one that is open stays the one that is
   * saved until {@link use} changes over.
   */
  async function open(id: string): Promise<ProjectSaver> {
    const known = savers.get(id);
    if (known && (known === current || !known.isSaved)) return known;
    // Two that took over what an earlier window has left would each send it on in their own way.
    const underWay = opening.get(id) ?? ProjectSaver.open(id, api, unsaved());
    opening.set(id, underWay);
    try {
      return await underWay;
    } finally {
      opening.delete(id);
    }
  }

  /** From here on this one is what {@link update} saves. */
  function use(saver: ProjectSaver): ProjectDocument {
    watched(saver);
    const left = current;
    current = saver;
    if (left && left !== saver) {
      void left.flush();
      if (left.isSaved) savers.delete(left.projectId);
    }
    follow(saver, saver.openingError ?? undefined);
    if (saver.openingError && saver.isSaved) {
      notices.error(
        describeFailure('What an earlier window had changed is still kept, but could not be saved', saver.openingError),
      );
    }
    saver.openingError = null;
    return saver.document;
  }

  /** Sends what windows that are gone have left of projects that nobody has open. */
  async function sendLeft(): Promise<void> {
    const ids = new Set((await unsaved().left()).map(({ projectId }) => projectId));
    for (const id of ids) {
      if (savers.has(id)) continue;
      // A project that is gone, or a server: what is kept stays kept.
      const saver = await open(id).catch(() => null);
      if (!saver || saver.isSaved || savers.has(id)) continue;
      watched(saver);
      const { name } = saver.document;
      if (saver.state === 'conflict') {
        notices.info(`"${name}" has changes that were not saved, and was changed elsewhere: open it to choose.`);
      }
    }
  }

  /** Lets the open project go; what is not saved yet is sent first. */
  async function close(): Promise<void> {
    const left = current;
    await left?.flush();
    if (current === left) current = null;
    if (left?.isSaved) savers.delete(left.projectId);
  }

  function update(document: ProjectDocument, label: string): void {
    if (current?.projectId === document.id) current.update(document, label);
  }

  async function flush(): Promise<void> {
    await current?.flush();
  }

  /** Is anything of this window unsaved, in whatever project? */
  function isAllSaved(): boolean {
    return [...savers.values()].every((saver) => saver.isSaved);
  }

  /** The page is being left. */
  function leave(): void {
    for (const saver of savers.values()) saver.leave();
  }

  /** The network is there again: nothing waits for its next turn. */
  function retryNow(): void {
    for (const saver of savers.values()) void saver.flush();
  }

  /** @returns the version that was saved elsewhere; null when it could not be had, and nothing has changed */
  async function takeTheirs(): Promise<ProjectDocument | null> {
    try {
      return (await current?.takeTheirs()) ?? null;
    } catch (error) {
      notices.error(describeFailure('Taking the other version', error));
      return null;
    }
  }

  async function keepMine(): Promise<void> {
    try {
      await current?.keepMine();
    } catch (error) {
      notices.error(describeFailure('Going on with this version', error));
    }
  }

  return {
    state,
    revision,
    open,
    use,
    sendLeft,
    close,
    update,
    flush,
    isAllSaved,
    leave,
    retryNow,
    takeTheirs,
    keepMine,
  };
});
