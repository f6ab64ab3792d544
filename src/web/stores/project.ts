/**
 * The open document: commands, undo, and saving by itself. The document lives in a shallowRef, so that what did not
 * change keeps its identity; whoever wants to change it runs a command.
 */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { diff, type Diff } from '#core/project/diff.ts';
import { EMPTY_HISTORY, record, redo, undo, type History } from '#core/project/history.ts';
import type { ProjectDocument } from '#core/project/schema.ts';
import { api, ApiError } from '../api/client.ts';
import { describeFailure } from '../api/words.ts';
import { useNotices } from './notices.ts';

const SAVE_AFTER_MS = 250;
const RETRY_AFTER_MS = 2000;

const env: CommandEnv = {
  newId: () => crypto.randomUUID(),
  newSeed: () => crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1,
};

export type SaveState = 'saved' | 'saving' | 'waiting' | 'conflict' | 'failed';

interface PendingSave {
  saveId: string;
  baseRevision: number;
  label: string;
  changes: Diff;
  /** The document as it stands after this save. */
  document: ProjectDocument;
}

export const useProject = defineStore('project', () => {
  const notices = useNotices();
  const document = shallowRef<ProjectDocument | null>(null);
  const history = shallowRef<History>(EMPTY_HISTORY);
  const saveState = ref<SaveState>('saved');
  const revision = ref(0);
  const undoLabel = computed(() => history.value.past.at(-1)?.label ?? null);
  const redoLabel = computed(() => history.value.future[0]?.label ?? null);

  let savedDocument: ProjectDocument | null = null;
  let gesture: { label: string; before: ProjectDocument } | null = null;
  let pending: PendingSave | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;

  async function open(id: string): Promise<void> {
    await flush();
    const loaded = await api.loadProject(id);
    document.value = loaded.document;
    savedDocument = loaded.document;
    revision.value = loaded.revision;
    history.value = EMPTY_HISTORY;
    saveState.value = 'saved';
    gesture = null;
    pending = null;
  }

  /** Runs a command; a refusal is told to the user. Gives whether it changed the document. */
  function run<Args>(label: string, command: Command<Args>, args: Args): boolean {
    const before = document.value;
    if (!before) return false;
    const result = command(before, args, env);
    if (!result.ok) {
      notices.info(`${result.reason[0]?.toUpperCase()}${result.reason.slice(1)}.`);
      return false;
    }
    if (result.document === before) return false;
    document.value = result.document;
    if (!gesture) history.value = record(history.value, label, before, result.document);
    scheduleSave();
    return true;
  }

  /** What a command would do, without doing it. */
  function isPossible<Args>(command: Command<Args>, args: Args): boolean {
    return document.value !== null && command(document.value, args, env).ok;
  }

  /** Begins a drag or knob turn: everything until `commit` is one step. Gives false inside another such gesture. */
  function begin(label: string): boolean {
    if (!document.value || gesture) return false;
    gesture = { label, before: document.value };
    return true;
  }

  function commit(): void {
    if (!gesture || !document.value) return;
    history.value = record(history.value, gesture.label, gesture.before, document.value);
    gesture = null;
  }

  /** Ends a gesture as if it had not been. */
  function cancel(): void {
    if (!gesture) return;
    document.value = gesture.before;
    gesture = null;
    scheduleSave();
  }

  function step(move: typeof undo): void {
    commit();
    const moved = document.value && move(history.value, document.value);
    if (!moved) return;
    document.value = moved.document;
    history.value = moved.history;
    scheduleSave();
  }

  function scheduleSave(delayMs = SAVE_AFTER_MS): void {
    if (saveState.value === 'conflict') return;
    saveState.value = 'waiting';
    clearTimeout(timer);
    timer = setTimeout(() => void save(), delayMs);
  }

  async function save(): Promise<void> {
    if (saveState.value === 'saving' || saveState.value === 'conflict' || !document.value || !savedDocument) return;
    if (!pending) {
      const changes = diff(savedDocument, document.value);
      if (changes.length === 0) {
        saveState.value = 'saved';
        return;
      }
      const label = history.value.past.at(-1)?.label ?? 'change';
      pending = { saveId: crypto.randomUUID(), baseRevision: revision.value, label, changes, document: document.value };
    }
    const sending = pending;
    saveState.value = 'saving';
    try {
      const { document: after, ...request } = sending;
      const answer = await api.saveProject(after.id, request);
      revision.value = answer.revision;
      savedDocument = after;
      pending = null;
      saveState.value = 'saved';
      if (document.value !== after) scheduleSave(0);
    } catch (error) {
      onSaveError(error);
    }
  }

  function onSaveError(error: unknown): void {
    if (error instanceof ApiError && error.code === 'save.conflict') {
      saveState.value = 'conflict';
    } else if (error instanceof ApiError && error.status > 0) {
      saveState.value = 'failed';
      pending = null;
      notices.error(describeFailure('Saving', error));
    } else {
      // The same save is sent again: should the first one have arrived after all, the server knows its id.
      saveState.value = 'failed';
      clearTimeout(timer);
      timer = setTimeout(() => void save(), RETRY_AFTER_MS);
    }
  }

  /** Saves what is not saved yet, now. */
  async function flush(): Promise<void> {
    clearTimeout(timer);
    if (document.value && saveState.value !== 'conflict' && saveState.value !== 'saved') await save();
  }

  /** After a conflict: takes the version that was saved elsewhere. */
  async function takeTheirs(): Promise<void> {
    if (!document.value) return;
    const { id } = document.value;
    saveState.value = 'saved';
    await open(id);
  }

  /** After a conflict: puts this window's version on top of the other one, which stays among the revisions. */
  async function keepMine(): Promise<void> {
    if (!document.value) return;
    const theirs = await api.loadProject(document.value.id);
    savedDocument = theirs.document;
    revision.value = theirs.revision;
    pending = null;
    saveState.value = 'waiting';
    await save();
  }

  return {
    document,
    saveState,
    revision,
    undoLabel,
    redoLabel,
    open,
    run,
    isPossible,
    begin,
    commit,
    cancel,
    flush,
    takeTheirs,
    keepMine,
    undo: () => step(undo),
    redo: () => step(redo),
  };
});
