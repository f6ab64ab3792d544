/** Slices as they sound: each played once, alone, with its settings, through its part's chain. */
import type { Part, PatternEvent, ProjectDocument } from '../document/schema.ts';
import { rangeLengthRatio } from '../queries/loops.ts';
import { printedDocument } from '../queries/printing.ts';
import { songValues } from '../queries/values.ts';
import { zonesOfPart } from '../queries/zones.ts';
import { withValues } from '../params/row.ts';
import { PART_ROWS } from '../params/tables.ts';
import { framesPerTick } from '../units/time.ts';

export interface SoundingSlice {
  /** What is bounced. */
  document: ProjectDocument;
  /** How long it is struck; what rings comes after it. */
  lengthTicks: number;
}

const ALONE = 'slice-alone';

/** @returns null for a slice that no sound of the part plays */
export function soundingSlice(
  document: ProjectDocument,
  part: Part,
  cutId: string,
  sliceId: string,
): SoundingSlice | null {
  const found = zonesOfPart(document, part).find(
    ({ zone, cut, at }) => zone.plays.kind === 'slice' && cut.id === cutId && at.slice.id === sliceId,
  );
  if (!found) return null;
  const { zone, cut, at } = found;
  const { sampleRate } = document.sources[cut.sourceId]!;
  const seconds = ((at.endFrame - at.startFrame) / sampleRate) * rangeLengthRatio(document, cut, at);
  const lengthTicks = Math.max(1, seconds / framesPerTick(songValues(document).tempoBpm, 1));
  const event: PatternEvent = { id: ALONE, zoneId: zone.id, positionTicks: 0, lengthTicks, values: {} };
  // What it is doubled with sounds, too; all else of the part does not.
  const doubles = (part.doubles ?? []).filter(({ zoneIds }) => zoneIds.includes(zone.id));
  const alone: Part = {
    ...part,
    zoneOrder: [...new Set([zone.id, ...doubles.map(({ soundId }) => soundId)])],
    patternOrder: [ALONE],
    activePatternId: ALONE,
    groove: null,
    values: withValues(PART_ROWS, part.values, { startOffsetTicks: 0, feelPercent: 100 }),
  };
  const pattern = {
    id: ALONE,
    partId: part.id,
    name: ALONE,
    lengthTicks: Math.max(15, lengthTicks),
    events: { [ALONE]: event },
    ground: null,
    hands: {},
    handOrder: [],
    handId: null,
  };
  const one = {
    ...document,
    parts: { ...document.parts, [part.id]: alone },
    patterns: { ...document.patterns, [ALONE]: pattern },
  };
  return { document: printedDocument(one, alone, { withChain: true, rounds: 1 }), lengthTicks };
}
