/** Settings of a double: another sound under chosen hits. */
import { share } from './common-rows.ts';
import { slotsOf } from './row.ts';

export const DOUBLE_ROWS = {
  blend: share('blend', {
    hint: 'The hits alone at 0, their double alone at 100; as loud in between',
    default: 0.5,
    movedBy: 1,
  }),
  follow: share('follows', {
    hint: 'How much it is as strong as each hit is in the loop; the loudest of them is whole',
    default: 0.5,
    movedBy: 1,
  }),
};
export const DOUBLE = slotsOf(DOUBLE_ROWS);
