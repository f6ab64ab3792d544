/** A recording of the stand-in drum box, and the kit that its hits make. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { findTakes } from '#core/capture/find-takes.ts';
import { boxNoise, boxSound, type BoxSound } from '#core/capture/stand-in-sounds.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import { layerByStrength } from '#core/project/commands/zones.ts';
import { oneKey } from '#core/queries/free-keys.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { dbToGain } from '#core/units/level.ts';
import { SAMPLE_RATE } from './loop-builder.ts';
import type { DemoSource, ProjectMaker } from './project-maker.ts';

/** When it is struck, and how hard; the softer snare is to be the layer below the other. */
const STRUCK: readonly { seconds: number; sound: BoxSound; strength: number; key: number }[] = [
  { seconds: 0.9, sound: 'kick', strength: 1, key: 36 },
  { seconds: 2.1, sound: 'snare', strength: 0.95, key: 38 },
  { seconds: 3.05, sound: 'snare', strength: 0.55, key: 39 },
  { seconds: 4.2, sound: 'hat', strength: 0.9, key: 42 },
  { seconds: 4.95, sound: 'open', strength: 0.85, key: 46 },
  { seconds: 6.4, sound: 'clap', strength: 0.9, key: 40 },
  { seconds: 7.5, sound: 'rim', strength: 0.9, key: 37 },
  { seconds: 8.3, sound: 'tom', strength: 0.95, key: 41 },
  { seconds: 9.7, sound: 'block', strength: 0.85, key: 43 },
];
const SECONDS = 10.6;
const FLOOR_DB = -58;
const LEVEL_DB = -2;
const PRE_ROLL_SECONDS = 0.004;

/** As it comes out of the box: with its noise. */
export function quaysideBox(): AudioData {
  const floor = dbToGain(FLOOR_DB) * Math.sqrt(3);
  const out = boxNoise(Math.round(SECONDS * SAMPLE_RATE)).map((x) => x * floor);
  for (const { seconds, sound, strength } of STRUCK) {
    const at = Math.round(seconds * SAMPLE_RATE);
    const gain = strength * strength * dbToGain(LEVEL_DB);
    boxSound(sound, SAMPLE_RATE).forEach((x, i) => (out[at + i]! += x * gain));
  }
  return { sampleRate: SAMPLE_RATE, channels: [out] };
}

/** Its takes, as capture finds them, on keys as drums have them by agreement. */
export function quaysideKit(maker: ProjectMaker, { id, name, audio }: DemoSource): string {
  const { takes } = findTakes(audio);
  if (takes.length !== STRUCK.length) throw new Error(`the demo cannot be made: ${takes.length} takes were found`);
  const analysis = analyseSource(audio);
  const early = Math.round(PRE_ROLL_SECONDS * audio.sampleRate);
  const spans = takes.map(({ startFrame, endFrame }) => ({ startFrame: Math.max(0, startFrame - early), endFrame }));
  const facts = describeSlices(analysis, spans);
  const source = { id, name, sampleRate: audio.sampleRate, channels: audio.channels.length, frames: frameCount(audio) };
  let partId: string | null = null;
  STRUCK.forEach(({ sound, key }, i) => {
    const range = { ...spans[i]!, ...facts[i]!, strength: 1, name: sound };
    maker.run(pickRanges, { partId, partName: 'Quayside kit', source, ranges: [range], key });
    partId ??= maker.document.partOrder.at(-1)!;
  });
  const zones = zonesOfPart(maker.document, maker.document.parts[partId!]!);
  const on = (key: number) => zones.find(({ keys }) => keys?.low === key)!.zone.id;
  maker.run(layerByStrength, { zoneIds: [on(39), on(38)], keys: oneKey(38), fade: 24 });
  maker.set(
    [
      { kind: 'zone', id: on(42) },
      { kind: 'zone', id: on(46) },
    ],
    { chokeGroup: 1 },
  );
  return partId!;
}
