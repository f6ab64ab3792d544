/** What takes long: everything that is running or waiting, with its progress and the way to give it up; and what failed. */
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';

export type WorkKind = 'import' | 'stretch' | 'take-away' | 'listen' | 'print' | 'find' | 'apart' | 'flatten';

/** What is said of several at once: "Importing 12 of 59". */
export const WORK_WORDS: Record<WorkKind, string> = {
  import: 'Importing',
  stretch: 'Stretching',
  'take-away': 'Writing',
  listen: 'Measuring',
  print: 'Printing',
  find: 'Looking through',
  apart: 'Taking apart',
  flatten: 'Making flat',
};

export interface Work {
  id: number;
  kind: WorkKind;
  name: string;
  /** 0..1; null while it waits for its turn. */
  share: number | null;
  /** What is known already. */
  words?: string;
  /** A first picture of it. */
  skyline?: readonly number[];
  /** Null: it goes by so fast, or on and on, that there is nothing to give up. */
  cancel: (() => void) | null;
}

export interface Failure {
  id: number;
  words: string;
}

export const useWork = defineStore('work', () => {
  const list = shallowRef<readonly Work[]>([]);
  /** What failed, until it has been read. */
  const failures = shallowRef<readonly Failure[]>([]);
  /** How many of a kind have been begun and ended since none was left. */
  const counts = shallowRef<Readonly<Partial<Record<WorkKind, { done: number; total: number }>>>>({});
  let lastId = 0;

  function count(kind: WorkKind, change: { done?: number; total?: number }): void {
    const { done, total } = counts.value[kind] ?? { done: 0, total: 0 };
    const next = { done: done + (change.done ?? 0), total: total + (change.total ?? 0) };
    const isOver = !list.value.some((one) => one.kind === kind);
    counts.value = { ...counts.value, [kind]: isOver && change.done ? { done: 0, total: 0 } : next };
  }

  function begin(work: Omit<Work, 'id'>): number {
    const id = ++lastId;
    list.value = [...list.value, { ...work, id }];
    count(work.kind, { total: 1 });
    return id;
  }

  function update(id: number, change: Partial<Omit<Work, 'id' | 'kind'>>): void {
    list.value = list.value.map((one) => (one.id === id ? { ...one, ...change } : one));
  }

  function end(id: number): void {
    const ended = list.value.find((one) => one.id === id);
    if (!ended) return;
    list.value = list.value.filter((one) => one.id !== id);
    count(ended.kind, { done: 1 });
  }

  function fail(words: string): void {
    failures.value = [...failures.value, { id: ++lastId, words }];
  }

  /** The failures have been read. */
  function forgetFailures(): void {
    failures.value = [];
  }

  function cancelAll(): void {
    for (const { cancel } of [...list.value].reverse()) cancel?.();
  }

  /** One line for all of it; null while nothing runs. */
  const summary = computed(() => {
    const first = list.value.find(({ share }) => share !== null) ?? list.value[0];
    if (!first) return null;
    const { done, total } = counts.value[first.kind]!;
    const words =
      total > 1 ? `${WORK_WORDS[first.kind]} ${done + 1} of ${total}` : `${WORK_WORDS[first.kind]} ${first.name}`;
    const share = (done + (first.share ?? 0)) / Math.max(1, total);
    return { first, words, share, canCancel: list.value.some(({ cancel }) => cancel) };
  });

  return { list, failures, summary, begin, update, end, fail, forgetFailures, cancelAll };
});
