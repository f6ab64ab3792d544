/** Another loop in a part's place: by role or by order, with all that was made of the first. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { planOf, play } from '../../../../tests/support/playing.ts';
import { noise } from '../../../../tests/support/signals.ts';
import type { Role } from '../../analysis/role-names.ts';
import type { AudioData } from '../../dsp/audio.ts';
import { problemOfChange } from '../../document/validate.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { matchSlices } from '../../queries/match-slices.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { addDouble } from './doubles.ts';
import { addEffect } from './effects.ts';
import { copyPattern } from './patterns.ts';
import { replaceLoop } from './replace-loop.ts';
import { keepTreatment } from './treatments.ts';
import { setValue } from './values.ts';

const RATE = 44_100;
const BREAK: Role[] = ['kick', 'closed hat', 'snare', 'closed hat', 'kick', 'kick', 'snare', 'open hat'];
const OTHER: Role[] = ['kick', 'snare', 'kick', 'closed hat', 'snare'];
const heard = (roles: readonly Role[]) => roles.map((role, place) => ({ role, startFrame: place * 1000 }));

function withRoles(): ReturnType<typeof loopProject> {
  const starts = BREAK.map((_, step) => step * 11_025);
  const made = loopProject(
    { sampleRate: RATE, channels: [noise(88_200, 3).map((x) => x * 0.2)] } as AudioData,
    starts,
    1,
  );
  const cut = made.document.cuts[made.cutId]!;
  const ordered = Object.values(cut.slices).sort((a, b) => a.startFrame - b.startFrame);
  const slices = Object.fromEntries(ordered.map((slice, place) => [slice.id, { ...slice, role: BREAK[place]! }]));
  return { ...made, document: { ...made.document, cuts: { ...made.document.cuts, [cut.id]: { ...cut, slices } } } };
}

function newCut(roles: readonly Role[]) {
  const frames = roles.length * 10_000;
  return {
    source: { id: 'other', name: 'another break', sampleRate: RATE, channels: 1 as const, frames },
    loop: { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: 4 },
    tempoReadings: [],
    slices: roles.map((role, place) => ({
      startFrame: place * 10_000,
      strength: 0.5,
      role,
      roleConfidence: 0.9,
      brightnessHz: 1000,
      midi: null,
      cents: null,
    })),
  };
}

describe('slices of another loop', () => {
  it('are matched by role, each in its turn, and begin again where there are fewer', () => {
    const { places, byRole } = matchSlices(heard(BREAK), heard(OTHER));
    expect(places).toEqual([0, 3, 1, 3, 2, 0, 4, 4]);
    // There is no open hat: it takes the place as far on in the loop.
    expect(byRole).toEqual([true, true, true, true, true, true, true, false]);
  });

  it('are matched by order where the roles say nothing', () => {
    const notes = heard(['note', 'note', 'chord', 'note']);
    expect(matchSlices(notes, heard(BREAK)).places).toEqual([0, 2, 5, 7]);
    expect(matchSlices(heard(BREAK), heard(BREAK)).places.slice(0, 3)).toEqual([0, 1, 2]);
    expect(matchSlices(heard(['kick']), heard(['note'])).places).toEqual([0]);
  });
});

describe('another loop in the place of a part’s', () => {
  const env = (() => {
    const counting = countingEnv();
    return { ...counting, newId: () => `made-${counting.newId()}` };
  })();

  function grown(): { made: ReturnType<typeof withRoles>; document: ProjectDocument } {
    const made = withRoles();
    const { partId } = made;
    const zoneIds = made.document.parts[partId]!.zoneOrder;
    const { channelId } = made.document.parts[partId]!;
    let document = unwrap(addEffect(made.document, { channelId, kind: 'echo' }, env));
    document = unwrap(copyPattern(document, { partId, patternId: document.parts[partId]!.activePatternId }, env));
    const owners = [{ kind: 'zone' as const, id: zoneIds[2]! }];
    document = unwrap(setValue(document, { owners, param: 'tuneCents', change: { to: 300 } }, env));
    document = unwrap(
      addDouble(document, { partId, zoneIds: [zoneIds[0]!, zoneIds[4]!], soundId: zoneIds[6]!, name: '' }, env),
    );
    document = unwrap(keepTreatment(document, { partId }, env));
    return { made, document };
  }

  it('keeps settings, chain, treatments, doubles and patterns, and tells nothing lost of them', () => {
    const { made, document } = grown();
    const { partId, cutId } = made;
    const next = unwrap(replaceLoop(document, { cutId, ...newCut(OTHER) }, env));
    expect(problemOfChange(document, next)).toBeNull();
    const part = next.parts[partId]!;
    const was = document.parts[partId]!;
    for (const field of ['treatments', 'doubles', 'patternOrder', 'activePatternId', 'channelId', 'values'] as const) {
      expect(part[field]).toEqual(was[field]);
    }
    expect(next.patterns).toBe(document.patterns);
    expect(next.effects).toBe(document.effects);
    expect(next.zones[was.zoneOrder[2]!]!.values.tuneCents).toBe(300);
    expect(next.sources).toEqual({ other: newCut(OTHER).source });
    const roles = zonesOfPart(next, part).map(({ at }) => at.slice.role);
    expect(roles.slice(0, 7)).toEqual(BREAK.slice(0, 7));
    // Every event of the pattern still has a sound; the new loop's own order is its home.
    const events = eventsOf(next, part.activePatternId);
    expect(events.every(({ zoneId }) => next.zones[zoneId])).toBe(true);
    expect(eventsOf(next, `home-${cutId}`)).toHaveLength(OTHER.length);
  });

  it('gives each of its slices a sound, one key a slice, and is heard', () => {
    const { made, document } = grown();
    const more: Role[] = [...OTHER, 'tom', 'cymbal', 'clap', 'rim', 'open hat'];
    const next = unwrap(replaceLoop(document, { cutId: made.cutId, ...newCut(more) }, env));
    const placed = zonesOfPart(next, next.parts[made.partId]!);
    expect(new Set(placed.map(({ at }) => at.slice.id)).size).toBe(more.length);
    const keyed = placed.filter(({ keys }) => keys);
    expect(new Set(keyed.map(({ keys }) => keys!.low)).size).toBe(keyed.length);
    const audio = { sampleRate: RATE, channels: [noise(more.length * 10_000, 5).map((x) => x * 0.2)] } as AudioData;
    const left = play(planOf({ ...made, document: next, assets: new Map([['other', audio]]) }), 40_000);
    expect(left.some((x) => Math.abs(x) > 0.01)).toBe(true);
  });

  it('is refused where a hit would take a loop’s place, or nothing was found', () => {
    const { made, document } = grown();
    const { cutId } = made;
    expect(replaceLoop(document, { cutId, ...newCut(OTHER), loop: null }, env).ok).toBe(false);
    expect(replaceLoop(document, { cutId, ...newCut([]) }, env).ok).toBe(false);
  });
});
