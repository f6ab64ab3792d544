/** What a modulator may move, each with its words: the settings of its own sounds, other modulators, what the part is heard through. */
import { EFFECT_WORDS } from '../params/effects.ts';
import { HELPER_WORDS } from '../params/helpers.ts';
import { MODULATOR_WORDS, type TargetKind } from '../params/modulators.ts';
import type { NumberRow, Rows } from '../params/row.ts';
import { ZONE_ROWS } from '../params/tables.ts';
import { findDouble, rowsOfTarget, type OwnerKind } from '../document/owners.ts';
import { nameOfChannel } from './channel-names.ts';
import { macrosOf } from './macros.ts';
import type { Modulator, Part, ProjectDocument, Route, RouteTarget } from '../document/schema.ts';

export interface Movable {
  target: RouteTarget;
  paramId: string;
  row: NumberRow;
  /** What it is called among all that this modulator may move. */
  words: string;
  /** Whose it is, in words; empty for the sounds that a modulator belongs to. */
  group: string;
}

const CENTS_PER_OCTAVE = 1200;

/** How far a setting is moved by an amount of 1, as it is shown: `{ by: 24, unit: 'dB' }`; a cutoff in octaves. */
export function wholeWay({ curve, movedBy, scale, unit, digits }: NumberRow): {
  by: number;
  unit: string;
  digits: number;
} {
  if (curve === 'logarithmic') return { by: movedBy / CENTS_PER_OCTAVE, unit: 'oct', digits: 2 };
  return { by: movedBy * scale, unit, digits };
}

/** All that a macro or a lane may move of a part: what it is heard through first, then its sounds and what moves them, dials. */
export function movableOfPart(document: ProjectDocument, part: Part, by: 'macro' | 'lane'): Movable[] {
  const sounds: RouteTarget = by === 'lane' ? { kind: 'zone', id: null } : { kind: 'sounds', id: part.id };
  const own = Object.values(document.modulators).filter(({ ownerId }) => ownerId === part.id);
  return [
    ...heardThrough(document, part.channelId),
    ...rowsMoved(sounds, ZONE_ROWS, 'its sounds'),
    ...(part.doubles ?? []).flatMap(({ id, name }) => recordMoved(document, 'double', id, name)),
    ...helpersMoved(document, part),
    ...own.flatMap(({ id }) => recordMoved(document, 'modulator', id, nameOfModulator(document, id))),
    ...dialsMoved(document),
  ];
}

function helpersMoved(document: ProjectDocument, part: Part): Movable[] {
  return part.helperOrder.flatMap((id) => recordMoved(document, 'helper', id, nameOfHelper(document, id)));
}

/** By its kind, with a number where its part has several of it. */
function nameOfHelper({ helpers, parts }: ProjectDocument, id: string): string {
  const { kind, partId } = helpers[id]!;
  const alike = parts[partId]!.helperOrder.filter((one) => helpers[one]!.kind === kind);
  return alike.length > 1 ? `${HELPER_WORDS[kind]} ${alike.indexOf(id) + 1}` : HELPER_WORDS[kind];
}

export function dialsMoved(document: ProjectDocument): Movable[] {
  return macrosOf(document).flatMap(({ id }) => recordMoved(document, 'modulator', id, nameOfModulator(document, id)));
}

/** All that a modulator may move, the settings of its own sounds first. */
export function movableBy(document: ProjectDocument, modulator: Modulator): Movable[] {
  const own = rowsMoved({ kind: 'zone', id: null }, ZONE_ROWS, '');
  const part = document.parts[modulator.ownerId];
  const others = Object.values(document.modulators).filter(
    ({ id, ownerId }) => ownerId === modulator.ownerId && id !== modulator.id,
  );
  const ids = new Set(others.map(({ id }) => id));
  const routes = Object.values(document.routes).filter(({ modulatorId }) => ids.has(modulatorId));
  return [
    ...own,
    ...others.flatMap(({ id }) => recordMoved(document, 'modulator', id, nameOfModulator(document, id))),
    ...routes.flatMap((route) => recordMoved(document, 'route', route.id, nameOfRoute(document, route))),
    ...(part
      ? [...heardThrough(document, part.channelId), ...helpersMoved(document, part), ...dialsMoved(document)]
      : []),
  ];
}

/** Of a route, what it moves; null when that is gone. */
export function movedBy(document: ProjectDocument, { target, paramId }: Route): Movable | null {
  if (target.id === null) return rowsMoved(target, ZONE_ROWS, '').find((one) => one.paramId === paramId) ?? null;
  if (!rowsOfTarget(document, target)) return null;
  const name = nameOfTarget(document, target.kind, target.id);
  return recordMoved(document, target.kind, target.id, name).find((one) => one.paramId === paramId) ?? null;
}

