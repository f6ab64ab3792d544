/** The demo's projects, made through the same commands as a user's. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/detect-onsets.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import { buildPeaks } from '#core/dsp/peaks.ts';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { deal } from '#core/project/commands/deal.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { choosePattern, copyPattern, renamePattern } from '#core/project/commands/patterns.ts';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { emptyDocument } from '#core/project/defaults.ts';
import { foundSlices, likeliestLoop } from '#core/project/new-part.ts';
import type { ChannelValues, EventValues } from '#core/params/tables.ts';
import { homeId, type Cut, type Groove, type ProjectDocument } from '#core/project/schema.ts';
import { grooveOfLoop } from '#core/patterns/groove.ts';
import { orderedEvents } from '#core/queries/patterns.ts';
import { slicesOfCut } from '#core/queries/slices.ts';

export interface DemoSource {
  id: string;
  name: string;
  audio: AudioData;
}

/** Ids and seeds that are the same at every build. */
function countingEnv(prefix: string): CommandEnv {
  let ids = 0;
  let seeds = 20400;
  return { newId: () => `${prefix}-${++ids}`, newSeed: () => ++seeds };
}

class ProjectMaker {
  document: ProjectDocument;
  private readonly env: CommandEnv;

  constructor(id: string, name: string) {
    this.document = emptyDocument(id, name);
    this.env = countingEnv(id);
  }

  run<Args>(command: Command<Args>, args: Args): void {
    const result = command(this.document, args, this.env);
    if (!result.ok) throw new Error(`the demo cannot be made: ${result.reason}`);
    this.document = result.document;
  }

  set(owners: readonly Owner[], values: Partial<ChannelValues & EventValues>): void {
    for (const [param, to] of Object.entries(values))
      this.run(setValue, { owners, param, change: { to: to as Value } });
  }

  setEvents(patternId: string, eventIds: readonly string[], values: Partial<EventValues>): void {
    this.set(
      eventIds.map((id) => ({ kind: 'event', patternId, id })),
      values,
    );
  }

  /** The part's first cut. */
  cutOf(partId: string): Cut {
    return this.document.cuts[this.document.parts[partId]!.cutOrder[0]!]!;
  }

  addPart({ id, name, audio }: DemoSource, settings: Partial<ChannelValues> = {}): string {
    const analysis = analyseSource(audio);
    const frames = frameCount(audio);
    const markers = cutAtHits(analysis, DEFAULT_SELECTION);
    const ranges = markers.map((marker, i) => ({
      startFrame: marker.frame,
      endFrame: markers[i + 1]?.frame ?? frames,
    }));
    this.run(addPart, {
      name,
      source: { id, name, sampleRate: audio.sampleRate, channels: audio.channels.length, frames },
      loop: likeliestLoop(analysis.tempoReadings, frames, audio.sampleRate, false),
      tempoReadings: analysis.tempoReadings,
      slices: foundSlices(markers, describeSlices(analysis, ranges)),
      adoptTempo: true,
    });
    const partId = this.document.partOrder.at(-1)!;
    this.set([{ kind: 'channel', id: this.document.parts[partId]!.channelId }], settings);
    return partId;
  }
}

/** A finished piece: the break dealt, chords, bass and bells around it, the mix a little below full scale. */
function crossing(sources: ReadonlyMap<string, DemoSource>): ProjectDocument {
  const maker = new ProjectMaker('demo-crossing', 'The Odrun crossing');
  const drums = maker.addPart(sources.get('Deckhand break')!, { gainDb: -3.5 });
  maker.addPart(sources.get('Saltlamp chords')!, { gainDb: -10.5 });
  maker.addPart(sources.get('Winch bass')!, { gainDb: -7.5 });
  maker.addPart(sources.get('Galley clatter')!, { gainDb: -15.5, pan: 0.3 });

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
  maker.run(choosePattern, { partId: drums, patternId });
  return maker.document;
}

export function demoProjects(sources: readonly DemoSource[]): ProjectDocument[] {
  const byName = new Map(sources.map((source) => [source.name, source]));
  return [emptyDocument('demo-empty', 'An empty deck'), crossing(byName)];
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
    return cut.loop ? [grooveOfLoop(placed, cut.loop, buildPeaks(audio), audio.sampleRate, name)] : [];
  });
}
