/** Short messages at the foot of the screen, each with at most one thing to do about it. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

export interface Notice {
  id: number;
  text: string;
  kind: 'info' | 'error';
  action?: { label: string; run: () => void };
}

const INFO_MS = 7000;
const ERROR_MS = 15000;

export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([]);
  let lastId = 0;

  function dismiss(id: number): void {
    notices.value = notices.value.filter((notice) => notice.id !== id);
  }

  function add(notice: Omit<Notice, 'id'>): void {
    const id = ++lastId;
    notices.value = [...notices.value.filter((other) => other.text !== notice.text), { ...notice, id }].slice(-4);
    setTimeout(() => dismiss(id), notice.kind === 'error' ? ERROR_MS : INFO_MS);
  }

  const info = (text: string, action?: Notice['action']) => add({ text, kind: 'info', action });
  const error = (text: string, action?: Notice['action']) => add({ text, kind: 'error', action });
  return { notices, info, error, dismiss };
});