/** Which part or bus something that is moved belongs to, in words; empty where its own name says it, or for a dial. */
export function nameOfWhole(document: ProjectDocument, { kind, id }: RouteTarget): string {
  const { channels, parts, helpers, modulators, sends } = document;
  if (id === null) return '';
  if (kind === 'helper') return parts[helpers[id]!.partId]!.name;
  if (kind === 'double') return findDouble(document, id)?.part.name ?? '';
  if (kind === 'modulator') return parts[modulators[id]!.ownerId]?.name ?? '';
  const channel =
    kind === 'send'
      ? channels[sends[id]!.fromChannelId]
      : Object.values(channels).find(({ effectOrder }) => kind === 'effect' && effectOrder.includes(id));
  return channel ? nameOfChannel(document, channel.id) : '';
}

/** The part that something that is moved is of; null for a bus, the mix, a dial. */
export function partOfTarget(document: ProjectDocument, { kind, id }: RouteTarget): Part | null {
  const { parts, helpers, modulators, routes, sends, zones } = document;
  if (id === null) return null;
  if (kind === 'sounds') return parts[id] ?? null;
  if (kind === 'zone') return parts[zones[id]!.partId] ?? null;
  if (kind === 'helper') return parts[helpers[id]!.partId] ?? null;
  if (kind === 'double') return findDouble(document, id)?.part ?? null;
  if (kind === 'modulator') return parts[modulators[id]!.ownerId] ?? null;
  if (kind === 'route') return partOfTarget(document, { kind: 'modulator', id: routes[id]!.modulatorId });
  const isOf = ({ channelId }: Part) => {
    if (kind === 'channel') return channelId === id;
    if (kind === 'send') return channelId === sends[id]!.fromChannelId;
    return document.channels[channelId]!.effectOrder.includes(id);
  };
  return Object.values(parts).find(isOf) ?? null;
}

/** A modulator by its kind, with a number where its owner has several of it. */
function nameOfModulator({ modulators }: ProjectDocument, id: string): string {
  const { kind, ownerId, name } = modulators[id]!;
  if (kind === 'macro') return name ?? MODULATOR_WORDS.macro;
  const alike = Object.values(modulators).filter((one) => one.kind === kind && one.ownerId === ownerId);
  const words = MODULATOR_WORDS[kind];
  return alike.length > 1 ? `${words} ${alike.findIndex((one) => one.id === id) + 1}` : words;
}

function nameOfRoute(document: ProjectDocument, route: Route): string {
  const moved = movedBy(document, route);
  return `${nameOfModulator(document, route.modulatorId)} on ${moved?.words ?? route.paramId}`;
}

function nameOfTarget(document: ProjectDocument, kind: TargetKind, id: string): string {
  if (kind === 'modulator') return nameOfModulator(document, id);
  if (kind === 'route') return nameOfRoute(document, document.routes[id]!);
  if (kind === 'effect') return EFFECT_WORDS[document.effects[id]!.kind];
  if (kind === 'sounds') return `all of ${document.parts[id]!.name}`;
  if (kind === 'zone') return nameOfZone(document, id);
  if (kind === 'helper') return nameOfHelper(document, id);
  if (kind === 'double') return findDouble(document, id)!.double.name;
  if (kind === 'send') return `send to ${nameOfChannel(document, document.sends[id]!.toChannelId)}`;
  return nameOfChannel(document, id);
}

/** Whose setting it is, in words. */
export function nameOfOwner(document: ProjectDocument, kind: OwnerKind | 'double' | 'sounds', id: string): string {
  if (kind === 'part') return document.parts[id]!.name;
  if (kind === 'cut') return document.sources[document.cuts[id]!.sourceId]!.name;
  if (kind === 'section') return document.sections[id]!.name;
  return kind === 'mapping' ? '' : nameOfTarget(document, kind, id);
}

/** A sound by its place in its part. */
function nameOfZone({ parts, zones }: ProjectDocument, id: string): string {
  const part = parts[zones[id]!.partId]!;
  return `sound ${part.zoneOrder.indexOf(id) + 1} of ${part.name}`;
}

export function heardThrough(document: ProjectDocument, channelId: string): Movable[] {
  const { effectOrder } = document.channels[channelId]!;
  const sends = Object.values(document.sends).filter(({ fromChannelId }) => fromChannelId === channelId);
  const buses = Object.values(document.channels).filter(({ id }) => id !== channelId);
  const named = (kind: TargetKind, id: string) => recordMoved(document, kind, id, nameOfTarget(document, kind, id));
  return [
    ...recordMoved(document, 'channel', channelId, 'all of it'),
    ...effectOrder.flatMap((id) => named('effect', id)),
    ...sends.flatMap(({ id }) => named('send', id)),
    ...buses.flatMap(({ id }) => named('channel', id)),
  ];
}

function recordMoved(document: ProjectDocument, kind: TargetKind, id: string, name: string): Movable[] {
  return rowsMoved({ kind, id }, rowsOfTarget(document, { kind, id }) ?? {}, name);
}

function rowsMoved(target: RouteTarget, rows: Rows, name: string): Movable[] {
  return Object.entries(rows).flatMap(([paramId, row]) =>
    row.kind === 'number' && row.movedBy > 0
      ? [{ target, paramId, row, words: name ? `${row.label}: ${name}` : row.label, group: name }]
      : [],
  );
}
