/** A kit out of four sounds, with a hat in two strengths, and one bell as an instrument. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { findLoopPoints } from '#core/analysis/loop-points.ts';
import type { Role } from '#core/analysis/role-names.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { spreadZone } from '#core/project/commands/lay.ts';
import { oneKey } from '#core/queries/free-keys.ts';
import { addModulator } from '#core/project/commands/modulators.ts';
import { renamePart } from '#core/project/commands/parts.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import { layerByStrength, setZoneLoop } from '#core/project/commands/zones.ts';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import type { ZoneValues } from '#core/params/tables.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { ProjectMaker, type DemoSource } from './project-maker.ts';

const HATS_CHOKE = 1;
/** The note that the first of the bells is struck on. */
const FIRST_STROKE = 74;
/** What is picked: the first hits of a role in a sound, each onto a key. Keys as drums have them by agreement. */
const PICKS: readonly { source: string; role: Role; place: number; key: number }[] = [
  { source: 'Deckhand break', role: 'kick', place: 0, key: 36 },
  { source: 'Engine-room break', role: 'kick', place: 0, key: 35 },
  { source: 'Deckhand break', role: 'snare', place: 0, key: 38 },
  { source: 'Gangway brushes', role: 'snare', place: 0, key: 40 },
  { source: 'Deckhand break', role: 'closed hat', place: 0, key: 42 },
  { source: 'Gangway brushes', role: 'closed hat', place: 0, key: 44 },
  { source: 'Deckhand break', role: 'open hat', place: 0, key: 46 },
  { source: 'Galley clatter', role: 'percussion', place: 0, key: 39 },
];

/** Hits of a sound with what they are, as the application finds them. */
function hitsOf({ audio }: DemoSource) {
  const analysis = analyseSource(audio);
  const frames = frameCount(audio);
  const markers = cutAtHits(analysis, DEFAULT_SELECTION);
  const ranges = markers.map(({ frame }, i) => ({ startFrame: frame, endFrame: markers[i + 1]?.frame ?? frames }));
  const facts = describeSlices(analysis, ranges);
  return ranges.map((range, i) => ({ ...range, ...facts[i]!, strength: 1, name: '' }));
}

export function bollard(sources: ReadonlyMap<string, DemoSource>): ProjectDocument {
  const maker = new ProjectMaker('demo-bollard', 'Bollard and bell');
  let partId: string | null = null;
  const hits = new Map(
    [...new Set(PICKS.map(({ source }) => source))].map((name) => [name, hitsOf(sources.get(name)!)]),
  );
  for (const { source: name, role, place, key } of PICKS) {
    const { id, audio } = sources.get(name)!;
    const all = hits.get(name)!;
    const ofRole = all.filter((hit) => hit.role === role);
    maker.run(pickRanges, {
      partId,
      partName: 'Bollard kit',
      source: { id, name, sampleRate: audio.sampleRate, channels: audio.channels.length, frames: frameCount(audio) },
      ranges: [ofRole[place] ?? all[place]!],
      key,
    });
    partId ??= maker.document.partOrder[0]!;
  }
  shapeKit(maker, partId!);
  addBell(maker, sources.get('Buoy bells')!);
  return maker.document;
}

function set(maker: ProjectMaker, zoneIds: readonly string[], values: Partial<ZoneValues>): void {
  const owners = zoneIds.map((id): Owner => ({ kind: 'zone', id }));
  for (const [param, to] of Object.entries(values)) maker.run(setValue, { owners, param, change: { to: to as Value } });
}

/** Hats cut each other off, the closed one in two strengths; the kick is driven a little, everything is held by its key. */
function shapeKit(maker: ProjectMaker, partId: string): void {
  const zones = zonesOfPart(maker.document, maker.document.parts[partId]!);
  const on = (key: number) => zones.find(({ keys }) => keys?.low === key)!.zone.id;
  maker.run(layerByStrength, { zoneIds: [on(44), on(42)], keys: oneKey(42), fade: 16 });
  set(maker, [on(42), on(44), on(46)], { chokeGroup: HATS_CHOKE });
  set(maker, [on(36)], { driveDb: 6, holdMs: 40, decayMs: 220, sustain: 0 });
  set(maker, [on(46)], { answer: 'gate', releaseMs: 90 });
  maker.run(addModulator, { ownerId: on(38), kind: 'random', paramId: 'tuneCents', amount: 0.03 });
}

/** One stroke of a bell over four octaves: it goes round while it is held, and a slow wave opens and closes it. */
function addBell(maker: ProjectMaker, bells: DemoSource): void {
  const partId = maker.addPart(bells, { gainDb: -6 });
  maker.run(renamePart, { partId, name: 'Buoy bell' });
  const placed = zonesOfPart(maker.document, maker.document.parts[partId]!);
  const first = placed[0]!;
  const zoneId = first.zone.id;
  const keys = { low: FIRST_STROKE - 24, high: FIRST_STROKE + 24, root: FIRST_STROKE };
  // Its partials are no overtones of one note: the root is set by ear, as one does with bells.
  maker.run(spreadZone, { zoneId, keys, tuneCents: 0 });
  const { audio } = bells;
  const mono = audio.channels[0]!;
  const [loop] = findLoopPoints(mono, audio.sampleRate, first.at.startFrame, first.at.endFrame);
  if (loop) {
    const { startFrame, endFrame, crossfadeFrames } = loop;
    maker.run(setZoneLoop, { zoneId, loop: { startFrame, endFrame, crossfadeFrames } });
    set(maker, [zoneId], { loopMode: 'forwards' });
  }
  set(maker, [zoneId], {
    answer: 'gate',
    attackMs: 3,
    decayMs: 900,
    sustain: 0.45,
    releaseMs: 600,
    releaseBend: 0.4,
    filter: 'low',
    slope: 24,
    cutoffHz: 3200,
    resonance: 0.2,
    velocityCutoffCents: 2400,
  });
  maker.run(addModulator, { ownerId: zoneId, kind: 'lfo', paramId: 'cutoffHz', amount: 0.2 });
  maker.run(addModulator, { ownerId: zoneId, kind: 'envelope', paramId: 'tuneCents', amount: 0.01 });
  maker.run(setValue, { owners: [{ kind: 'part', id: partId }], param: 'oneAtATime', change: { to: false } });
}
