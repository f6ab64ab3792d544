/** What leads from one treatment of a part to another: what a dial can move there, and what cannot be moved but jumps. */
import { findDouble, OWNER_TABLES, rowsOfTarget } from '../document/owners.ts';
import type { Part, ProjectDocument, RouteTarget } from '../document/schema.ts';
import { isShared, MAX_AMOUNT } from '../params/modulators.ts';
import type { Row } from '../params/row.ts';
import { shareTo } from './macros.ts';
import { movementOfPart, withTreatment, type PartSound } from './treatments.ts';

/** A setting on its way, as far as `amount` times what it is moved by. */
export interface BlendStep {
  target: RouteTarget;
  paramId: string;
  amount: number;
}

export interface Blend {
  /** With the first treatment put on: from there it leads. */
  document: ProjectDocument;
  steps: readonly BlendStep[];
  /** Settings that stay as the first has them: they have no way between, or too long a one. */
  staying: number;
}

/** Two shares that are one but for rounding. */
const ALIKE = 1e-9;

export function blendOf(document: ProjectDocument, part: Part, from: PartSound, to: PartSound): Blend {
  const first = withTreatment(document, part, from);
  const second = withTreatment(first, first.parts[part.id]!, to);
  const channel = first.channels[part.channelId]!;
  const own = movementOfPart(first, part);
  const modulators = own.modulators.filter(({ kind }) => !isShared(kind));
  const ids = new Set(modulators.map(({ id }) => id));
  const routes = own.routes.filter(({ modulatorId }) => ids.has(modulatorId));
  const named = (kind: RouteTarget['kind'], records: readonly { id: string }[]) =>
    records.map(({ id }): RouteTarget => ({ kind, id }));
  const targets = [
    ...part.zoneOrder.map((id): RouteTarget => ({ kind: 'zone', id })),
    { kind: 'channel', id: channel.id } as const,
    ...channel.effectOrder.map((id): RouteTarget => ({ kind: 'effect', id })),
    ...named('double', first.parts[part.id]!.doubles ?? []),
    ...named('modulator', modulators),
    ...named('route', routes),
  ];
  const steps: BlendStep[] = [];
  let staying = countOfOthers(first, second, part);
  for (const target of targets) {
    const [before, after] = [sparseOf(first, target), sparseOf(second, target)];
    if (before === after) continue;
    for (const [paramId, row] of Object.entries(rowsOfTarget(first, target) ?? {})) {
      const [here, there] = [before[paramId] ?? row.default, after[paramId] ?? row.default];
      if (here === there) continue;
      const amount = amountOf(row, here, there);
      if (amount === null) staying++;
      else steps.push({ target, paramId, amount });
    }
  }
  return { document: first, steps: together(steps, part), staying };
}

/** How far a row has to be moved; null where it cannot be. */
function amountOf(row: Row, from: unknown, to: unknown): number | null {
  if (row.kind !== 'number' || row.movedBy <= 0) return null;
  const amount = shareTo(row, from as number, to as number);
  return Number.isFinite(amount) && Math.abs(amount) <= MAX_AMOUNT ? amount : null;
}

/** What all sounds of a part have in common is moved for all of them at once. */
function together(steps: readonly BlendStep[], part: Part): BlendStep[] {
  const rest: BlendStep[] = [];
  const byParam = new Map<string, BlendStep[]>();
  for (const step of steps) {
    if (step.target.kind !== 'zone') rest.push(step);
    else byParam.set(step.paramId, [...(byParam.get(step.paramId) ?? []), step]);
  }
  const ofSounds = [...byParam.values()].flatMap((all) => {
    const [{ paramId, amount }] = all as [BlendStep, ...BlendStep[]];
    const isSame = all.length === part.zoneOrder.length && all.every((one) => Math.abs(one.amount - amount) < ALIKE);
    return isSame ? [{ target: { kind: 'sounds', id: part.id } as const, paramId, amount }] : all;
  });
  return [...ofSounds, ...rest];
}

/** Effects switched, settings of the part itself, courses drawn otherwise. */
function countOfOthers(first: ProjectDocument, second: ProjectDocument, part: Part): number {
  const { effectOrder } = first.channels[part.channelId]!;
  const switched = effectOrder.filter((id) => first.effects[id]!.bypassed !== second.effects[id]!.bypassed);
  const [before, after] = [first.parts[part.id]!.values, second.parts[part.id]!.values] as Record<string, unknown>[];
  const ofPart = Object.keys({ ...before, ...after }).filter((name) => before![name] !== after![name]);
  const drawn = Object.values(first.modulators).filter((one) => {
    const other = second.modulators[one.id]!;
    return one.steps !== other.steps || one.points !== other.points || one.lengthTicks !== other.lengthTicks;
  });
  return switched.length + ofPart.length + drawn.length;
}

function sparseOf(document: ProjectDocument, { kind, id }: RouteTarget): Readonly<Record<string, unknown>> {
  if (kind === 'double') return findDouble(document, id!)!.double.values;
  const table = document[OWNER_TABLES[kind as keyof typeof OWNER_TABLES]];
  return (table as Record<string, { values: Record<string, unknown> }>)[id!]!.values;
}
