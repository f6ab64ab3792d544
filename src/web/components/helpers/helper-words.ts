/** What a card says of a helper, and which of its settings matter as it is set. */
import { CHORDS } from '#core/params/chords.ts';
import { HELPER_ROWS, type HelperKind } from '#core/params/helpers.ts';
import { fullValues } from '#core/params/row.ts';
import type { Helper } from '#core/document/schema.ts';
import { intervalsOf } from '#core/queries/helpers.ts';

export const NUMBERS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight'];

/** Beside the name, in a few words. */
export function noteOf(helper: Helper): string {
  if (helper.kind === 'chord') {
    const { chord, strumMs } = fullValues(HELPER_ROWS.chord, helper.values);
    const count = `one key, ${NUMBERS[intervalsOf(helper).length]} notes`;
    return strumMs > 0 ? `${count}, strummed` : chord === 'own' ? `${count} of its own` : count;
  }
  if (helper.kind === 'runner') {
    const { plays, latched } = fullValues(HELPER_ROWS.runner, helper.values);
    return [plays === 'filled' ? 'one key plays all' : 'held keys', latched ? 'latched' : '']
      .filter(Boolean)
      .join(', ');
  }
  const { count, endless, shiftCents } = fullValues(HELPER_ROWS.echoes, helper.values);
  const shift =
    shiftCents === 0 ? '' : `, each ${Math.abs(shiftCents / 100)} st ${shiftCents < 0 ? 'lower' : 'higher'}`;
  return `${endless ? 'endless' : count}${shift}`;
}

/** The settings that stand on a card. */
export const ON_CARD: Readonly<Record<HelperKind, readonly string[]>> = {
  chord: ['chord', 'heldTo'],
  runner: ['order', 'rate'],
  echoes: ['rate', 'fallPercent'],
};

export interface HelperSection {
  id: string;
  title: string;
  params: readonly string[];
}

/** The settings of a helper in groups, without those that are of no use as it is set. */
export function sectionsOf({ kind, values }: Helper): HelperSection[] {
  if (kind === 'chord') {
    const { heldTo, strumMs } = fullValues(HELPER_ROWS.chord, values);
    return [
      {
        id: 'chord-notes',
        title: 'Notes',
        params: ['chord', 'heldTo', ...(heldTo === 'scale' ? ['scale', 'scaleRoot'] : [])],
      },
      { id: 'chord-strum', title: 'Strum', params: ['strumMs', ...(strumMs > 0 ? ['strums'] : [])] },
    ];
  }
  if (kind === 'runner') {
    const { strength } = fullValues(HELPER_ROWS.runner, values);
    return [
      { id: 'runner-order', title: 'Order', params: ['plays', 'order', 'octaves', 'hits'] },
      { id: 'runner-time', title: 'Time', params: ['rate', 'gatePercent', 'cuts', 'swingPercent', 'restPercent'] },
      {
        id: 'runner-strength',
        title: 'Strength',
        params: ['strength', ...(strength === 'fixed' ? ['fixedStrength'] : [])],
      },
      { id: 'runner-starts', title: 'Starts', params: ['starts', 'latched'] },
    ];
  }
  const { endless } = fullValues(HELPER_ROWS.echoes, values);
  return [
    {
      id: 'echoes-time',
      title: 'Time',
      params: ['rate', 'endless', ...(endless ? [] : ['count']), 'gatePercent', 'until'],
    },
    { id: 'echoes-sound', title: 'Fall and pitch', params: ['fallPercent', 'shiftCents'] },
  ];
}

export const chordWords = (value: string) => CHORDS.find((one) => one.value === value)?.words ?? 'own';
