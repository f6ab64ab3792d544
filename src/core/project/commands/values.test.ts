import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { zoneValues } from '../../queries/values.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { addEffect } from './effects.ts';
import { addModulator } from './modulators.ts';
import { copyPattern } from './patterns.ts';
import { setValue, valueOf, type Owner, type SetValueArgs } from './values.ts';

const env = countingEnv();

function made() {
  const { audio, starts } = eightStepLoop();
  const project = loopProject(audio, starts);
  const zones = project.document.parts[project.partId]!.zoneOrder.map((id): Owner => ({ kind: 'zone', id }));
  const set = (document: ProjectDocument, owners: Owner[], param: string, change: SetValueArgs['change']) =>
    unwrap(setValue(document, { owners, param, change }, env));
  const levels = (document: ProjectDocument) => Object.values(document.zones).map((zone) => zoneValues(zone).gainDb);
  return { ...project, zones, set, levels };
}

describe('setting a value', () => {
  it('of many at once: all to the same, or each by as much', () => {
    const { document, zones, set, levels } = made();
    const mixed = set(document, zones.slice(0, 2), 'gainDb', { to: -12 });
    expect(levels(mixed)).toEqual([-12, -12, 0, 0, 0, 0, 0, 0]);
    expect(levels(set(mixed, zones, 'gainDb', { by: -3 }))).toEqual([-15, -15, -3, -3, -3, -3, -3, -3]);
    expect(levels(set(mixed, zones, 'gainDb', { to: -6 }))).toEqual(Array(8).fill(-6));
  });

  it('moved by more than there is room for stops at the end of the range', () => {
    const { document, zones, set, levels } = made();
    const mixed = set(document, zones.slice(0, 1), 'gainDb', { to: -50 });
    expect(levels(set(mixed, zones, 'gainDb', { by: -20 }))).toEqual([-60, -20, -20, -20, -20, -20, -20, -20]);
  });

  it('is one way for every owner', () => {
    const { document, partId, cutId, env: ids, zones } = made();
    const { channelId } = document.parts[partId]!;
    let current = unwrap(addEffect(document, { channelId, kind: 'filter' }, ids));
    const ownerId = (zones[0] as { id: string }).id;
    current = unwrap(addModulator(current, { ownerId, kind: 'lfo', paramId: 'pan', amount: 1 }, ids));
    current = unwrap(copyPattern(current, { partId, patternId: `home-${cutId}` }, ids));
    const patternId = current.parts[partId]!.activePatternId;
    const cases: [Owner, string, number | string | boolean][] = [
      [{ kind: 'song' }, 'tempoBpm', 99],
      [{ kind: 'part', id: partId }, 'feelPercent', 30],
      [{ kind: 'cut', id: cutId }, 'follow', 'speed'],
      [zones[3]!, 'reverse', true],
      [{ kind: 'channel', id: channelId }, 'pan', -0.5],
      [{ kind: 'effect', id: Object.keys(current.effects)[0]! }, 'shape', 'notch'],
      [{ kind: 'modulator', id: Object.keys(current.modulators)[0]! }, 'rateHz', 4],
      [{ kind: 'event', patternId, id: eventsOf(current, patternId)[2]!.id }, 'velocity', 0.25],
    ];
    for (const [owner, param, to] of cases) {
      const after = unwrap(setValue(current, { owners: [owner], param, change: { to } }, env));
      expect([param, valueOf(after, owner, param)]).toEqual([param, to]);
      expect(valueOf(current, owner, param)).not.toBe(to);
    }
  });

  it('that changes nothing gives the same document', () => {
    const { document, zones, set } = made();
    expect(set(document, zones, 'gainDb', { to: 0 })).toBe(document);
  });

  it('is refused in words where it does not fit', () => {
    const { document, zones, home } = made();
    const refusal = (owners: Owner[], param: string, change: SetValueArgs['change']) => {
      const result = setValue(document, { owners, param, change }, env);
      return result.ok ? null : result.reason;
    };
    expect(refusal(zones, 'gainDb', { to: 40 })).toBe('level goes from -60.0 dB to 12.0 dB');
    expect(refusal(zones, 'gainDb', { by: NaN })).toBe('level cannot be moved by that');
    expect(refusal(zones, 'reverse', { by: 1 })).toBe('backwards cannot be moved by that');
    expect(refusal(zones, 'constructor', { to: 1 })).toBe('there is no setting "constructor" here');
    expect(refusal([{ kind: 'zone', id: 'toString' }], 'gainDb', { to: 1 })).toBe('there is nothing to change here');
    expect(refusal([{ kind: 'event', patternId: home, id: 'x' }], 'velocity', { to: 1 })).toContain('home pattern');
  });

  it('a shape of the filter brings a cutoff that lets the sound through, unless that was set by hand', () => {
    const { document, zones, set } = made();
    const [zone] = zones;
    const cutoff = (now: ProjectDocument) => valueOf(now, zone!, 'cutoffHz');
    const high = set(document, zones, 'filter', { to: 'high' });
    expect(cutoff(high)).toBe(150);
    expect(cutoff(set(high, zones, 'filter', { to: 'band' }))).toBe(1000);
    expect(cutoff(set(high, zones, 'filter', { to: 'low' }))).toBe(20_000);
    const own = set(high, zones, 'cutoffHz', { to: 333 });
    expect(cutoff(set(own, zones, 'filter', { to: 'low' }))).toBe(333);
    expect(cutoff(set(own, zones, 'filter', { to: 'notch' }))).toBe(333);
  });
});
