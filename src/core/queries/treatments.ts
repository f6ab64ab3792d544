/** How a part sounds, as a treatment: taken down, compared, and put over a document. */
import { isShared } from '../params/modulators.ts';
import type { Rows, SparseValues } from '../params/row.ts';
import { TREATED_CHANNEL_ROWS, TREATED_PART_ROWS } from '../params/treated-rows.ts';
import { homeId } from '../document/home-id.ts';
import type {
  Modulator,
  Movement,
  Part,
  ProjectDocument,
  Route,
  RouteTarget,
  Treatment,
  Zone,
} from '../document/schema.ts';

export type PartSound = Omit<Treatment, 'id' | 'name'>;
type Sparse = Readonly<Record<string, unknown>>;

function picked<R extends Rows>(rows: R, values: Sparse): SparseValues<R> {
  return Object.fromEntries(Object.entries(values).filter(([name]) => Object.hasOwn(rows, name))) as SparseValues<R>;
}

/** Values with those of the rows exchanged; the same object when nothing is another. */
function exchanged<V extends Sparse>(rows: Rows, values: V, wanted: Sparse): V {
  const others = Object.entries(values).filter(([name]) => !Object.hasOwn(rows, name));
  return sameOr(values, { ...Object.fromEntries(others), ...wanted } as unknown as V);
}

function sameOr<V extends Sparse>(before: V, after: V): V {
  const names = Object.keys(after);
  const isSame = names.length === Object.keys(before).length && names.every((name) => before[name] === after[name]);
  return isSame ? before : after;
}

/** How often a sound is dealt is not how it sounds. */
function soundOf({ values: { dealWeight: _, ...sound } }: Zone): Zone['values'] {
  return sound;
}

function withSound({ dealWeight }: Zone['values'], sound: Zone['values']): Zone['values'] {
  return dealWeight === undefined ? sound : { ...sound, dealWeight };
}

/**
 * What moves the sounds of a part, and its ways to what it moves: the lanes over its patterns, too, and the dials that
 * reach into it.
 */
export function movementOfPart(document: ProjectDocument, part: Part): { modulators: Modulator[]; routes: Route[] } {
  const owners = new Set([part.id, ...part.zoneOrder, ...part.patternOrder, ...part.cutOrder.map(homeId)]);
  const own = Object.values(document.modulators).filter(({ ownerId }) => owners.has(ownerId));
  const ids = new Set(own.map(({ id }) => id));
  const all = Object.values(document.routes);
  const dials = dialsInto(document, part, ids);
  const reaching = all.filter(({ modulatorId, target }) => dials.has(modulatorId) && isOf(document, part, target, ids));
  return {
    modulators: [...own, ...Object.values(document.modulators).filter(({ id }) => dials.has(id))],
    routes: [...all.filter(({ modulatorId }) => ids.has(modulatorId)), ...reaching],
  };
}

/** Dials that move something of a part. */
function dialsInto(document: ProjectDocument, part: Part, ownIds: ReadonlySet<string>): Set<string> {
  const into = Object.values(document.routes).filter(
    ({ modulatorId, target }) =>
      document.modulators[modulatorId]!.kind === 'macro' && isOf(document, part, target, ownIds),
  );
  return new Set(into.map(({ modulatorId }) => modulatorId));
}

/** Does what a dial leads to belong to a part? */
function isOf(document: ProjectDocument, part: Part, { kind, id }: RouteTarget, ownIds: ReadonlySet<string>): boolean {
  const channel = document.channels[part.channelId]!;
  if (kind === 'sounds') return id === part.id;
  if (kind === 'zone') return part.zoneOrder.includes(id!);
  if (kind === 'channel') return id === channel.id;
  if (kind === 'effect') return channel.effectOrder.includes(id!);
  if (kind === 'send') return document.sends[id!]?.fromChannelId === channel.id;
  return ownIds.has(kind === 'modulator' ? id! : (document.routes[id!]?.modulatorId ?? ''));
}

function movementOf({ id: _, ownerId: __, ...movement }: Modulator): Movement {
  return movement;
}

/** How a part sounds now. */
export function soundOfPart(document: ProjectDocument, part: Part): PartSound {
  const channel = document.channels[part.channelId]!;
  const { modulators, routes } = movementOfPart(document, part);
  return {
    modulators: Object.fromEntries(modulators.map((one) => [one.id, movementOf(one)])),
    routes: Object.fromEntries(routes.map(({ id, values }) => [id, values])),
    zones: Object.fromEntries(part.zoneOrder.map((id) => [id, soundOf(document.zones[id]!)])),
    values: picked(TREATED_PART_ROWS, part.values),
    channel: picked(TREATED_CHANNEL_ROWS, channel.values),
    ...(part.doubles ? { doubles: Object.fromEntries(part.doubles.map(({ id, values }) => [id, values])) } : {}),
    effects: Object.fromEntries(
      channel.effectOrder.map((id) => {
        const { kind, bypassed, values } = document.effects[id]!;
        return [id, { kind, bypassed, values }];
      }),
    ),
  };
}

/**
 * The document with a part sounding as a treatment of it says; the same document when it does already. What did not
 * change keeps its identity, so that no more is compiled, sent and saved than has changed.
 */
