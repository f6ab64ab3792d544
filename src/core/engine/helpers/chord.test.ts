import { ChordType, ScaleType } from 'tonal';
import { describe, expect, it } from 'vitest';
import { CHORDS, SCALES } from '#core/params/chords.ts';
import { drawStrengths, toggleInterval } from '#core/project/commands/helpers.ts';
import { setPart } from '../../../../tests/support/edits.ts';
import { withValues } from '../../../../tests/support/keys.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { LOW_KEY, RATE, WayRig, wayProject } from '../../../../tests/support/on-the-way.ts';

const ENV = { newId: () => '', newSeed: () => 1 };

/** Names of the package where they are others than ours. */
const NAMES: Record<string, string> = {
  octave: '',
  major: 'M',
  minor: 'm',
  '6': '6',
  '69': '6add9',
  'minor blues': 'minor blues',
};

describe('named chords and scales', () => {
  // Outside: the dictionaries of the package "tonal".
  it.each(CHORDS.filter(({ value }) => value !== 'octave'))(
    '$value has the notes that others give it',
    ({ value, intervals }) => {
      const known = ChordType.get(NAMES[value] ?? value);
      expect(known.empty).toBe(false);
      const pitches = [...new Set(intervals.map((semitones) => semitones % 12))].sort((a, b) => a - b);
      const theirs = [...known.chroma].flatMap((bit, pitch) => (bit === '1' ? [pitch] : []));
      // Close positions of a 13th leave its 11th out (common practice).
      const isThinned = value.endsWith('13');
      expect(theirs).toEqual(expect.arrayContaining(pitches));
      if (!isThinned) expect(pitches).toEqual(theirs);
    },
  );

  it.each(SCALES)('the scale $value, too', ({ value, steps }) => {
    const known = ScaleType.get(value === 'minor' ? 'aeolian' : value);
    expect([...known.chroma].flatMap((bit, pitch) => (bit === '1' ? [pitch] : []))).toEqual(steps);
  });
});

describe('a chord on the way', () => {
  it('plays its notes on one frame, on the keys themselves where all are filled', () => {
    const made = wayProject([['chord', { chord: 'm7' }]], 16);
    const rig = new WayRig(made);
    const note = rig.press(LOW_KEY + 1, 1000);
    rig.letGo(note, 3000);
    rig.runTo(5000);
    expect(rig.keys).toEqual([49, 52, 56, 59]);
    expect(rig.frames).toEqual([1000, 1000, 1000, 1000]);
    expect(rig.ended).toEqual([3000, 3000, 3000, 3000]);
  });

  it('is held to the filled keys, each once, the nearest first', () => {
    // Keys 48 to 51 alone are filled: 60 and 64 go to what is left.
    const rig = new WayRig(wayProject([['chord', { chord: 'major' }]], 4));
    rig.press(LOW_KEY, 100);
    expect(rig.runTo(500).keys).toEqual([48, 51, 50]);
  });

  it('passes over what is silenced, and is silent where nothing is filled', () => {
    const made = wayProject([['chord', { chord: '5' }]], 8);
    const [, , , , , , , last] = made.document.parts[made.partId]!.zoneOrder;
    const muted = withValues(made.document, { kind: 'zone', id: last! }, { muted: true });
    const rig = new WayRig(made, muted);
    rig.press(LOW_KEY, 0);
    expect(rig.runTo(200).keys).toEqual([48, 54]);
    const all = made.document.parts[made.partId]!.zoneOrder.reduce(
      (document, id) => withValues(document, { kind: 'zone', id }, { muted: true }),
      made.document,
    );
    const silent = new WayRig(made, all);
    silent.press(LOW_KEY, 0);
    expect(silent.runTo(200).keys).toEqual([]);
  });

  it('is held to a scale of the root that is said, or stays free', () => {
    const scale = wayProject([['chord', { chord: 'dim', heldTo: 'scale', scale: 'major', scaleRoot: 0 }]], 16);
    const rig = new WayRig(scale);
    rig.press(48, 0);
    // C, Eb, Gb: Eb goes down to D, Gb to F.
    expect(rig.runTo(200).keys).toEqual([48, 50, 53]);
    const free = new WayRig(wayProject([['chord', { chord: 'octave', heldTo: 'free' }]], 4));
    free.press(48, 0);
    expect(free.runTo(200).struck.map(({ key, zoneId }) => [key, zoneId !== ''])).toEqual([
      [48, true],
      [60, false],
    ]);
  });

  it('strums to the frame, and each note lasts as long as the key', () => {
    const rig = new WayRig(wayProject([['chord', { chord: 'major', strumMs: 20, strums: 'down' }]], 16));
    const note = rig.press(48, 500);
    rig.letGo(note, 900);
    rig.runTo(4000);
    const frames = [500, 500 + Math.round(0.02 * RATE), 500 + Math.round(0.04 * RATE)];
    expect(rig.keys).toEqual([55, 52, 48]);
    expect(rig.frames).toEqual(frames);
    expect(rig.ended).toEqual(frames.map((frame) => frame + 400));
  });

  it('has strengths of its own, and intervals of its own', () => {
    const made = wayProject([['chord', { chord: 'major' }]], 16);
    const [helperId] = made.helperIds;
    let document = unwrap(toggleInterval(made.document, { helperId: helperId!, semitones: 4 }, ENV));
    document = unwrap(toggleInterval(document, { helperId: helperId!, semitones: 3 }, ENV));
    document = unwrap(drawStrengths(document, { helperId: helperId!, strengths: [1, 0.5] }, ENV));
    const rig = new WayRig(made, document);
    rig.press(48, 0, 0.8);
    expect(rig.runTo(200).struck.map(({ key, velocity }) => [key, velocity])).toEqual([
      [48, 0.8],
      [51, 0.4],
      [55, 0.8],
    ]);
  });

  it('sounds whole where notes come one at a time, and makes way for the next chord as one', () => {
    const made = wayProject([['chord', { chord: 'major' }]], 16);
    const single = unwrap(setPart(made.document, { partId: made.partId, settings: { oneAtATime: true } }));
    const rig = new WayRig(made, single);
    const sounding = () => {
      const zones = new Set<string>();
      rig.renderer.eachSounding((_part, zoneId) => zones.add(zoneId));
      return zones.size;
    };
    rig.press(48, 0);
    rig.runTo(1000);
    expect(sounding()).toBe(3);
    rig.press(50, 1000);
    rig.runTo(3000);
    expect(sounding()).toBe(3);
    expect(rig.keys.slice(3)).toEqual([50, 54, 57]);
  });
});
