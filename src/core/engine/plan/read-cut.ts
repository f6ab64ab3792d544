/** What the zones of a cut have in common: how it follows the song, and how its slices are rendered for that. */
import type { Cut, Loop, ProjectDocument } from '../../document/schema.ts';
import type { Follow, Tail } from '../../params/choices.ts';
import { stretches } from '../../queries/following.ts';
import { cutTempoBpm, lengthRatio } from '../../queries/loops.ts';
import { cutValues, partValues } from '../../queries/values.ts';
import type { SliceRetiming } from '../../stretch/retime.ts';
import { barLines, rangeShare } from '../../units/loop-time.ts';
import { transposeRatio } from '../../units/pitch.ts';

/** A tail is rendered this many times as long as its slice, or as many as it takes in doubled steps. */
const MIN_RING_TIMES = 2;
/** Ratios nearer to 1 than this need nothing. */
const SAME_RATIO = 5e-4;

/** How all slices of a cut are rendered, their lengths aside. */
export interface CutRetiming {
  fill: SliceRetiming['fill'];
  material: SliceRetiming['material'];
  transposeCents: number;
  /** Length of a rendering over that of its slice. */
  times: number;
  /** A loop of which each bar has its own tempo, where its slices are stretched by that; null otherwise. */
  ownBars: Loop | null;
  keepsTime: boolean;
}

export interface ReadCut {
  cutId: string;
  sourceId: string;
  /** Of the source. */
  sampleRate: number;
  frames: number;
  follow: Follow;
  tail: Tail;
  /** Null where slices play as they are. */
  retiming: CutRetiming | null;
  /** How what keeps its length on other keys is rendered, its key aside; null for what does not. */
  keyRetiming: CutRetiming | null;
  isStretched: boolean;
  /** 0 for what is no loop. */
  tempoBpm: number;
  /** Null where all of the loop goes by that tempo. */
  ownBars: Loop | null;
}

/** The tempo that a range of a cut's source has of its own; 0 for what is no loop. */
export function rangeTempoBpm({ tempoBpm, ownBars }: ReadCut, startFrame: number, endFrame: number): number {
  return ownBars ? tempoBpm * rangeShare(ownBars, startFrame, endFrame) : tempoBpm;
}

export function readCut(document: ProjectDocument, cut: Cut): ReadCut {
  const { sampleRate, frames } = document.sources[cut.sourceId]!;
  const { follow, tail, material } = cutValues(cut);
  const { transposeCents } = partValues(document.parts[cut.partId]!);
  const isStretched = stretches(document, cut);
  const times = isStretched ? lengthRatio(document, cut) : 1;
  const ownBars = ownBarsOf(cut);
  return {
    cutId: cut.id,
    sourceId: cut.sourceId,
    sampleRate,
    frames,
    follow,
    tail,
    retiming: cutRetiming(document, cut),
    keyRetiming: {
      fill: 'stretch',
      material,
      transposeCents,
      times,
      ownBars: isStretched ? ownBars : null,
      keepsTime: true,
    },
    isStretched,
    tempoBpm: cutTempoBpm(document, cut) ?? 0,
    ownBars,
  };
}

function ownBarsOf({ loop }: Cut): Loop | null {
  return loop?.barFrames ? loop : null;
}

export function cutRetiming(document: ProjectDocument, cut: Cut): CutRetiming | null {
  const { follow, tail, material } = cutValues(cut);
  const ratio = lengthRatio(document, cut);
  const { transposeCents } = partValues(document.parts[cut.partId]!);
  if (!cut.loop) return null;
  const ownBars = ownBarsOf(cut);
  if (stretches(document, cut)) {
    if (!ownBars && Math.abs(ratio - 1) < SAME_RATIO && transposeCents === 0) return null;
    // Drums ring on as what they are, higher or lower; what moves inside notes is to stay in time.
    return { fill: 'stretch', material, transposeCents, times: ratio, ownBars, keepsTime: material !== 'drums' };
  }
  if (follow !== 'stretch' && (follow !== 'slices' || tail !== 'ring')) return null;
  const needed = ratio * largestShare(cut.loop) * transposeRatio(0, transposeCents);
  if (needed < 1 + SAME_RATIO) return null;
  const times = Math.max(MIN_RING_TIMES, 2 ** Math.ceil(Math.log2(needed)));
  return { fill: 'ring', material, transposeCents: 0, times, ownBars: null, keepsTime: false };
}

/** Of the bar that was played fastest: its slices last longest. */
function largestShare(loop: Loop): number {
  if (!loop.barFrames) return 1;
  const lines = barLines(loop);
  return Math.max(...lines.slice(1).map((line, bar) => rangeShare(loop, lines[bar]!, line)));
}
