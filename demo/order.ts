/** The running order of the demo's piece: four sections, one of them slower, a fill before the last. */
import { homeId } from '#core/document/home-id.ts';
import { changePlacing, placePattern } from '#core/project/commands/placings.ts';
import { addSection, renameSection, setSectionValue } from '#core/project/commands/sections.ts';
import type { ProjectMaker } from './project-maker.ts';

const BAR_TICKS = 3840;

type Line = readonly [pattern: string, fromBar: number, bars: number];
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
  },
  {
    name: 'Odrun light',
    lengthBars: 8,
    lines: [
      [
        ['harbour lights', 0, 4],
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
      for (const [name, fromBar, bars] of lines) put(maker, sectionId, place, name, fromBar, bars);
    }
    if (plan.fill) {
      put(maker, sectionId, 0, plan.fill, plan.lengthBars - 2, 2);
      const { placings } = maker.document.sections[sectionId]!;
      const [fill] = placings.filter(({ partId }) => partId === maker.document.partOrder[0]);
      maker.run(changePlacing, { sectionId, placingId: fill!.id, isFill: true });
    }
  }
}

function put(maker: ProjectMaker, sectionId: string, place: number, name: string, fromBar: number, bars: number): void {
  const part = maker.document.parts[maker.document.partOrder[place]!]!;
  const { patterns } = maker.document;
  const named = part.patternOrder.find((id) => patterns[id]!.name === name);
  const patternId = named ?? homeId(part.cutOrder[0]!);
  const [startTicks, lengthTicks] = [fromBar * BAR_TICKS, bars * BAR_TICKS];
  maker.run(placePattern, { sectionId, patternId, startTicks, lengthTicks });
}
