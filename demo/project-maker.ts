/** Makes a demo project through the same commands as a user's. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { cutAtHits } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { foundSlices, likeliestLoop } from '#core/project/new-part.ts';
import type { ChannelValues, EventValues } from '#core/params/tables.ts';
import type { Cut, ProjectDocument } from '#core/document/schema.ts';

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

export class ProjectMaker {
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

  set(owners: readonly Owner[], values: Readonly<Record<string, Value>>): void {
    for (const [param, to] of Object.entries(values)) this.run(setValue, { owners, param, change: { to } });
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
