/** What moves in the demo: lanes over the chords, dials that reach into several parts, tunings on keys, a double under kicks. */
import { shaped } from '#core/lanes/changes.ts';
import { lanePoint } from '#core/lanes/points.ts';
import { addDouble } from '#core/project/commands/doubles.ts';
import { addEffect, bypassEffect } from '#core/project/commands/effects.ts';
import { addLane, drawLane } from '#core/project/commands/lanes.ts';
import { nameMacro, putOnMacro, setRange } from '#core/project/commands/macros.ts';
import { layTunings } from '#core/project/commands/tunings.ts';
import type { RouteTarget } from '#core/document/schema.ts';
import { lanesOver } from '#core/queries/lanes.ts';
import { macrosOf } from '#core/queries/macros.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import type { ProjectMaker } from './project-maker.ts';

const BEAT_TICKS = 960;
const TUNINGS = [
  { note: 33, name: 'A1' },
  { note: 36, name: 'C2' },
  { note: 40, name: 'E2' },
];

export function movement(maker: ProjectMaker, parts: Readonly<Record<'drums' | 'chords', string>>): void {
  const channelOf = (partId: string) => maker.document.channels[maker.document.parts[partId]!.channelId]!;
  const effectOf = (channelId: string, kind: string): RouteTarget => {
    const { effectOrder } = maker.document.channels[channelId]!;
    return { kind: 'effect', id: effectOrder.find((id) => maker.document.effects[id]!.kind === kind)! };
  };
  const chords = channelOf(parts.chords).id;
  const bus = Object.values(maker.document.channels).find(({ kind }) => kind === 'bus')!.id;
  const patternId = maker.document.parts[parts.chords]!.activePatternId;
  const lane = (target: RouteTarget, paramId: string, points: Parameters<typeof drawLane>[1]['points']) => {
    maker.run(addLane, { overId: patternId, target, paramId });
    maker.run(drawLane, { laneId: lanesOver(maker.document, patternId).at(-1)!.id, points });
  };
  const length = patternLengthTicks(maker.document, patternId);
  lane(effectOf(chords, 'filter'), 'cutoffHz', shaped('wave', length / 2, length, 0.28, 0.62));
  lane({ kind: 'channel', id: chords }, 'gainDb', [
    lanePoint(0, 1),
    lanePoint(length * 0.42, 0.9),
    lanePoint(length * 0.5, 0.62, { bend: 0.3 }),
    lanePoint(length * 0.94, 1),
  ]);
  const pan = Array.from({ length: 8 }, (_, i) =>
    lanePoint(i * BEAT_TICKS, [0.5, 0.65, 0.4, 0.55][i % 4]!, { stays: true }),
  );
  lane({ kind: 'channel', id: chords }, 'pan', pan);

  const dial = (place: number, name: string, settings: [RouteTarget, string, number, number][], position: number) => {
    for (const [target, paramId, from, to] of settings) {
      maker.run(putOnMacro, { place, target, paramId });
      maker.run(setRange, { routeId: Object.keys(maker.document.routes).at(-1)!, from, to });
    }
    const macro = macrosOf(maker.document).find((one) => one.place === place)!;
    maker.run(nameMacro, { macroId: macro.id, name });
    maker.set([{ kind: 'modulator', id: macro.id }], { position });
  };
  dial(
    0,
    'Fog',
    [
      [effectOf(chords, 'filter'), 'cutoffHz', 0, -0.6],
      [effectOf(bus, 'room'), 'decaySeconds', 0, 0.3],
    ],
    0.2,
  );
  dial(1, 'Swell', [[effectOf(chords, 'ducking'), 'depthDb', 0, -0.5]], 0);

  const drums = maker.document.parts[parts.drums]!;
  maker.run(addEffect, { channelId: drums.channelId, kind: 'comb' });
  const comb = effectOf(drums.channelId, 'comb').id!;
  maker.set([{ kind: 'effect', id: comb }], { wet: 0.35, decaySeconds: 0.5, brightness: 0.5 });
  maker.run(layTunings, { partId: parts.drums, effectId: comb, tunings: TUNINGS });
  // The break as it is, until one of its tunings is put on.
  maker.run(bypassEffect, { effectId: comb, bypassed: true });

  const kicks = zonesOfPart(maker.document, maker.document.parts[parts.drums]!)
    .filter(({ at }) => at.slice.role === 'kick')
    .map(({ zone }) => zone.id);
  // The last of them lies under the others.
  const soundId = kicks.pop()!;
  maker.run(addDouble, { partId: parts.drums, zoneIds: kicks, soundId, name: 'under kicks' });
  const doubleId = maker.document.parts[parts.drums]!.doubles![0]!.id;
  maker.set([{ kind: 'double', id: doubleId }], { blend: 0.35, follow: 0.8 });
}
