/** A held note runs the break, a dial shortens it; beside it a kit that was captured. */
import { addHelper } from '#core/project/commands/helpers.ts';
import { nameMacro, putOnMacro, setRange } from '#core/project/commands/macros.ts';
import { addMapping } from '#core/project/commands/mappings.ts';
import type { RUNNER_ROWS } from '#core/params/helper-rows/runner.ts';
import type { HelperKind } from '#core/params/helpers.ts';
import type { ProjectDocument, RouteTarget } from '#core/document/schema.ts';
import { macrosOf } from '#core/queries/macros.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { BAR_TICKS, playIn } from './play-in.ts';
import { ProjectMaker, type DemoSource } from './project-maker.ts';
import { quaysideKit } from './quayside.ts';

/** Controllers that MIDI 1.0 leaves undefined: the first two dials of the stand-in. */
const [SHORTER, THINNER] = [21, 22];
/** Bars that each note is held, by the place of the sound. */
const HELD: readonly [place: number, bars: number][] = [
  [0, 1],
  [4, 0.5],
  [2, 0.5],
];
/** Sixteenths of two bars of the kit, by key. */
const KIT_STEPS: readonly [key: number, steps: readonly number[]][] = [
  [36, [0, 10, 16, 22, 26]],
  [38, [4, 12, 20, 28]],
  [42, [2, 6, 8, 14, 18, 24]],
  [46, [30]],
  [37, [7, 23]],
];

export function longNote(sources: ReadonlyMap<string, DemoSource>): ProjectDocument {
  const maker = new ProjectMaker('demo-long-note', 'One long note');
  const breakId = maker.addPart(sources.get('Gangway brushes')!, { gainDb: -4 });
  const kitId = quaysideKit(maker, sources.get('Quayside box')!);
  maker.set([{ kind: 'channel', id: maker.document.parts[kitId]!.channelId }], { gainDb: -10 });
  runsTheBreak(maker, breakId);
  kitPattern(maker, kitId);
  return maker.document;
}

function runsTheBreak(maker: ProjectMaker, partId: string): void {
  const add = (kind: HelperKind, values: Record<string, number | string | boolean>): string => {
    maker.run(addHelper, { partId, kind });
    const id = maker.document.parts[partId]!.helperOrder.at(-1)!;
    maker.set([{ kind: 'helper', id }], values);
    return id;
  };
  const runner = add('runner', { plays: 'filled', order: 'inwards', rate: '1/16', strength: 'fixed', gatePercent: 90 });
  add('echoes', { count: 2, rate: '1/8d' });

  // Held notes drive it as long as they last.
  const placed = zonesOfPart(maker.document, maker.document.parts[partId]!);
  let at = 0;
  const held = HELD.map(([place, bars]) => {
    const { zone, keys } = placed[place]!;
    const onTicks = at;
    at += bars * BAR_TICKS;
    return { zoneId: zone.id, key: keys!.root, onTicks, offTicks: at, velocity: 0.9 };
  });
  playIn(maker, partId, { name: 'one long note', colour: 2 }, held);

  dial(maker, 0, 'Shorter', { kind: 'helper', id: runner }, 'gatePercent', -0.8, SHORTER);
  dial(maker, 1, 'Thinner', { kind: 'helper', id: runner }, 'restPercent', 0.6, THINNER);
}

/** A dial of the project that moves one setting, and the one of the stand-in that moves the dial. */
function dial(
  maker: ProjectMaker,
  place: number,
  name: string,
  target: RouteTarget,
  paramId: keyof typeof RUNNER_ROWS,
  to: number,
  control: number,
): void {
  maker.run(putOnMacro, { place, target, paramId });
  maker.run(setRange, { routeId: Object.keys(maker.document.routes).at(-1)!, from: 0, to });
  const macro = macrosOf(maker.document).find((one) => one.place === place)!;
  maker.run(nameMacro, { macroId: macro.id, name });
  maker.run(addMapping, {
    device: 'Stand-in controller',
    channel: null,
    source: { kind: 'control', number: control },
    target: { kind: 'setting', owner: 'modulator', id: macro.id, paramId: 'position' },
  });
}

function kitPattern(maker: ProjectMaker, partId: string): void {
  const placed = zonesOfPart(maker.document, maker.document.parts[partId]!);
  const step = TICKS_PER_BEAT / 4;
  const presses = KIT_STEPS.flatMap(([key, steps]) => {
    const { zone } = placed.findLast(({ keys }) => keys?.low === key)!;
    const velocity = (at: number) => (at % 8 === 4 ? 1 : 0.75);
    return steps.map((at) => {
      const onTicks = at * step;
      return { zoneId: zone.id, key, onTicks, offTicks: onTicks + step, velocity: velocity(at) };
    });
  });
  playIn(maker, partId, { name: 'from the box', colour: 5 }, presses);
}
