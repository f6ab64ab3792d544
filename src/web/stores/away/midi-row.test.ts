import { describe, expect, it } from 'vitest';
import { midiSong } from '#core/takeaway/midi-song.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import type { Role } from '#core/analysis/role-names.ts';
import { loopProject } from '../../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { midiRow } from './midi-row.ts';
import { DEFAULT_TAKE_AWAY } from './take-away-rows.ts';

/** Eight slices of these roles, one after the other. */
function withRoles(...roles: Role[]): ProjectDocument {
  const { audio, starts } = eightStepLoop();
  const { document, cutId } = loopProject(audio, starts);
  const cut = document.cuts[cutId]!;
  const slices = Object.fromEntries(
    Object.entries(cut.slices).map(([id, slice], place) => [id, { ...slice, role: roles[place % roles.length]! }]),
  );
  return { ...document, cuts: { ...document.cuts, [cutId]: { ...cut, slices } } };
}
const row = (document: ProjectDocument, keys: 'own' | 'drums') => {
  const settings = { ...DEFAULT_TAKE_AWAY.midi, keys };
  return midiRow(document, settings, midiSong(document, settings));
};

describe('patterns as MIDI', () => {
  it('say how many strips drums have no key for by agreement, and nothing where all have one', () => {
    const document = withRoles('kick', 'snare', 'closed hat', 'chord');
    expect(row(document, 'own')).toMatchObject({ problem: null, seconds: 2 });
    expect(row(document, 'own').lacks).toBeUndefined();
    expect(row(document, 'drums')).toMatchObject({ problem: null, lacks: '2 strips have no key there: left out' });
    expect(row(withRoles(...Array<Role>(7).fill('kick'), 'note'), 'drums').lacks).toMatch(/^1 strip has/);
    expect(row(withRoles('chord'), 'drums').problem).toBe('none of these sounds lies on a key');
  });
});
