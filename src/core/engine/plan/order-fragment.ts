/** The running order as the renderer plays it. */
import { turnsOf, type LaidSection, type Turn } from '../../order/layout.ts';
import { countedBeats, countedBeatTicks } from '../../units/time.ts';
import { tempoStretches, type TempoStretch } from '../../order/tempi.ts';

export interface OrderSection {
  id: string;
  startTicks: number;
  roundTicks: number;
  repeats: number;
  /** Of what is counted, and how many of them are a bar. */
  beatTicks: number;
  beatsABar: number;
  /** What parts play, by their ids, in all rounds but the last and in that; those that are missing rest. */
  turns: ReadonlyMap<string, { each: readonly Turn[]; last: readonly Turn[] }>;
}

export interface OrderFragment {
  sections: readonly OrderSection[];
  tempos: readonly TempoStretch[];
  lengthTicks: number;
}

export interface OrderInputs {
  sections: readonly LaidSection[];
  lengthTicks: number;
}

/** @returns null where there is no section */
export function orderFragment({ sections, lengthTicks }: OrderInputs): OrderFragment | null {
  if (sections.length === 0) return null;
  return {
    lengthTicks,
    tempos: tempoStretches(sections),
    sections: sections.map(({ section, startTicks, roundTicks, repeats, beatsPerBar }) => {
      const { placings } = section;
      const partIds = new Set(placings.map(({ partId }) => partId));
      const turns = [...partIds].map((partId) => {
        const each = turnsOf(placings, partId, roundTicks, false);
        const last = turnsOf(placings, partId, roundTicks, true);
        return [partId, { each, last }] as const;
      });
      return {
        id: section.id,
        startTicks,
        roundTicks,
        repeats,
        beatTicks: countedBeatTicks(beatsPerBar),
        beatsABar: countedBeats(beatsPerBar),
        turns: new Map(turns),
      };
    }),
  };
}
