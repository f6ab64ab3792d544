/** The doubles of the chosen part: which sound lies under which hits. */
import { defineStore } from 'pinia';
import { computed } from 'vue';
import type { Role } from '#core/analysis/role-names.ts';
import { bringSounds } from '#core/project/commands/bring.ts';
import {
  addDouble,
  leadDouble,
  removeDouble,
  renameDouble,
  setDoubleHits,
  setDoubleSound,
} from '#core/project/commands/doubles.ts';
import { layZone } from '#core/project/commands/zones.ts';
import { addCut } from '#core/project/commands/parts.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Double } from '#core/document/schema.ts';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { partValues } from '#core/queries/values.ts';
import { zonesOfPart, type PlacedZone } from '#core/queries/zones.ts';
import { describeFailure } from '../../api/words.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useNotices } from '../frame/notices.ts';
import { useImports } from '../shelf/imports.ts';
import { useShelf } from '../shelf/shelf.ts';
import { useBuses } from './buses.ts';

/** Hits that may be doubled together: the chosen ones, or those of one role. */
export interface HitGroup {
  value: string;
  words: string;
  zoneIds: readonly string[];
}

export const CHOSEN = 'chosen';
/** Where a double is heard, beside the buses that there are. */
export const WITH_PART = '';
const NEW_BUS = 'new';
/** Before the id of what lies on the shelf only. */
const SHELF = 'shelf ';
const PLURAL: Partial<Record<Role, string>> = {
  kick: 'kicks',
  snare: 'snares',
  'closed hat': 'closed hats',
  tom: 'toms',
};
/** Fewer than this are told apart by their names. */
const LEAST_CONFIDENCE = 0.6;

