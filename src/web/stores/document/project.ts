/**
 * The open document: commands, undo, gestures, and earlier versions to look at. The document lives in a shallowRef, so
 * that what did not change keeps its identity; whoever wants to change it runs a command.
 */
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { EMPTY_HISTORY, record, redo, undo, type History, type HistoryStep } from '#core/document/history.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { fetchChecks, problemOfEdit } from './checks.ts';
import { Gesture } from './gesture.ts';
import { setValue, type Owner, type SetValueArgs } from '#core/project/commands/values.ts';
import { whenQuiet } from '../../when-quiet.ts';
import { useNotices } from '../frame/notices.ts';
import { useSaver } from './saver.ts';

export const COMMAND_ENV: CommandEnv = {
  newId: () => crypto.randomUUID(),
  newSeed: () => crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1 || 1,
};

/** Ids tell nobody anything. */
const withoutIds = (words: string): string => words.replace(/\.[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}/g, '');

/** What a command has done to the document. */
export interface Change {
  /** Ids of the records that it made, in their order. */
  made: readonly string[];
}

/** An earlier version that is looked at and heard, in place of the document. */
export interface Viewing {
  versionId: string;
  label: string;
  document: ProjectDocument;
}

export const useProject = defineStore('project', () => {
  const notices = useNotices();
  const saver = useSaver();
  whenQuiet(fetchChecks);
  const own = shallowRef<ProjectDocument | null>(null);
  const viewing = shallowRef<Viewing | null>(null);
  /** What is shown and heard. */
  const document = computed(() => viewing.value?.document ?? own.value);
  const history = shallowRef<History>(EMPTY_HISTORY);
  const undoLabel = computed(() => history.value.past.at(-1)?.label ?? null);
  const redoLabel = computed(() => history.value.future[0]?.label ?? null);
  /** Counts up with every document that is asked for. */
  let openCount = 0;
  let gesture: Gesture | null = null;
  /** Takes what settings are set to, where that is to go elsewhere: into a lane, while one is written. */
  let caught: ((args: SetValueArgs) => boolean) | null = null;
  /** What a setting is shown as meanwhile. */
  const shownInstead = shallowRef<((owner: Owner, param: string) => number | null) | null>(null);
  /** The last step, if others may still join it, and the document before it. */
  let joined: { joins: string; before: ProjectDocument; step: HistoryStep } | null = null;

  /** Opens a project in place of the open one, which stays open, and can be changed, until the other one is there. */
  async function open(id: string): Promise<void> {
    const ticket = ++openCount;
    if (own.value?.id === id) return;
    const opened = await saver.open(id);
    // Another one may have been asked for meanwhile.
    if (ticket !== openCount) return;
    gesture?.commit();
    show(saver.use(opened));
  }

  /** Closes the open project: nothing is open then. */
  async function close(): Promise<void> {
    gesture?.commit();
    openCount++;
    await saver.close();
    own.value = null;
    viewing.value = null;
    history.value = EMPTY_HISTORY;
  }

  function show(opened: ProjectDocument): void {
    own.value = opened;
    viewing.value = null;
    history.value = EMPTY_HISTORY;
    gesture = null;
  }

  function put(next: ProjectDocument, label: string): void {
    own.value = next;
    saver.update(next, label);
  }

  /** The document that a command makes of another one; null when it refuses, which is told to the user. */
  function tried<Args>(
    before: ProjectDocument,
    command: Command<Args>,
    args: Args,
  ): { document: ProjectDocument; made: string[] } | null {
    const made: string[] = [];
    const noted: CommandEnv = { ...COMMAND_ENV, newId: () => made[made.push(COMMAND_ENV.newId()) - 1]! };
    const result = command(before, args, noted);
    if (!result.ok) {
      notices.info(`${result.reason[0]?.toUpperCase()}${result.reason.slice(1)}.`);
      return null;
    }
    const problem = problemOfEdit(before, result.document);
    if (problem === null) return { document: result.document, made };
    notices.error(`Not done, and nothing is changed: the project could not be saved with it (${withoutIds(problem)}).`);
    return null;
  }

  /**
   * Runs a command; a refusal is told to the user. Gives what it made; null where it did not change the document.
   * @param joins names what it belongs to: if the last step belongs to that, too, they become one step
   */
  function run<Args>(label: string, command: Command<Args>, args: Args, joins?: string): Change | null {
    if (viewing.value) {
      notices.info('This is an earlier version: go back to it, or close it, to change something.');
      return null;
    }
    const before = own.value;
    if ((command as unknown) === setValue && caught?.(args as unknown as SetValueArgs)) return null;
    const after = before && tried(before, command, args);
    if (!before || !after || after.document === before) return null;
    put(after.document, gesture?.label ?? label);
    if (!gesture) note(label, before, after.document, joins);
    return { made: after.made };
  }

  /** Adds a step to the history, or makes the last one longer. */
  function note(label: string, before: ProjectDocument, after: ProjectDocument, joins?: string): void {
    const { past } = history.value;
    const isMore = joins !== undefined && joined?.joins === joins && joined.step === past.at(-1);
    const from = isMore ? joined!.before : before;
    history.value = record(isMore ? { past: past.slice(0, -1), future: [] } : history.value, label, from, after);
    const step = history.value.past.at(-1);
    // What has come back to where it began is no step: the one before it is another matter.
    const isStep = history.value.past.length > past.length - (isMore ? 1 : 0);
    joined = joins !== undefined && isStep ? { joins, before: from, step: step! } : null;
  }

  /**
   * @param taker tells whether it has taken what a setting was set to
   * @param shown what that is shown as while it is taken; null: as it is
   */
  function catchValues(
    taker: (args: SetValueArgs) => boolean,
    shown: (owner: Owner, param: string) => number | null,
  ): void {
    caught = taker;
    shownInstead.value = shown;
  }

  /** What is done in a gesture from now on is another step; the gesture goes on. */
  function splitGesture(): void {
    gesture?.split();
  }

  /** What a command would do, without doing it. */
  function isPossible<Args>(command: Command<Args>, args: Args): boolean {
    return own.value !== null && !viewing.value && command(own.value, args, COMMAND_ENV).ok;
  }

  /**
   * Begins a drag or knob turn: everything until it is committed is one step. One that is still open is committed first;
   * null where nothing can be changed.
   */
  function begin(label: string): Gesture | null {
    gesture?.commit();
    const opened = own.value;
    if (!opened || viewing.value) return null;
    let before = opened;
    const take = () => {
      if (own.value) history.value = record(history.value, label, before, own.value);
    };
    const begun: Gesture = new Gesture(label, {
      commit: (joins) => {
        gesture = null;
        const last = history.value.past.at(-1);
        take();
        const made = history.value.past.at(-1);
        joined = joins !== undefined && made !== last ? { joins, before, step: made! } : null;
      },
      split: () => {
        take();
        before = own.value ?? before;
      },
      cancel: () => {
        gesture = null;
        put(before, label);
      },
      rewind: () => {
        own.value = before;
      },
      replay: (command, args) => {
        const after = tried(before, command, args);
        if (after) put(after.document, label);
      },
    });
    gesture = begun;
    return begun;
  }

  /** Runs several commands as one step; within a gesture they belong to that. */
  function step(label: string, commands: () => void): void {
    if (gesture) {
      commands();
      return;
    }
    const begun = begin(label);
    commands();
    begun?.commit();
  }

  function move(direction: typeof undo): void {
    if (viewing.value) return;
    // In the middle of a drag, undo takes back the drag.
    if (gesture) {
      gesture.cancel();
      if (direction === undo) return;
    }
    const moved = own.value && direction(history.value, own.value);
    if (!moved) return;
    history.value = moved.history;
    put(moved.document, direction === undo ? 'undo' : 'redo');
  }

  /** Shows an earlier version, to be looked at and heard; null closes it. */
  function view(version: Viewing | null): void {
    gesture?.commit();
    viewing.value = version;
  }

  /** The version that is looked at becomes the document: a step like any other, which can be undone. */
  function goBack(): void {
    const version = viewing.value;
    const before = own.value;
    if (!version || !before) return;
    viewing.value = null;
    const label = `back to ${version.label}`.slice(0, 200);
    put(version.document, label);
    history.value = record(history.value, label, before, version.document);
  }

  async function takeTheirs(): Promise<void> {
    const theirs = await saver.takeTheirs();
    if (!theirs) return;
    show(theirs);
    notices.info('Your version is kept: it stands among the versions.');
  }

  return {
    document,
    viewing,
    history,
    undoLabel,
    redoLabel,
    open,
    close,
    run,
    isPossible,
    catchValues,
    splitGesture,
    /** Does a hand hold something? */
    isHeld: () => gesture !== null,
    /** Is the last step what was named so, and nothing held since? What joins it makes no step of its own. */
    canJoin: (joins: string) =>
      gesture === null && joined?.joins === joins && joined.step === history.value.past.at(-1),
    shownInstead,
    begin,
    step,
    view,
    goBack,
    takeTheirs,
    keepMine: saver.keepMine,
    flush: saver.flush,
    saveState: computed(() => saver.state),
    undo: () => move(undo),
    redo: () => move(redo),
  };
});
