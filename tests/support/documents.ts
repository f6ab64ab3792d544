/** Documents for tests, made through the same commands as the application's. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import type { CommandEnv, CommandResult } from '#core/project/commands/command.ts';
import type { FoundSlice } from '#core/project/commands/cut.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { foundSlices } from '#core/project/new-part.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import { homeId } from '#core/document/home-id.ts';
import type { ProjectDocument } from '#core/document/schema.ts';

/** A hit as it is found: a kick at the very start, for tests that only need one. */
export const FOUND_HIT: FoundSlice = {
  startFrame: 0,
  strength: 1,
  role: 'kick',
  roleConfidence: 1,
  brightnessHz: 500,
  midi: null,
  cents: null,
};

/** Ids and seeds that count up. */
export function countingEnv(): CommandEnv {
  let ids = 0;
  let seeds = 100;
  return { newId: () => `id-${++ids}`, newSeed: () => ++seeds };
}

/** The document of a result; a refusal fails the test with its reason. */
export function unwrap(result: CommandResult): ProjectDocument {
  if (!result.ok) throw new Error(`refused: ${result.reason}`);
  return result.document;
}

export interface LoopProject {
  document: ProjectDocument;
  assets: Map<string, AudioData>;
  env: CommandEnv;
  partId: string;
  cutId: string;
  /** The home pattern's id. */
  home: string;
}

/** A project with one part: `audio` as a loop of `bars` bars, cut at the given frames. */
export function loopProject(audio: AudioData, starts: readonly number[], bars = 1): LoopProject {
  const env = countingEnv();
  const frames = frameCount(audio);
  const source = {
    id: 'source-a',
    name: 'made-up',
    sampleRate: audio.sampleRate,
    channels: audio.channels.length,
    frames,
  };
  const ranges = starts.map((startFrame, index) => ({ startFrame, endFrame: starts[index + 1] ?? frames }));
  const facts = describeSlices(analyseSource(audio), ranges);
  const document = unwrap(
    addPart(
      emptyDocument('project-a', 'made-up'),
      {
        name: 'loop',
        source,
        loop: { startFrame: 0, endFrame: frames, bars, beatsPerBar: 4 },
        tempoReadings: [],
        slices: foundSlices(
          ranges.map((range) => ({ frame: range.startFrame, strength: 1 })),
          facts,
        ),
        adoptTempo: true,
      },
      env,
    ),
  );
  const [cutId] = Object.keys(document.cuts);
  return {
    document,
    assets: new Map([[source.id, audio]]),
    env,
    partId: document.partOrder[0]!,
    cutId: cutId!,
    home: homeId(cutId!),
  };
}
