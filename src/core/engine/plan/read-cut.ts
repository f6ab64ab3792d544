/** What the zones of a cut have in common: how it follows the song, and how its slices are rendered for that. */
import type { Cut, ProjectDocument } from '../../document/schema.ts';
import type { Follow, Tail } from '../../params/choices.ts';
import { stretches } from '../../queries/following.ts';
import { cutTempoBpm, lengthRatio } from '../../queries/loops.ts';
import { cutValues, partValues } from '../../queries/values.ts';
import type { SliceRetiming } from '../../stretch/retime.ts';
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
}

export function readCut(document: ProjectDocument, cut: Cut): ReadCut {
  const { sampleRate, frames } = document.sources[cut.sourceId]!;
  const { follow, tail, material } = cutValues(cut);
  const { transposeCents } = partValues(document.parts[cut.partId]!);
  const isStretched = stretches(document, cut);
  const times = isStretched ? lengthRatio(document, cut) : 1;
  return {
    cutId: cut.id,
    sourceId: cut.sourceId,
    sampleRate,
    frames,
    follow,
    tail,
    retiming: cutRetiming(document, cut),
    keyRetiming: { fill: 'stretch', material, transposeCents, times, keepsTime: true },
    isStretched,
    tempoBpm: cutTempoBpm(document, cut) ?? 0,
  };
}

export function cutRetiming(document: ProjectDocument, cut: Cut): CutRetiming | null {
  const { follow, tail, material } = cutValues(cut);
  const ratio = lengthRatio(document, cut);
  const { transposeCents } = partValues(document.parts[cut.partId]!);
  if (!cut.loop) return null;
  if (stretches(document, cut)) {
    if (Math.abs(ratio - 1) < SAME_RATIO && transposeCents === 0) return null;
    // Drums ring on as what they are, higher or lower; what moves inside notes is to stay in time.
    return { fill: 'stretch', material, transposeCents, times: ratio, keepsTime: material !== 'drums' };
  }
  if (follow !== 'stretch' && (follow !== 'slices' || tail !== 'ring')) return null;
  const needed = ratio * transposeRatio(0, transposeCents);
  if (needed < 1 + SAME_RATIO) return null;
  const times = Math.max(MIN_RING_TIMES, 2 ** Math.ceil(Math.log2(needed)));
  return { fill: 'ring', material, transposeCents: 0, times, keepsTime: false };
}
