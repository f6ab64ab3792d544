/** Kits on the shelf: kept from parts, loaded into others. Taking one off can be undone from the message that tells of it. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { KitSummary } from '#core/api/kits.ts';
import { addKit, replaceByKit } from '#core/project/commands/kits.ts';
import { kitOf } from '#core/project/kit-of.ts';
import { api } from '../api/client.ts';
import { describeFailure } from '../api/words.ts';
import { library } from '../audio/services.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';

export const useKits = defineStore('kits', () => {
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const list = shallowRef<readonly KitSummary[]>([]);
  const loaded = shallowRef(false);

  /** Does something, lists anew, and tells when it fails. */
  async function attempt(what: string, action: () => Promise<unknown>): Promise<boolean> {
    try {
      await action();
      list.value = await api.kits();
      return (loaded.value = true);
    } catch (error) {
      notices.error(describeFailure(what, error));
      return false;
    }
  }

  const refresh = () => attempt('The kits', async () => undefined);

  /** Keeps what a part has on its keys. */
  async function keep(partId: string): Promise<void> {
    const part = project.document?.parts[partId];
    if (!part) return;
    const kit = kitOf(project.document!, part, part.name);
    if (await attempt(part.name, () => api.addKit(kit))) notices.info(`The kit “${part.name}” is on the shelf.`);
  }

  /** Loads a kit as a part of the open project, or in the place of what a part has on its keys. */
  async function load({ id, name }: KitSummary, intoPartId: string | null = null): Promise<void> {
    if (!project.document) return;
    try {
      const kit = await api.loadKit(id);
      await Promise.all(Object.keys(kit.sources).map((sourceId) => library.load(sourceId)));
      const isDone =
        intoPartId === null
          ? project.run(`kit ${name}`, addKit, { kit })
          : project.run(`kit ${name}`, replaceByKit, { partId: intoPartId, kit });
      if (isDone) session.choosePart(intoPartId ?? project.document.partOrder.at(-1)!);
    } catch (error) {
      notices.error(describeFailure(name, error));
    }
  }

  async function rename({ id, name }: KitSummary, typed: string): Promise<void> {
    const wanted = typed.trim();
    if (wanted && wanted !== name) await attempt(name, () => api.renameKit(id, wanted));
  }

  async function remove({ id, name }: KitSummary): Promise<void> {
    if (!(await attempt(name, () => api.removeKit(id)))) return;
    notices.info(`The kit “${name}” is off the shelf; parts that it was loaded into keep it.`, {
      label: 'Undo',
      run: () => void attempt(name, () => api.restoreKit(id)),
    });
  }

  return { list, loaded, refresh, keep, load, rename, remove };
});
