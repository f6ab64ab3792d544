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
import type { Owner } from '#core/project/commands/values.ts';
import type { Double } from '#core/document/schema.ts';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { zonesOfPart, type PlacedZone } from '#core/queries/zones.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
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

  /** Sounds that may lie under hits: of this part first, then of the others, which are brought here. */
  const sounds = computed(() => {
    const { document } = project;
    if (!document || !session.part) return [];
    const order = [session.part.id, ...document.partOrder.filter((id) => id !== session.part!.id)];
    return order.flatMap((partId) => {
      const part = document.parts[partId]!;
      return zonesOfPart(document, part)
        .filter(({ zone }) => zone.plays.kind === 'slice')
        .map(({ zone, at }) => ({ value: zone.id, words: `${part.name}: ${at.label}`, role: at.slice.role }));
    });
  });

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

  function isHere(zoneId: string): boolean {
    return project.document?.zones[zoneId]?.partId === session.part?.id;
  }

  /** The sound in this part, brought from another one where it is there. */
  function broughtHere(zoneId: string): string | null {
    const partId = session.part!.id;
    if (isHere(zoneId)) return zoneId;
    const brought = project.run('', bringSounds, { zoneIds: [zoneId], partId, partName: '', key: null });
    const id = brought ? project.document!.parts[partId]!.zoneOrder.at(-1) : undefined;
    // It plays under hits only, until it is laid on a key.
    if (id !== undefined) project.run('', layZone, { zoneId: id, keys: null });
    return id ?? null;
  }

  function add({ words, zoneIds }: HitGroup, soundId: string): void {
    const partId = session.part!.id;
    project.step('a double', () => {
      const here = broughtHere(soundId);
      const hits = zoneIds.filter((id) => id !== here);
      const name = `under ${words.replace(/ \(.*/, '')}`;
      if (here) project.run('', addDouble, { partId, zoneIds: hits, soundId: here, name });
    });
  }

  function setSound(double: Double, soundId: string): void {
    project.step('another sound under it', () => {
      const here = broughtHere(soundId);
      if (here) project.run('', setDoubleSound, { doubleId: double.id, soundId: here });
    });
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

  return { doubles, groups, sounds, soundsUnder, ways, others, add, lead, setSound, setHits, rename, remove };
});
