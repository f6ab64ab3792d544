// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Role } from '#core/analysis/role-names.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { leaveStores, openInStores } from '../../../../tests/support/opened-project.ts';
import { shortBursts } from '../../../../tests/support/playing.ts';
import { CHOSEN, useDoubles } from './doubles.ts';

vi.mock('../../audio/services.ts', () => {
  const nothing = () => undefined;
  return {
    library: { audio: new Map(), peaks: new Map(), load: () => Promise.reject(new Error('no sound')) },
    engine: { onStatus: nothing, sendPatch: nothing, send: nothing, positionTicksNow: () => 0, status: {} },
    renderings: { request: nothing, missing: 0 },
    notes: {},
  };
});

/** A part whose slices are struck so. */
function partOf(roles: readonly Role[]) {
  const { document } = shortBursts();
  const [cutId] = Object.keys(document.cuts);
  slicesOfCut(document, cutId!).forEach(({ slice }, place) => (slice.role = roles[place % roles.length]!));
  return document;
}

describe('what may lie under hits', () => {
  let doubles: ReturnType<typeof useDoubles>;
  beforeEach(async () => {
    await openInStores(partOf(['closed hat', 'kick', 'snare', 'kick']));
    doubles = useDoubles();
  });
  afterEach(leaveStores);

  const roleOf = (zoneId: string) => doubles.sounds.find(({ value }) => value === zoneId)!.role;

  it('is first of all what has their role, and none of themselves', () => {
    const [first, ...others] = doubles.groups.find(({ value }) => value === 'kick')!.zoneIds;
    const under = doubles.soundsUnder({ value: CHOSEN, words: 'the chosen', zoneIds: [first!] });
    const values = under.map(({ value }) => value);
    expect(values).not.toContain(first);
    expect(values.slice(0, others.length).sort()).toEqual([...others].sort());
    expect(under).toHaveLength(doubles.sounds.length - 1);
  });

  it('is anything else where all of a role are meant', () => {
    const kicks = doubles.groups.find(({ value }) => value === 'kick')!;
    const under = doubles.soundsUnder(kicks);
    expect(under.length).toBe(doubles.sounds.length - kicks.zoneIds.length);
    expect(under.some(({ value }) => roleOf(value) === 'kick')).toBe(false);
  });
});
