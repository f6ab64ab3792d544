/** Grooves on the shelf. Taking one off can be undone from the message that tells of it. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Groove } from '#core/project/schema.ts';
import { api, type ShelfGroove } from '../api/client.ts';
import { describeFailure } from '../api/words.ts';
import { useNotices } from './notices.ts';

export const useGrooves = defineStore('grooves', () => {
  const notices = useNotices();
  const list = shallowRef<readonly ShelfGroove[]>([]);
  const loaded = shallowRef(false);

  /** Does something, lists anew, and tells when it fails. */
  async function attempt(what: string, action: () => Promise<unknown>): Promise<boolean> {
    try {
      await action();
      list.value = await api.grooves();
      return (loaded.value = true);
    } catch (error) {
      notices.error(describeFailure(what, error));
      return false;
    }
  }

  const refresh = () => attempt('The grooves', async () => undefined);
  const keep = (groove: Groove) => attempt(`The groove “${groove.name}”`, () => api.addGroove(groove));

  async function rename({ id, groove }: ShelfGroove, typed: string): Promise<void> {
    const name = typed.trim();
    if (name && name !== groove.name) await attempt(groove.name, () => api.renameGroove(id, name));
  }

  async function remove({ id, groove }: ShelfGroove): Promise<void> {
    if (!(await attempt(groove.name, () => api.removeGroove(id)))) return;
    notices.info(`The groove “${groove.name}” is off the shelf; parts that use it keep it.`, {
      label: 'Undo',
      run: () => void attempt(groove.name, () => api.restoreGroove(id)),
    });
  }

  return { list, loaded, refresh, keep, rename, remove };
});
