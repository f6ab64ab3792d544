/** A project that is larger than any that hands would make, for measuring what an edit costs. */
import { randomUUID } from 'node:crypto';
import type { AudioData } from '#core/dsp/audio.ts';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { createPattern, setPatternLength } from '#core/project/commands/patterns.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import type { PatternEvent, ProjectDocument } from '#core/document/schema.ts';

const RATE = 44100;
const BAR_TICKS = 3840;
/** Bars of each pattern. */
const BARS = 64;
/** Slices of each part. */
export const SLICES = 64;

export const env: CommandEnv = { newId: randomUUID, newSeed: () => 1 };

export function done<Args>(document: ProjectDocument, command: Command<Args>, args: Args): ProjectDocument {
  const result = command(document, args, env);
  if (!result.ok) throw new Error(result.reason);
  return result.document;
}

export interface LargeProject {
  document: ProjectDocument;
  assets: Map<string, AudioData>;
}

/** Parts with 64 slices each, and a pattern of so many events. */
export function largeProject(parts: number, eventsAPart: number): LargeProject {
  let document = emptyDocument(randomUUID(), 'large');
  const frames = 8 * RATE;
  const audio = { sampleRate: RATE, channels: [new Float32Array(frames), new Float32Array(frames)] };
  audio.channels.forEach((channel) => channel.forEach((_, i) => (channel[i] = Math.sin(i * 0.05) * 0.2)));
  const id = 'a'.repeat(64);
  const source = { id, name: 'loop', sampleRate: RATE, channels: 2, frames };
  for (let index = 0; index < parts; index++) {
    document = done(document, addPart, {
      name: `part ${index + 1}`,
      source,
      loop: { startFrame: 0, endFrame: frames, bars: 4, beatsPerBar: 4 },
      tempoReadings: [],
      slices: Array.from({ length: SLICES }, (_, place) => ({
        startFrame: Math.round((place * frames) / SLICES),
        strength: 1,
        role: 'kick' as const,
        roleConfidence: 1,
        brightnessHz: 1000,
        midi: null,
        cents: null,
      })),
      adoptTempo: index === 0,
    });
    const partId = document.partOrder[index]!;
    document = done(document, createPattern, { partId });
    const patternId = document.parts[partId]!.activePatternId;
    document = done(document, setPatternLength, { patternId, lengthTicks: BARS * BAR_TICKS });
    const { zoneOrder } = document.parts[partId]!;
    const step = (BARS * BAR_TICKS) / eventsAPart;
    const events: Record<string, PatternEvent> = {};
    for (let place = 0; place < eventsAPart; place++) {
      const eventId = randomUUID();
      const zoneId = zoneOrder[place % zoneOrder.length]!;
      events[eventId] = { id: eventId, zoneId, positionTicks: place * step, lengthTicks: step, values: {} };
    }
    const pattern = document.patterns[patternId]!;
    document = { ...document, patterns: { ...document.patterns, [patternId]: { ...pattern, events } } };
  }
  return { document, assets: new Map([[id, audio]]) };
}
