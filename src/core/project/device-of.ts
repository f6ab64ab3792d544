/**
 * What a device moves in every project: said of what each project has (the song, the chosen part, its sounds, the dials by
 * their places), and found again in the one that is open. As JSON it says which version it is of.
 */
import type { EffectKind } from '../params/effects.ts';
import type { HelperKind } from '../params/helpers.ts';
import { ownRecord } from '../document/changed-keys.ts';
import { rowsOfMapped } from '../document/owners.ts';
import type { Mapping, MappingTarget, Part, ProjectDocument } from '../document/schema.ts';
import { mainChannel } from '../queries/channels.ts';
import { macrosOf } from '../queries/macros.ts';

/** Version of what devices bring along, which grows by itself: see core/shelf/device.ts. */
export const DEVICE_VERSION = 1;

/** Whose a setting is, where each project has its own of them. */
export type GeneralOwner =
  | { of: 'song' | 'mix' }
  /** Of the chosen part: itself, its channel, all its sounds, its cut. */
  | { of: 'part' | 'channel' | 'sounds' | 'cut' }
  /** The first of its kind in the chain of the chosen part. */
  | { of: 'effect'; kind: EffectKind }
  /** The first of its kind on the way to its keys. */
  | { of: 'helper'; kind: HelperKind }
  /** The dial at a place. */
  | { of: 'dial'; place: number };

export type GeneralTarget =
  { kind: 'setting'; owner: GeneralOwner; paramId: string } | { kind: 'action'; does: string };

export interface GeneralMapping extends Omit<Mapping, 'device' | 'target'> {
  target: GeneralTarget;
}

export interface DeviceHabits {
  schemaVersion: number;
  /** The name of the device. */
  name: string;
  mappings: GeneralMapping[];
}

/** What a mapping means in every project; null for what belongs to its own alone. */
export function generalOf(
  document: ProjectDocument,
  { id, channel, source, target, values }: Mapping,
): GeneralMapping | null {
  if (target.kind === 'part') return null;
  if (target.kind === 'action') return { id, channel, source, target: { kind: 'action', does: target.does }, values };
  const owner = generalOwner(document, target);
  return owner && { id, channel, source, target: { kind: 'setting', owner, paramId: target.paramId }, values };
}

type Setting = Extract<MappingTarget, { kind: 'setting' }>;

function generalOwner(document: ProjectDocument, { owner, id }: Setting): GeneralOwner | null {
  if (owner === 'song' || owner === 'part' || owner === 'sounds' || owner === 'cut') return { of: owner };
  if (owner === 'channel') {
    const kind = document.channels[id!]?.kind;
    return kind === 'main' ? { of: 'mix' } : kind === 'part' ? { of: 'channel' } : null;
  }
  if (owner === 'effect') return { of: owner, kind: document.effects[id!]!.kind };
  if (owner === 'helper') return { of: owner, kind: document.helpers[id!]!.kind };
  const modulator = owner === 'modulator' ? document.modulators[id!] : undefined;
  return modulator?.kind === 'macro' ? { of: 'dial', place: (modulator as { place: number }).place } : null;
}

/** What is chosen: settings of "the" part are its. */
export interface Chosen {
  part: Part | null;
  cutId: string | null;
}

/** What it moves in this project; null where that has no such thing. */
export function particularOf(
  document: ProjectDocument,
  chosen: Chosen,
  device: string,
  { target, ...rest }: GeneralMapping,
): Mapping | null {
  if (target.kind === 'action') return { ...rest, device, target: { ...target, id: null } };
  const owner = ownerHere(document, chosen, target.owner);
  if (!owner) return null;
  const here: Setting = { kind: 'setting', ...owner, paramId: target.paramId };
  const rows = rowsOfMapped(document, here);
  return rows && ownRecord(rows, target.paramId) ? { ...rest, device, target: here } : null;
}

function ownerHere(
  document: ProjectDocument,
  { part, cutId }: Chosen,
  general: GeneralOwner,
): Pick<Setting, 'owner' | 'id'> | null {
  const of = (owner: Setting['owner'], id: string | null | undefined) => (id ? { owner, id } : null);
  switch (general.of) {
    case 'song':
      return { owner: 'song', id: null };
    case 'mix':
      return of('channel', mainChannel(document).id);
    case 'dial':
      return of('modulator', macrosOf(document).find(({ place }) => place === general.place)?.id);
    case 'part':
    case 'sounds':
      return of(general.of, part?.id);
    case 'channel':
      return of('channel', part?.channelId);
    case 'cut':
      return of('cut', cutId);
    case 'effect': {
      const order = document.channels[part?.channelId ?? '']?.effectOrder;
      return of(
        'effect',
        order?.find((id) => document.effects[id]!.kind === general.kind),
      );
    }
    case 'helper':
      return of(
        'helper',
        part?.helperOrder.find((id) => document.helpers[id]!.kind === general.kind),
      );
  }
}
