/**
 * What version 4 let into its records and version 5 refuses, record by record, so that documents and kits share it: loops
 * inside sounds that reach beyond them or cross over longer than they are, curves whose points are out of order, readings
 * of a tempo beyond the sound. Nothing of it could be heard as it was written.
 */

type Json = Record<string, unknown>;
interface Frames {
  startFrame: number;
  endFrame: number;
  crossfadeFrames: number;
}

/** @param frames of the source that it plays */
export function repairedZone(zone: Json, frames: number): Json {
  const loop = zone.loop as Frames | null | undefined;
  if (!loop) return zone;
  const endFrame = Math.min(loop.endFrame, frames);
  if (loop.startFrame >= endFrame) return { ...zone, loop: null };
  const crossfadeFrames = Math.min(loop.crossfadeFrames, endFrame - loop.startFrame);
  return { ...zone, loop: { ...loop, endFrame, crossfadeFrames } };
}

export function repairedCut(cut: Json, frames: number): Json {
  const readings = (cut.tempoReadings as Frames[] | undefined) ?? [];
  const tempoReadings = readings.filter(({ startFrame, endFrame }) => startFrame < endFrame && endFrame <= frames);
  return { ...cut, tempoReadings };
}

export function repairedModulator(modulator: Json): Json {
  const points = modulator.points as { at: number }[] | undefined;
  return points ? { ...modulator, points: points.toSorted((a, b) => a.at - b.at) } : modulator;
}

/** A route of version 4 moves a setting of the sounds that its modulator belongs to. */
export function routeWithTarget({ amount, ...route }: Json): Json {
  return { ...route, target: { kind: 'zone', id: null }, values: amount === 0 ? {} : { amount } };
}

/** A switch that mutes what the part has no more did nothing. */
export function partWithSoundSwitches(part: Json): Json {
  const zoneOrder = part.zoneOrder as unknown[];
  const switches = part.switches as Json[] | undefined;
  if (!switches?.some(({ zoneId }) => zoneId !== undefined && !zoneOrder.includes(zoneId))) return part;
  const { switches: _, ...rest } = part;
  const left = switches.filter(({ zoneId }) => zoneId === undefined || zoneOrder.includes(zoneId));
  return left.length > 0 ? { ...rest, switches: left } : rest;
}
