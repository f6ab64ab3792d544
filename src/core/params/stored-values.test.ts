import { describe, expect, it } from 'vitest';
import { DEAL_ROWS } from './deal-rows.ts';
import { soundValues } from './row.ts';

describe('values out of a store that others write, too', () => {
  it('are what fits; what was renamed, or is out of its range, is as if it had not been set', () => {
    const [numberId] = Object.entries(DEAL_ROWS).find(([, row]) => row.kind === 'number')!;
    const row = DEAL_ROWS[numberId as keyof typeof DEAL_ROWS] as { min: number; max: number };
    expect(soundValues(DEAL_ROWS, { [numberId]: row.max, renamed: 1 })).toEqual({ [numberId]: row.max });
    expect(soundValues(DEAL_ROWS, { [numberId]: row.max + 1 })).toEqual({});
    for (const stored of [null, undefined, 7, 'x', [], [1]]) expect(soundValues(DEAL_ROWS, stored)).toEqual({});
  });
});