export const useDoubles = defineStore('doubles', () => {
  const project = useProject();
  const session = useSession();
  const buses = useBuses();
  const notices = useNotices();
  const imports = useImports();
  const shelf = useShelf();
  const doubles = computed(() => session.part?.doubles ?? []);
  const slices = computed(() => session.zones.filter(({ zone }) => zone.plays.kind === 'slice'));

  const groups = computed<HitGroup[]>(() => {
    const byRole = new Map<Role, PlacedZone[]>();
    for (const one of slices.value) {
      const { role } = one.at.slice;
      if (role) byRole.set(role, [...(byRole.get(role) ?? []), one]);
    }
    const ids = (list: readonly PlacedZone[]) => list.map(({ zone }) => zone.id);
    const chosen = session.selectedZones.filter(({ zone }) => zone.plays.kind === 'slice');
    const ofRoles = [...byRole].map(([role, list]) => {
      const unsure = list.filter(({ at }) => (at.slice.roleConfidence ?? 1) < LEAST_CONFIDENCE).length;
      const words = `${PLURAL[role] ?? role} (${list.length}${unsure > 0 ? `, ${unsure} unsure` : ''})`;
      return { value: role as string, words, zoneIds: ids(list) };
    });
    if (chosen.length === 0) return ofRoles;
    return [{ value: CHOSEN, words: `the chosen (${chosen.length})`, zoneIds: ids(chosen) }, ...ofRoles];
  });

  /** Sounds that may lie under hits: of this part first, then of the others and hits of the shelf, which are brought here. */
  const sounds = computed(() => {
    const { document } = project;
    if (!document || !session.part) return [];
    const order = [session.part.id, ...document.partOrder.filter((id) => id !== session.part!.id)];
    const onParts = order.flatMap((partId) => {
      const part = document.parts[partId]!;
      return zonesOfPart(document, part)
        .filter(({ zone }) => zone.plays.kind === 'slice')
        .map(({ zone, cut, at }) => {
          // Of a part that has several sounds it is said which.
          const whose = cut.id === part.cutOrder[0] ? part.name : document.sources[cut.sourceId]!.name;
          return { value: zone.id, words: `${whose}: ${at.label}`, role: at.slice.role };
        });
    });
    const hits = shelf.sources.flatMap(({ id, name, facts: { heard } }) =>
      heard && !document.sources[id] ? [{ value: SHELF + id, words: `shelf: ${name}`, role: heard.role }] : [],
    );
    return [...onParts, ...hits];
  });

  /** The hits of the shelf are known once it was asked. */
  async function lookAtShelf(): Promise<void> {
    if (!shelf.loaded) await shelf.refresh();
  }

  /** What may lie under these hits, none of themselves, and those of their role first: a kick under kicks. */
  function soundsUnder({ value, zoneIds }: HitGroup) {
    const free = sounds.value.filter((sound) => !zoneIds.includes(sound.value));
    const role = value === CHOSEN ? roleOf(zoneIds) : value;
    return [...free.filter((sound) => sound.role === role), ...free.filter((sound) => sound.role !== role)];
  }

  /** The role that all of these have; null where they differ. */
  function roleOf(zoneIds: readonly string[]): Role | null {
    const roles = new Set(slices.value.flatMap(({ zone, at }) => (zoneIds.includes(zone.id) ? [at.slice.role] : [])));
    const [only = null] = roles;
    return roles.size === 1 ? only : null;
  }

  /** What comes into a part to lie under its hits has no key of its own, and changes nothing of how those play. */
  function bring(partId: string, put: () => unknown): string | null {
    const before = project.document!.parts[partId]!;
    if (!put()) return null;
    const part = project.document!.parts[partId]!;
    const { oneAtATime } = partValues(before);
    if (partValues(part).oneAtATime !== oneAtATime) {
      const owners: Owner[] = [{ kind: 'part', id: partId }];
      project.run('', setValue, { owners, param: 'oneAtATime', change: { to: oneAtATime } });
    }
    const brought = part.zoneOrder.slice(before.zoneOrder.length);
    for (const zoneId of brought) project.run('', layZone, { zoneId, keys: null });
    return brought[0] ?? null;
  }

  /** The sound in this part, brought from another one where it is there. */
  function broughtHere(partId: string, zoneId: string): string | null {
    if (project.document!.zones[zoneId]?.partId === partId) return zoneId;
    return bring(partId, () => project.run('', bringSounds, { zoneIds: [zoneId], partId, partName: '', key: null }));
  }

  /** Does something with a sound in the chosen part, in one step with bringing it there. */
  async function withSound(label: string, soundId: string, use: (partId: string, here: string) => void): Promise<void> {
    const { id: partId } = session.part!;
    const ofShelf = shelf.sources.find(({ id }) => SHELF + id === soundId);
    try {
      const found = ofShelf && (await imports.newCutOf(ofShelf.id, ofShelf.name));
      if (!project.document?.parts[partId]) return;
      project.step(label, () => {
        const here = found
          ? bring(partId, () => project.run('', addCut, { partId, ...found.newCut }))
          : broughtHere(partId, soundId);
        if (here) use(partId, here);
      });
    } catch (error) {
      notices.error(describeFailure(ofShelf?.name ?? 'The sound', error));
    }
  }

  function add({ words, zoneIds }: HitGroup, soundId: string): Promise<void> {
    const name = `under ${words.replace(/ \(.*/, '')}`;
    return withSound('a double', soundId, (partId, here) => {
      const hits = zoneIds.filter((id) => id !== here);
      project.run('', addDouble, { partId, zoneIds: hits, soundId: here, name });
    });
  }

  function setSound(double: Double, soundId: string): Promise<void> {
    return withSound('another sound under it', soundId, (_, here) =>
      project.run('', setDoubleSound, { doubleId: double.id, soundId: here }),
    );
  }

  const setHits = (double: Double, zoneIds: readonly string[]) =>
    project.run('hits of a double', setDoubleHits, { doubleId: double.id, zoneIds });
  /** What a double may be heard through. */
  const ways = computed(() => [
    { value: WITH_PART, words: 'with its part' },
    ...buses.buses.map(({ id }) => ({ value: id, words: nameOfChannel(project.document!, id) })),
    { value: NEW_BUS, words: 'a bus of its own' },
  ]);

  function lead(double: Double, way: string): void {
    project.step(`${double.name} through`, () => {
      const made = way === NEW_BUS ? buses.add('', double.name) : way;
      project.run('', leadDouble, { doubleId: double.id, channelId: way === WITH_PART ? null : made });
    });
  }
  const rename = (double: Double, name: string) =>
    project.run('name a double', renameDouble, { doubleId: double.id, name });
  const remove = (double: Double) => project.run('no double', removeDouble, { doubleId: double.id });

  /** All sounds that are neither hits nor doubles. */
  const others = computed<Owner[]>(() => {
    const taken = new Set(doubles.value.flatMap(({ zoneIds, soundId }) => [...zoneIds, soundId]));
    return session.zones.flatMap(({ zone }) => (taken.has(zone.id) ? [] : [{ kind: 'zone' as const, id: zone.id }]));
  });

  return {
    doubles,
    groups,
    sounds,
    lookAtShelf,
    soundsUnder,
    ways,
    others,
    add,
    lead,
    setSound,
    setHits,
    rename,
    remove,
  };
});
