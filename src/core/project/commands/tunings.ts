/** A tuned effect as an instrument: one treatment a note, on keys that follow each other. */
import { EFFECT_ROWS } from '../../params/effects.ts';
import { withValues } from '../../params/row.ts';
import { SONG_ROWS } from '../../params/tables.ts';
import type { Effect, Part, ProjectDocument } from '../../document/schema.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';
import { laySwitch } from './switches.ts';
import { keepTreatment } from './treatments.ts';

export interface Tuning {
  /** MIDI note, 0 to 127. */
  note: number;
  /** What its treatment is called. */
  name: string;
}

const LAST_KEY = 127;
const OCTAVE = 12;

/** Effects that are tuned to a note. */
export function isTuned({ kind }: Pick<Effect, 'kind'>): boolean {
  return kind === 'comb';
}

/**
 * The first of so many free keys that follow each other: the wanted one, the same note in another octave, or the first
 * there is; null where there are none.
 */
export function freeRun(document: ProjectDocument, part: Part, wanted: number, count: number): number | null {
  const taken = new Set((part.switches ?? []).flatMap(({ key }) => (key === null ? [] : [key])));
  for (const { keys } of zonesOfPart(document, part)) {
    if (keys) for (let key = keys.low; key <= keys.high; key++) taken.add(key);
  }
  const isFree = (from: number) =>
    from >= 0 &&
    from + count - 1 <= LAST_KEY &&
    Array.from({ length: count }, (_, i) => from + i).every((key) => !taken.has(key));
  for (let away = 0; away <= LAST_KEY; away += OCTAVE) {
    for (const from of [wanted - away, wanted + away]) if (isFree(from)) return from;
  }
  for (let from = 0; from <= LAST_KEY; from++) if (isFree(from)) return from;
  return null;
}

/**
 * Keeps a treatment of a part for each tuning of one of its effects, and lays them on keys that follow each other, the
 * first on its own note where that is free. They are put on at once from then on, as an instrument is played.
 */
export const layTunings: Command<{ partId: string; effectId: string; tunings: readonly Tuning[] }> = (
  document,
  { partId, effectId, tunings },
  env,
) => {
  const part = find(document.parts, partId);
  const effect = find(document.effects, effectId);
  if (!part || !effect || !document.channels[part.channelId]!.effectOrder.includes(effectId)) {
    return refused('this effect is not in the chain of the part');
  }
  if (!isTuned(effect)) return refused('this effect is tuned to no note');
  if (tunings.length === 0) return refused('choose one note at least');
  const firstKey = freeRun(document, part, tunings[0]!.note, tunings.length);
  if (firstKey === null) return refused('there are not so many free keys beside each other: choose fewer notes');
  let result: CommandResult = done(atOnce(document));
  for (const [place, { note, name }] of tunings.entries()) {
    if (!result.ok) return result;
    result = keepTreatment(tuned(result.document, effect, note), { partId, name }, env);
    if (!result.ok) return result;
    const treatmentId = result.document.parts[partId]!.treatments!.at(-1)!.id;
    const key = firstKey + place;
    const wanted = { does: 'treatment', patternId: null, treatmentId, whileHeld: false } as const;
    result = laySwitch(result.document, { partId, key, ...wanted }, env);
  }
  // The part itself sounds as it did.
  return result.ok ? done({ ...result.document, effects: document.effects }) : result;
};

function atOnce(document: ProjectDocument): ProjectDocument {
  const { song } = document;
  return { ...document, song: { ...song, values: withValues(SONG_ROWS, song.values, { changesAt: 'now' }) } };
}

function tuned(document: ProjectDocument, effect: Effect, note: number): ProjectDocument {
  const values = withValues(EFFECT_ROWS.comb, effect.values, { tunedTo: 'note', note });
  return { ...document, effects: { ...document.effects, [effect.id]: { ...effect, values } as Effect } };
}
