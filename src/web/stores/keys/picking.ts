/** Hits picked out of sounds onto keys: of the shelf, or of the bench. A kit grows out of any number of them. */
import { defineStore } from 'pinia';
import type { FrameRange } from '#core/analysis/analyse-source.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { bringSounds } from '#core/project/commands/bring.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { keyName } from '../../canvas/key-names.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useLaying } from './laying.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export interface PickedSound {
  sourceId: string;
  sourceName: string;
  ranges: readonly FrameRange[];
  /** What the hits are called; after what they are, where it is left out or empty. */
  name?: string;
}

export const usePicking = defineStore('picking', () => {
  const project = useProject();
  const session = useSession();
  const laying = useLaying();
  const notices = useNotices();

  /** Puts ranges of a sound on keys of the open part, or of a new one; the first on a key, or on the first free one. */
  async function put(picked: PickedSound, key: number | null, isNewPart = false): Promise<void> {
    try {
      const source = await library.load(picked.sourceId);
      const facts = await library.describe(picked.sourceId, picked.ranges);
      const before = new Set(Object.keys(project.document?.zones ?? {}));
      const partId = isNewPart ? null : (session.part?.id ?? null);
      const wasAdded = project.run(picked.ranges.length === 1 ? 'pick a hit' : 'pick hits', pickRanges, {
        partId,
        partName: isNewPart ? 'kit' : `${picked.sourceName} kit`,
        source: {
          id: picked.sourceId,
          name: picked.sourceName,
          sampleRate: source.sampleRate,
          channels: source.channels.length,
          frames: frameCount(source),
        },
        ranges: picked.ranges.map((range, i) => ({ ...range, ...facts[i]!, strength: 1, name: picked.name ?? '' })),
        key,
      });
      if (!wasAdded) return;
      if (partId === null) session.choosePart(project.document!.partOrder.at(-1)!);
      const added = session.zones.filter(({ zone }) => !before.has(zone.id));
      session.selectZones(added.map(({ zone }) => zone.id));
      laying.hearSoon(added[0]?.zone.id);
      sayWhere(added);
    } catch (error) {
      notices.error(describeFailure(picked.sourceName, error));
    }
  }

  /** Brings chosen sounds onto free keys of another part, or of a new one, with all their settings. */
  function bring(zoneIds: readonly string[], partId: string | null): void {
    const { document } = project;
    const from = document?.parts[document.zones[zoneIds[0] ?? '']?.partId ?? ''];
    if (!document || !from) return;
    const before = new Set(Object.keys(document.zones));
    const partName = `from ${from.name}`;
    const words = zoneIds.length === 1 ? 'bring a sound' : 'bring sounds';
    if (!project.run(words, bringSounds, { zoneIds, partId, partName, key: null })) return;
    session.choosePart(partId ?? project.document!.partOrder.at(-1)!);
    const added = session.zones.filter(({ zone }) => !before.has(zone.id));
    session.selectZones(added.map(({ zone }) => zone.id));
    laying.hearSoon(added[0]?.zone.id);
    sayWhere(added);
  }

  function sayWhere(added: readonly PlacedZone[]): void {
    const first = added[0]?.keys?.root;
    if (first === undefined) return;
    const what = added.length === 1 ? 'It lies' : `${added.length} hits lie`;
    notices.info(`${what} on ${keyName(first)} of ${session.part!.name}.`);
  }

  return { put, bring };
});
