/** Which projects of this window are saved, and how the open one stands. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { ProjectDocument } from '#core/project/schema.ts';
import { api } from '../api/client.ts';
import { describeFailure } from '../api/words.ts';
import { ProjectSaver, type SaveState } from '../saving/project-saver.ts';
import { unsavedIn } from '../saving/unsaved.ts';
import { useNotices } from './notices.ts';

export const useSaver = defineStore('saver', () => {
  const notices = useNotices();
  /** How the open project stands. */
  const state = ref<SaveState>('saved');
  const revision = ref(0);
  /** Savers of this window by project: one that has something unsaved stays when another project is opened. */
  const savers = new Map<string, ProjectSaver>();
  let current: ProjectSaver | null = null;

  function follow(saver: ProjectSaver, error?: unknown): void {
    if (error !== undefined && saver.state === 'refused') notices.error(describeFailure('Saving', error));
    if (saver !== current) {
      if (saver.isSaved) savers.delete(saver.projectId);
      return;
    }
    state.value = saver.state;
    revision.value = saver.revision;
  }

  /** Opens a project: this window's own version where that is not saved yet. */
  async function open(id: string): Promise<ProjectDocument> {
    const known = savers.get(id);
    const saver = known && !known.isSaved ? known : await ProjectSaver.open(id, api, unsavedIn(localStorage));
    savers.set(id, saver);
    saver.onState = (error) => follow(saver, error);
    const left = current;
    current = saver;
    if (left && left !== saver) {
      void left.flush();
      if (left.isSaved) savers.delete(left.projectId);
    }
    follow(saver);
    return saver.document;
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

  return { state, revision, open, close, update, flush, isAllSaved, leave, retryNow, takeTheirs, keepMine };
});