export function withTreatment(document: ProjectDocument, part: Part, treatment: PartSound): ProjectDocument {
  const zones = changedRecords(document.zones, treatment.zones, part.zoneOrder, (zone, sound) => {
    const values = sameOr(zone.values, withSound(zone.values, sound));
    return values === zone.values ? zone : { ...zone, values };
  });
  const channel = document.channels[part.channelId]!;
  const effects = changedRecords(document.effects, treatment.effects, channel.effectOrder, (effect, wanted) => {
    if (effect.kind !== wanted.kind) return effect;
    const values = sameOr(effect.values, wanted.values);
    const isSame = values === effect.values && effect.bypassed === wanted.bypassed;
    return isSame ? effect : { ...effect, values, bypassed: wanted.bypassed };
  });
  const { modulators, routes } = withMovement(document, part, treatment);
  const values = exchanged(TREATED_PART_ROWS, part.values, treatment.values);
  const channelValues = exchanged(TREATED_CHANNEL_ROWS, channel.values, treatment.channel);
  const doubles = doublesAs(part, treatment);
  const isPartSame = values === part.values && doubles === part.doubles;
  const parts = isPartSame
    ? document.parts
    : { ...document.parts, [part.id]: { ...part, values, ...(doubles ? { doubles } : {}) } };
  const channels =
    channelValues === channel.values
      ? document.channels
      : { ...document.channels, [channel.id]: { ...channel, values: channelValues } };
  const isSame =
    zones === document.zones &&
    effects === document.effects &&
    modulators === document.modulators &&
    routes === document.routes &&
    parts === document.parts &&
    channels === document.channels;
  return isSame ? document : { ...document, zones, effects, modulators, routes, parts, channels };
}

/** Doubles set as a treatment says; the same list where none is set otherwise. */
function doublesAs({ doubles }: Part, treatment: PartSound): Part['doubles'] {
  const wanted = treatment.doubles;
  if (!doubles || !wanted) return doubles;
  const set = doubles.map((one) => {
    const values = Object.hasOwn(wanted, one.id) ? sameOr(one.values, wanted[one.id]!) : one.values;
    return values === one.values ? one : { ...one, values };
  });
  return set.every((one, place) => one === doubles[place]) ? doubles : set;
}

/** Modulators and routes moving as a treatment says; one that does not say leaves them as they are. */
function withMovement(
  document: ProjectDocument,
  part: Part,
  treatment: PartSound,
): Pick<ProjectDocument, 'modulators' | 'routes'> {
  if (!treatment.modulators || !treatment.routes) return document;
  const { modulators, routes } = movementOfPart(document, part);
  const changed = changedRecords(document.modulators, treatment.modulators, idsOf(modulators), (one, wanted) => {
    if (one.kind !== wanted.kind) return one;
    const values = sameOr(one.values, wanted.values);
    const isSame = values === one.values && isSameMovement(one, wanted);
    if (isSame) return one;
    // What a dial is called, and where it stands among them, is no matter of sound.
    if (one.kind === 'macro') return { ...one, values };
    const { lengthTicks: _, ...others } = one;
    return { ...others, ...wanted, values };
  });
  const known = treatment.routes;
  // Lanes and dials that came since stay as they are: their ranges would be lost.
  const isSharedRoute = ({ modulatorId }: Route) => isShared(document.modulators[modulatorId]!.kind);
  const since = (route: Route) => (isSharedRoute(route) ? route.values : withoutAmount(route.values));
  const wanted = Object.fromEntries(routes.map((route) => [route.id, known[route.id] ?? since(route)]));
  const led = changedRecords(document.routes, wanted, idsOf(routes), (route, values) => {
    const next = sameOr(route.values, values);
    return next === route.values ? route : { ...route, values: next };
  });
  return { modulators: changed, routes: led };
}

const idsOf = (records: readonly { id: string }[]) => records.map(({ id }) => id);

function withoutAmount({ amount: _, ...values }: Route['values']): Route['values'] {
  return values;
}

/** Steps and points are short lists of numbers. */
function isSameMovement(one: Movement, other: Movement): boolean {
  return (
    one.lengthTicks === other.lengthTicks &&
    (one.steps === other.steps || JSON.stringify(one.steps) === JSON.stringify(other.steps)) &&
    (one.points === other.points || JSON.stringify(one.points) === JSON.stringify(other.points))
  );
}

/** Does a part sound as a treatment of it says? */
export function soundsAs(document: ProjectDocument, part: Part, treatment: PartSound): boolean {
  return withTreatment(document, part, treatment) === document;
}

/** A table with the records changed that are named; the same table when none is another. */
function changedRecords<T, Wanted>(
  table: Record<string, T>,
  wanted: Readonly<Record<string, Wanted>>,
  ids: readonly string[],
  change: (record: T, wanted: Wanted) => T,
): Record<string, T> {
  const changed = ids.flatMap((id) => {
    if (!Object.hasOwn(wanted, id)) return [];
    const after = change(table[id]!, wanted[id]!);
    return after === table[id] ? [] : ([[id, after]] as const);
  });
  return changed.length === 0 ? table : { ...table, ...Object.fromEntries(changed) };
}
