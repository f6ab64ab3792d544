/** Named things of the shelf, of one kind. Taking one off can be undone from the message that tells of it. */
import { shallowRef } from 'vue';
import type { ShelfItem } from '#core/api/shelf.ts';
import type { RecordKindName, RecordOf } from '#core/shelf/kinds.ts';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { whenBack } from '../frame/when-back.ts';

/**
 * What every store of such things is made of.
 * @param keptBy what keeps one that is taken off: "parts that use it"
 */
export function shelfRecords<Name extends RecordKindName>(kind: Name, keptBy: string) {
  const notices = useNotices();
  const list = shallowRef<readonly ShelfItem<Name>[]>([]);
  const loaded = shallowRef(false);

  async function listAnew(): Promise<void> {
    list.value = await api.records(kind);
  }
  whenBack(async () => loaded.value && (await listAnew()));

  /** Does something, lists anew, and tells when it fails. */
  async function attempt(what: string, action: () => Promise<unknown>): Promise<boolean> {
    try {
      await action();
      await listAnew();
      return (loaded.value = true);
    } catch (error) {
      notices.error(describeFailure(what, error));
      return false;
    }
  }

  const refresh = () => attempt(`The ${kind}s`, async () => undefined);
  const add = (name: string, record: RecordOf<Name>) =>
    attempt(`The ${kind} “${name}”`, () => api.addRecord(kind, record));

  async function rename({ id, name }: ShelfItem<Name>, typed: string): Promise<void> {
    const wanted = typed.trim();
    if (wanted && wanted !== name) await attempt(name, () => api.renameRecord(kind, id, wanted));
  }

  async function remove({ id, name }: ShelfItem<Name>): Promise<void> {
    if (!(await attempt(name, () => api.removeRecord(kind, id)))) return;
    notices.info(`The ${kind} “${name}” is off the shelf; ${keptBy} keep it.`, {
      label: 'Undo',
      run: () => void attempt(name, () => api.restoreRecord(kind, id)),
    });
  }

  return { list, loaded, refresh, add, rename, remove };
}
