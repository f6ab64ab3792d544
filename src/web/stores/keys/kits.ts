/** Kits on the shelf: kept from parts, loaded into others. */
import { defineStore } from 'pinia';
import type { ShelfItem } from '#core/api/shelf.ts';
import { addKit, replaceByKit } from '#core/project/commands/kits.ts';
import { kitOf } from '#core/project/kit-of.ts';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { shelfRecords } from '../shelf/shelf-records.ts';

export const useKits = defineStore('kits', () => {
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const { add, ...records } = shelfRecords('kit', 'parts that it was loaded into');

  /** Keeps what a part has on its keys. */
  async function keep(partId: string): Promise<void> {
    const part = project.document?.parts[partId];
    if (!part) return;
    const kit = kitOf(project.document!, part, part.name);
    if (await add(part.name, kit)) notices.info(`The kit “${part.name}” is on the shelf.`);
  }

  /** Loads a kit as a part of the open project, or in the place of what a part has on its keys. */
  async function load({ id, name }: ShelfItem<'kit'>, intoPartId: string | null = null): Promise<void> {
    if (!project.document) return;
    try {
      const kit = await api.loadRecord('kit', id);
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

  return { ...records, keep, load };
});
