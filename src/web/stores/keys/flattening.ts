/** A sound whose pitch glides or wavers, brought to one note: an instrument over the keys, or in its place in the loop. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { FLAT_ROWS, type FlatValues } from '#core/params/flat-rows.ts';
import { fullValues } from '#core/params/row.ts';
import { swapSource } from '#core/project/commands/swap-source.ts';
import { spreadZone } from '#core/project/commands/lay.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import { setValue } from '#core/project/commands/values.ts';
import { freeRange } from '#core/queries/free-keys.ts';
import { zonesOfPart, type PlacedZone } from '#core/queries/zones.ts';
import { AppError } from '#core/units/errors.ts';
import { describeFailure } from '../../api/words.ts';
import { shelveMade } from '../../audio/made-source.ts';
import { library } from '../../audio/services.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useShelf } from '../shelf/shelf.ts';
import { useLaying } from './laying.ts';

/** So many keys up and down, where nothing else lies. */
const SPREAD_KEYS = 24;

export type FlatPlace = 'keys' | 'in-place';

export const useFlattening = defineStore('flattening', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const work = useWork();
  const shelf = useShelf();
  const laying = useLaying();
  const values = ref<FlatValues>(fullValues(FLAT_ROWS, {}));
  /** Null: the key nearest to what is heard. */
  const note = ref<number | null>(null);
  const place = ref<FlatPlace>('keys');

  async function flatten({ at, cut, zone }: PlacedZone): Promise<void> {
    const document = project.document;
    const source = document?.sources[cut.sourceId];
    if (!document || !source) return;
    const what = at.index < 0 ? source.name : `${at.label} of ${source.name}`;
    const isInPlace = place.value === 'in-place';
    const abort = new AbortController();
    const workId = work.begin({ kind: 'flatten', name: what, share: 0, cancel: () => abort.abort() });
    const onProgress = (share: number) => work.update(workId, { share });
    try {
      await library.load(cut.sourceId);
      const range = { startFrame: at.startFrame, endFrame: at.endFrame };
      const wish = { ...values.value, note: note.value };
      const made = await library.flatten(cut.sourceId, range, wish, isInPlace, {
        onProgress: (share) => onProgress(0.8 * share),
        signal: abort.signal,
      });
      if (!made) {
        notices.info(`No single note is heard in ${what}: a voice, a bass or another single line can be made flat.`);
        return;
      }
      const flat = await shelveMade(made.wav, `${what}, on ${keyName(Math.round(made.note))}`, {
        onProgress: (share) => onProgress(0.8 + 0.2 * share),
        signal: abort.signal,
        origin: `${what}, its pitch made flat`,
      });
      void shelf.refreshSourcesSoon().catch(() => undefined);
      if (project.document?.id !== document.id || !project.document.parts[zone.partId]) {
        notices.info(`${flat.name} is on the shelf: its part is not there any more.`);
        return;
      }
      if (isInPlace) {
        project.run('make the pitch flat', swapSource, { cutId: cut.id, source: flat });
        return;
      }
      const [facts] = await library.describe(flat.id, [{ startFrame: 0, endFrame: flat.frames }]);
      const midi = Math.round(made.note);
      const tuned = { midi, cents: Math.round(100 * (made.note - midi)) };
      const picked = {
        ...facts!,
        ...tuned,
        startFrame: 0,
        endFrame: flat.frames,
        strength: 1,
        name: `${keyName(midi)} flat`,
      };
      project.step('make the pitch flat', () => putOverKeys(zone.partId, { source: flat, picked, midi }));
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') return;
      const words = describeFailure(`Making ${what} flat`, error);
      notices.error(words);
      work.fail(words);
    } finally {
      work.end(workId);
    }
  }

  interface NewSound {
    source: Parameters<typeof pickRanges>[1]['source'];
    picked: Parameters<typeof pickRanges>[1]['ranges'][number];
    midi: number;
  }

  /** One clip over the keyboard: each key as long as the clip, what happens inside at its time. */
  function putOverKeys(partId: string, { source, picked, midi }: NewSound): void {
    const partName = project.document!.parts[partId]!.name;
    if (!project.run('', pickRanges, { partId, partName, source, ranges: [picked], key: null })) return;
    const zoneId = project.document!.parts[partId]!.zoneOrder.at(-1)!;
    const keys = freeRange(zonesOfPart(project.document!, project.document!.parts[partId]!), zoneId, midi, SPREAD_KEYS);
    if (keys) project.run('', spreadZone, { zoneId, keys, tuneCents: -Math.round(picked.cents ?? 0) });
    project.run('', setValue, { owners: [{ kind: 'zone', id: zoneId }], param: 'keepsLength', change: { to: true } });
    session.selectZones([zoneId]);
    laying.hearSoon(zoneId);
    if (keys)
      notices.info(`It lies on ${keyName(keys.low)} to ${keyName(keys.high)}; ${keyName(keys.root)} is its own.`);
  }

  return { values, note, place, flatten };
});
