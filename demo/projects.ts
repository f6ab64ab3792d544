/** The demo's projects, made through the same commands as a user's. */
import { buildPeaks } from '#core/dsp/peaks.ts';
import { deal } from '#core/project/commands/deal.ts';
import { choosePattern, copyPattern, renamePattern } from '#core/project/commands/patterns.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { kitOf, type Kit } from '#core/project/kit-of.ts';
import { homeId } from '#core/document/home-id.ts';
import type { Groove, ProjectDocument } from '#core/document/schema.ts';
import { grooveOfLoop } from '#core/patterns/groove.ts';
import { orderedEvents } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { chains } from './chains.ts';
import { movement } from './movement.ts';
import { bollard } from './bollard.ts';
import { longNote } from './long-note.ts';
import { ladles, nightWatch, shoalWater } from './patterns.ts';
import { ProjectMaker, type DemoSource } from './project-maker.ts';
import { runningOrder } from './order.ts';
import { treatments } from './treatments.ts';

export type { DemoSource };

/** A finished piece: the break dealt, chords, bass and bells around it, the mix a little below full scale. */
function crossing(sources: ReadonlyMap<string, DemoSource>): ProjectDocument {
  const maker = new ProjectMaker('demo-crossing', 'The Odrun crossing');
  const drums = maker.addPart(sources.get('Deckhand break')!, { gainDb: -3.5 });
  const chords = maker.addPart(sources.get('Saltlamp chords')!, { gainDb: -10.5 });
  const bass = maker.addPart(sources.get('Winch bass')!, { gainDb: -7.5 });
  const clatter = maker.addPart(sources.get('Galley clatter')!, { gainDb: -15.5, pan: 0.3 });

  maker.run(copyPattern, { partId: drums, patternId: homeId(maker.cutOf(drums).id) });
  const patternId = maker.document.parts[drums]!.activePatternId;
  maker.run(renamePattern, { patternId, name: 'harbour lights' });
  const events = orderedEvents(maker.document.patterns[patternId]!.events);
  const roleOf = (zoneId: string) => maker.cutOf(drums).slices[maker.document.zones[zoneId]!.plays.sliceId!]!.role;
  const backbeats = events.filter((event) => roleOf(event.zoneId) === 'snare' && event.positionTicks % 1920 > 900);
  maker.setEvents(
    patternId,
    backbeats.map((event) => event.id),
    { hold: true },
  );
  for (let hand = 0; hand < 5; hand++) maker.run(deal, { partId: drums, reachPercent: 45 });

  maker.run(copyPattern, { partId: drums, patternId });
  const fillId = maker.document.parts[drums]!.activePatternId;
  maker.run(renamePattern, { patternId: fillId, name: 'last call' });
  const tail = orderedEvents(maker.document.patterns[fillId]!.events).slice(-3);
  maker.setEvents(
    fillId,
    tail.slice(0, 2).map((event) => event.id),
    { repeats: 3 },
  );
  maker.setEvents(fillId, [tail[2]!.id], { reverse: true });
  shoalWater(maker, drums);
  treatments(maker, drums);
  nightWatch(maker, bass);
  ladles(maker, clatter);
  chains(maker, { drums, chords, bass });
  movement(maker, { drums, chords });
  maker.run(choosePattern, { partId: drums, patternId });
  runningOrder(maker);
  return maker.document;
}

export function demoProjects(sources: readonly DemoSource[]): ProjectDocument[] {
  const byName = new Map(sources.map((source) => [source.name, source]));
  return [emptyDocument('demo-empty', 'An empty deck'), crossing(byName), bollard(byName), longNote(byName)];
}

/** Kits as a user would keep them. */
export function demoKits(documents: readonly ProjectDocument[]): Kit[] {
  return documents.flatMap((document) =>
    Object.values(document.parts)
      .filter(({ name }) => name.endsWith(' kit'))
      .map((part) => kitOf(document, part, part.name)),
  );
}

/** Grooves lifted out of two of the loops, as a user would lift them. */
export function demoGrooves(sources: readonly DemoSource[]): Groove[] {
  const names = new Map([
    ['Deckhand break', 'deckhand lean'],
    ['Gangway brushes', 'gangway shuffle'],
  ]);
  return sources.flatMap((source) => {
    const name = names.get(source.name);
    if (!name) return [];
    const maker = new ProjectMaker('demo-groove', name);
    const partId = maker.addPart(source);
    const cut = maker.cutOf(partId);
    const { audio } = source;
    const placed = slicesOfCut(maker.document, cut.id);
    return cut.loop ? [grooveOfLoop(placed, cut.loop, buildPeaks(audio), audio.sampleRate, name, 240)] : [];
  });
}
