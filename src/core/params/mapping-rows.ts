/** How a controller moves a setting. */
import { bend, share } from './common-rows.ts';
import { choice, slotsOf } from './row.ts';

export const MAPPING_ROWS = {
  from: share('from', {
    hint: 'Where the setting stands with the controller at its lowest; above “to” it goes upside down',
    default: 0,
  }),
  to: share('to', { hint: 'Where it stands with the controller at its highest', default: 1 }),
  bend: bend('bend', 'Even at 0; the beginning of its way counts for more above, the end of it below'),
  meets: choice({
    label: 'takes over',
    hint: 'When the controller stands elsewhere than the setting: at once, or only when it comes to where that is, so that nothing jumps',
    choices: [
      { value: 'pick-up', words: 'where they meet' },
      { value: 'jump', words: 'at once' },
    ],
    default: 'pick-up',
  }),
  tells: choice({
    label: 'tells',
    hint: 'Where it stands (in 128 steps, or as two controllers in 16,384), or by how much it was turned',
    choices: [
      { value: 'place', words: 'where it stands' },
      { value: 'fine', words: 'where, finely' },
      { value: 'turn', words: 'turns, signed' },
      { value: 'turn-64', words: 'turns, around 64' },
    ],
    default: 'place',
  }),
};
export const MAPPING = slotsOf(MAPPING_ROWS);

/** What a controller or a key does that moves no setting. */
export const MAPPED_ACTIONS = [
  { value: 'deal', words: 'deal' },
  { value: 'deal-pitch', words: 'deal pitches alone' },
  { value: 'deal-repeats', words: 'deal repeats alone' },
  { value: 'deal-backwards', words: 'deal backwards alone' },
  { value: 'deal-short', words: 'deal short ones alone' },
  { value: 'deal-levels', words: 'deal levels alone' },
  { value: 'deal-pan', words: 'deal pan alone' },
  { value: 'next-hand', words: 'next hand' },
  { value: 'hand-before', words: 'hand before' },
  { value: 'next-pattern', words: 'next pattern' },
  { value: 'pattern-before', words: 'pattern before' },
  { value: 'next-treatment', words: 'next treatment' },
  { value: 'mute', words: 'mute the part' },
  { value: 'record', words: 'record' },
  { value: 'keep', words: 'keep what I just played' },
  { value: 'write-down', words: 'write down' },
  { value: 'play', words: 'play or stop' },
  { value: 'tap', words: 'tap the tempo' },
  { value: 'sound-off', words: 'all sound off' },
] as const;
export type MappedAction = (typeof MAPPED_ACTIONS)[number]['value'];
