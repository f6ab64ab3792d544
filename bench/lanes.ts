/** What lanes cost: 32 of them moving a part, its effects and its sounds, against the same without. */
import { homeId } from '#core/document/home-id.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { shaped } from '#core/lanes/changes.ts';
import { addEffect } from '#core/project/commands/effects.ts';
import { addLane, drawLane } from '#core/project/commands/lanes.ts';
import { lanesOver } from '#core/queries/lanes.ts';
import { movableOfPart } from '#core/queries/targets.ts';
import { countingEnv, loopProject, unwrap } from '../tests/support/documents.ts';
import { burstLoop } from '../tests/support/signals.ts';

const RATE = 44_100;
const SECONDS = 20;
const LANES = 32;
const BLOCK = 128;

export function benchLanes(): void {
  const starts = Array.from({ length: 8 }, (_, step) => step * 11_025);
  const made = loopProject(burstLoop(88_200, starts, RATE, 2) as AudioData, starts);
  const env = { ...countingEnv(), newId: () => crypto.randomUUID() };
  let plain = made.document;
  const { channelId } = plain.parts[made.partId]!;
  for (const kind of ['filter', 'equaliser', 'echo', 'sway'] as const)
    plain = unwrap(addEffect(plain, { channelId, kind }, env));
  const patternId = homeId(made.cutId);
  let moving = plain;
  for (const { target, paramId } of movableOfPart(plain, plain.parts[made.partId]!, 'lane').slice(0, LANES)) {
    moving = unwrap(addLane(moving, { overId: patternId, target, paramId }, env));
    const { id } = lanesOver(moving, patternId).at(-1)!;
    moving = unwrap(drawLane(moving, { laneId: id, points: shaped('wave', 480, 3840, 0.3, 0.6) }, env));
  }
  const cost = (document: ProjectDocument) => {
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(document, RATE, { assets: made.assets }));
    renderer.play();
    const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
    const run = (seconds: number) => {
      const began = performance.now();
      for (let at = 0; at < seconds * RATE; at += BLOCK) renderer.process(left, right, BLOCK);
      return (performance.now() - began) / (seconds * 10);
    };
    run(SECONDS / 4);
    return run(SECONDS);
  };
  const [without, withLanes] = [cost(plain), cost(moving)];
  const words = (share: number) => `${share.toFixed(2)}%`;
  process.stdout.write(
    [
      '| one part, four effects | of a core |',
      '| --- | --- |',
      `| nothing moves | ${words(without)} |`,
      `| ${lanesOver(moving, patternId).length} lanes move it | ${words(withLanes)} |`,
      '',
    ].join('\n'),
  );
}
