/** Grooves on the shelf. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Groove } from '#core/project/schema.ts';
import { api, type ShelfGroove } from '../api/client.ts';

export const useGrooves = defineStore('grooves', () => {
  const list = shallowRef<readonly ShelfGroove[]>([]);

  async function refresh(): Promise<void> {
    list.value = await api.grooves();
  }

  async function keep(groove: Groove): Promise<void> {
    await api.addGroove(groove);
    await refresh();
  }

  async function remove(id: string): Promise<void> {
    await api.removeGroove(id);
    await refresh();
  }

  return { list, refresh, keep, remove };
});
