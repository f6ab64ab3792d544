/**
 * The running order laid out: where its sections begin, in which tempo and metre they go, and what each part plays in
 * their rounds. Positions in ticks from the beginning of the song.
 */
import type { Placing, ProjectDocument, Section } from '../document/schema.ts';
import { SECTION_ROWS, type SectionValues } from '../params/section-rows.ts';
import { fullValues } from '../params/row.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';
import { songValues } from '../queries/values.ts';

export function sectionValues({ values }: Pick<Section, 'values'>): SectionValues {
  return fullValues(SECTION_ROWS, values);
}

export interface LaidSection {
  section: Section;
  /** Place in the order, from 0. */
  place: number;
  startTicks: number;
  /** Of one round; it is played `repeats` times. */
  roundTicks: number;
  repeats: number;
  beatsPerBar: number;
  /** Bars before it, with all repeats. */
  barsBefore: number;
  lengthBars: number;
  /** What it comes from, and over how many ticks it gets to its own; 0: at once. */
  tempoBefore: number;
  arriveTicks: number;
  tempoBpm: number;
}

export interface LaidOrder {
  sections: readonly LaidSection[];
  lengthTicks: number;
  /** With all repeats. */
  bars: number;
}

const laid = new WeakMap<object, { order: readonly string[]; song: object; layout: LaidOrder }>();

/** The layout of a document's running order; the same object for the same sections. */
export function orderLayout(document: Pick<ProjectDocument, 'sections' | 'sectionOrder' | 'song'>): LaidOrder {
  const { sections, sectionOrder, song } = document;
  const known = laid.get(sections);
  if (known?.order === sectionOrder && known.song === song.values) return known.layout;
  const layout = layOut(document);
  laid.set(sections, { order: sectionOrder, song: song.values, layout });
  return layout;
}

function layOut(document: Pick<ProjectDocument, 'sections' | 'sectionOrder' | 'song'>): LaidOrder {
  const ofSong = songValues(document);
  const result: LaidSection[] = [];
  let startTicks = 0;
  let barsBefore = 0;
  let tempoBefore = ofSong.tempoBpm;
  for (const [place, id] of document.sectionOrder.entries()) {
    const section = document.sections[id]!;
    const values = sectionValues(section);
    const { lengthBars, repeats } = values;
    const beatsPerBar = values.metreFrom === 'own' ? values.beatsPerBar : ofSong.beatsPerBar;
    const tempoBpm = values.tempoFrom === 'own' ? values.tempoBpm : ofSong.tempoBpm;
    const barTicks = beatsPerBar * TICKS_PER_BEAT;
    const roundTicks = lengthBars * barTicks;
    const arriveTicks = tempoBpm === tempoBefore ? 0 : Math.min(values.arriveBars, lengthBars * repeats) * barTicks;
    result.push({
      section,
      place,
      startTicks,
      roundTicks,
      repeats,
      beatsPerBar,
      barsBefore,
      lengthBars,
      tempoBefore,
      arriveTicks,
      tempoBpm,
    });
    startTicks += roundTicks * repeats;
    barsBefore += lengthBars * repeats;
    tempoBefore = tempoBpm;
  }
  return { sections: result, lengthTicks: startTicks, bars: barsBefore };
}

/** The section that a position lies in; of one past the end the last; undefined where there is none. */
export function sectionAt({ sections }: LaidOrder, ticks: number): LaidSection | undefined {
  let low = 0;
  let high = sections.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (sections[middle]!.startTicks <= ticks) low = middle;
    else high = middle - 1;
  }
  return sections[low];
}

/** What a part plays from somewhere in a round on, up to the next of these; '' for a rest. */
export interface Turn {
  startTicks: number;
  patternId: string;
  /** How it sounds meanwhile; '' for as it does by itself. */
  treatmentId: string;
}

/**
 * What a part plays in a round of a section, from its beginning to its end without a gap. Of placings that lie on each
 * other the one that begins later is heard; in the last round fills come before all others.
 */
export function turnsOf(
  placings: readonly Placing[],
  partId: string,
  roundTicks: number,
  isLastRound: boolean,
): readonly Turn[] {
  const own = placings.filter(
    (one) => one.partId === partId && (isLastRound || !one.isFill) && one.startTicks < roundTicks,
  );
  // Later in this list goes before.
  const ranked = own.toSorted((a, b) => Number(a.isFill) - Number(b.isFill) || a.startTicks - b.startTicks);
  const edges = new Set([0]);
  for (const { startTicks, lengthTicks } of own) {
    edges.add(startTicks);
    if (startTicks + lengthTicks < roundTicks) edges.add(startTicks + lengthTicks);
  }
  const turns: (Turn & { by: string })[] = [];
  for (const startTicks of [...edges].sort((a, b) => a - b)) {
    const winner = ranked.findLast(
      (one) => one.startTicks <= startTicks && one.startTicks + one.lengthTicks > startTicks,
    );
    const heard = winner && !winner.muted ? winner : null;
    const by = heard?.id ?? '';
    if (turns.at(-1)?.by === by) continue;
    turns.push({ startTicks, patternId: heard?.patternId ?? '', treatmentId: heard?.treatmentId ?? '', by });
  }
  return turns.map(({ by: _, ...turn }) => turn);
}
