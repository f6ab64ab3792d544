/** How the pitch of a sound is made flat: no settings of a document, but of the work at hand. */
import { percent } from './common-rows.ts';
import { toggle, type ValuesOf } from './row.ts';

export const FLAT_ROWS = {
  percent: percent('flatter', {
    hint: 'At 100 all of it is on one note; below, glides and wavers stay in part',
    default: 100,
  }),
  keepsFormants: toggle({
    label: 'its colour stays',
    hint: 'A voice stays that voice, however far it is moved; else its colour moves with the pitch',
    default: true,
  }),
};
export type FlatValues = ValuesOf<typeof FLAT_ROWS>;
