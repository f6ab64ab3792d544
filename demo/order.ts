/** The running order of the demo's piece: four sections, one of them slower with a dial turned over it, a fill before the last, which the tuned break opens. */
import { homeId } from '#core/document/home-id.ts';
import { lanePoint } from '#core/lanes/points.ts';
import { addLane, drawLane } from '#core/project/commands/lanes.ts';
import { changePlacing, placePattern } from '#core/project/commands/placings.ts';
import { addSection, renameSection, setSectionValue } from '#core/project/commands/sections.ts';
import { laneLengthTicks, lanesOver } from '#core/queries/lanes.ts';
import { macrosOf } from '#core/queries/macros.ts';
import type { ProjectMaker } from './project-maker.ts';

const BAR_TICKS = 3840;

type Line = readonly [pattern: string, fromBar: number, bars: number, treatment?: string];
interface Plan {
  name: string;
  lengthBars: number;
  repeats?: number;
  tempoBpm?: number;
  arriveBars?: number;
  /** By the part's place. */
  lines: readonly (readonly Line[])[];
  /** Pattern of the first part in the last bars of its last round. */
  fill?: string;
  /** A dial that is turned up over all its rounds. */
  dial?: string;
}

const PLANS: readonly Plan[] = [
  { name: 'Quay', lengthBars: 4, repeats: 2, lines: [[['home', 0, 4]], [['home', 0, 4]], [], [['home', 2, 2]]] },
  {
    name: 'Open water',
    lengthBars: 8,
    lines: [
      [
        ['harbour lights', 0, 4],
        ['shoal water', 4, 4],
      ],
      [['home', 0, 8]],
      [['home', 0, 8]],
      [
        ['home', 0, 2],
        ['home', 6, 2],
      ],
    ],
  },
  {
    name: 'Fog',
    lengthBars: 4,
    repeats: 2,
    tempoBpm: 92,
    arriveBars: 1,
    lines: [[], [['home', 0, 4]], [['home', 0, 2]], [['home', 0, 4]]],
    fill: 'last call',
    dial: 'Fog',
  },
  {
    name: 'Odrun light',
    lengthBars: 8,
    lines: [
      [
        ['harbour lights', 0, 2, 'A1'],
        ['harbour lights', 2, 2],
        ['last call', 4, 4],
      ],
      [['home', 0, 8]],
      [['home', 0, 8]],
      [['home', 4, 4]],
    ],
  },
];

export function runningOrder(maker: ProjectMaker): void {
  for (const plan of PLANS) {
    maker.run(addSection, { name: plan.name, withPlaying: false });
    const sectionId = maker.document.sectionOrder.at(-1)!;
    maker.run(renameSection, { sectionId, name: plan.name });
    const values: [string, number | string][] = [
      ['lengthBars', plan.lengthBars],
      ['repeats', plan.repeats ?? 1],
      ...(plan.tempoBpm
        ? ([
            ['tempoFrom', 'own'],
            ['tempoBpm', plan.tempoBpm],
          ] as [string, number | string][])
        : []),
      ['arriveBars', plan.arriveBars ?? 0],
    ];
    for (const [param, to] of values) maker.run(setSectionValue, { sectionId, param, change: { to } });
    for (const [place, lines] of plan.lines.entries()) {
      for (const line of lines) put(maker, sectionId, place, line);
    }
    if (plan.fill) {
      put(maker, sectionId, 0, [plan.fill, plan.lengthBars - 2, 2]);
      const { placings } = maker.document.sections[sectionId]!;
      const [fill] = placings.filter(({ partId }) => partId === maker.document.partOrder[0]);
      maker.run(changePlacing, { sectionId, placingId: fill!.id, isFill: true });
    }
    if (plan.dial) turnUp(maker, sectionId, plan.dial);
  }
}

/** Lets a lane turn a dial from where it stands up, and back in the last bar. */
function turnUp(maker: ProjectMaker, sectionId: string, dial: string): void {
  const macro = macrosOf(maker.document).find(({ name }) => name === dial)!;
  const target = { kind: 'modulator', id: macro.id } as const;
  maker.run(addLane, { overId: sectionId, target, paramId: 'position' });
  const laneId = lanesOver(maker.document, sectionId).at(-1)!.id;
  const length = laneLengthTicks(maker.document, laneId);
  const rest = maker.document.modulators[laneId]!.points![0]!.value;
  const points = [
    lanePoint(0, rest),
    lanePoint(length / 2, 0.9, { bend: -0.3 }),
    lanePoint(length - BAR_TICKS, 1),
    lanePoint(length, rest),
  ];
  maker.run(drawLane, { laneId, points });
}

function put(maker: ProjectMaker, sectionId: string, place: number, line: Line): void {
  const [name, fromBar, bars, treatmentName] = line;
  const part = maker.document.parts[maker.document.partOrder[place]!]!;
  const { patterns } = maker.document;
  const named = part.patternOrder.find((id) => patterns[id]!.name === name);
  const patternId = named ?? homeId(part.cutOrder[0]!);
  const [startTicks, lengthTicks] = [fromBar * BAR_TICKS, bars * BAR_TICKS];
  maker.run(placePattern, { sectionId, patternId, startTicks, lengthTicks });
  const treatmentId = part.treatments?.find((one) => one.name === treatmentName)?.id;
  if (treatmentId === undefined) return;
  const { placings } = maker.document.sections[sectionId]!;
  const placed = placings.find((one) => one.partId === part.id && one.startTicks === startTicks)!;
  maker.run(changePlacing, { sectionId, placingId: placed.id, treatmentId });
}
