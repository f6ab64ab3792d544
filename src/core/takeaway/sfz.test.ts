/**
 * Instruments read back by a parser that is not ours (the package `sfz-parser`), and played by a small reader of this test
 * after the meaning of the opcodes: level by the square of the strength, equal temperament, loops inclusive of their end.
 */
import { transform } from 'sfz-parser';
import { describe, expect, it } from 'vitest';
import { KeyedPart, RATE } from '../../../tests/support/keys.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { sine } from '../../../tests/support/signals.ts';
import { copyZone, setVelocities, setZoneLoop } from '../project/commands/zones.ts';
import { addEffect } from '../project/commands/effects.ts';
import { setValue } from '../project/commands/values.ts';
import { sfzInstrument, type SfzInstrument, type SfzOptions } from './sfz.ts';

const OPTIONS: SfzOptions = { withShape: true, withChoke: true, folder: 'samples', ending: 'wav' };
const env = {
  ...countingEnv(),
  newId: (() => {
    let n = 0;
    return () => `new-${++n}`;
  })(),
};

type Region = Record<string, string | number>;

/** The regions as the parser reads them: the last one only where something follows. */
function regionsOf(text: string): Region[] {
  const sections = transform(`${text}\n<control>`) as unknown as { type: string; property: Region }[];
  return sections.filter(({ type }) => type === 'region').map(({ property }) => property);
}

const numberOf = (region: Region, name: string, usual: number) => Number(region[name] ?? usual);

/** Plays a note of a region: what the opcodes say of level and pitch. */
function playNote(region: Region, instrument: SfzInstrument, sound: Float32Array, key: number, velocity: number) {
  const sample = instrument.samples.find(({ file }) => file === region.sample)!;
  const cents =
    (key - numberOf(region, 'pitch_keycenter', 60)) * numberOf(region, 'pitch_keytrack', 100) +
    100 * numberOf(region, 'transpose', 0) +
    numberOf(region, 'tune', 0);
  const track = numberOf(region, 'amp_veltrack', 100) / 100;
  const gain = 10 ** (numberOf(region, 'volume', 0) / 20) * (1 - track * (1 - (velocity / 127) ** 2));
  const step = 2 ** (cents / 1200);
  const length = Math.floor((sample.endFrame - sample.startFrame) / step);
  return Float32Array.from({ length }, (_, i) => gain * sound[sample.startFrame + Math.floor(i * step)]!);
}

const peak = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

function made(): KeyedPart {
  const sound = sine(440, 1).map((x, i) => x * (i < 11_025 ? 0.9 : i < 22_050 ? 0.5 : 0.25));
  return new KeyedPart([sound, sound.slice()], [0, 11_025, 22_050, 33_075]);
}
const write = (keyed: KeyedPart, options = OPTIONS) =>
  sfzInstrument(keyed.document, keyed.document.parts[keyed.partId]!, options);

describe('an instrument in SFZ', () => {
  it('has a region a sound on its key, with its stretch of the sound', () => {
    const instrument = write(made());
    const regions = regionsOf(instrument.text);
    expect(regions.map(({ lokey, hikey, pitch_keycenter: root }) => [lokey, hikey, root].map(Number))).toEqual(
      [48, 49, 50, 51].map((key) => [key, key, key]),
    );
    expect(instrument.samples.map(({ startFrame, endFrame }) => [startFrame, endFrame])).toEqual([
      [0, 11_025],
      [11_025, 22_050],
      [22_050, 33_075],
      [33_075, 44_100],
    ]);
    expect(regions.map(({ sample }) => sample)).toEqual(instrument.samples.map(({ file }) => file));
    expect(instrument.text).toContain('default_path=samples/');
    expect(instrument.unsaid).toEqual([]);
  });

  it('notes have the peaks that the engine gives them, within half a decibel', () => {
    const keyed = made();
    keyed.spread(36, 60, 48).zones({ gainDb: -4.5, tuneCents: 250 }, [0]).zones({ velocityShare: 0.5 }, [1]);
    const instrument = write(keyed);
    const regions = regionsOf(instrument.text);
    const [sound] = keyed.assets.get(instrument.samples[0]!.sourceId)!.channels;
    for (const [key, velocity] of [
      [48, 127],
      [48, 64],
      [41, 90],
      [55, 100],
      [49, 30],
    ] as const) {
      const region = regions.find(({ lokey, hikey }) => Number(lokey) <= key && key <= Number(hikey))!;
      const ours = keyed.play(22_050, [[0, keyed.press(key, velocity / 127)]]).left;
      const read = playNote(region, instrument, sound!, key, velocity);
      expect(20 * Math.log10(peak(read) / peak(ours)), `key ${key}`).toBeCloseTo(0, 0);
      expect(Math.abs(20 * Math.log10(peak(read) / peak(ours)))).toBeLessThan(0.5);
    }
  });

  it('what sounds as strong as it says, however it is struck, is as loud as the engine has it', () => {
    for (const velocityLaw of ['square', 'linear', 'soft'] as const) {
      const keyed = made().zones({ fixedVelocity: 50, velocityLaw, velocityShare: 0.8 }, [1]);
      const instrument = write(keyed);
      const region = regionsOf(instrument.text).find(({ lokey }) => Number(lokey) === 49)!;
      const [sound] = keyed.assets.get(instrument.samples[1]!.sourceId)!.channels;
      for (const velocity of [20, 120]) {
        const ours = keyed.play(11_025, [[0, keyed.press(49, velocity / 127)]]).left;
        const read = playNote(region, instrument, sound!, 49, velocity);
        expect(Math.abs(20 * Math.log10(peak(read) / peak(ours))), `${velocityLaw} ${velocity}`).toBeLessThan(0.5);
      }
    }
  });

  it('a cutoff that the strength moves is where the engine has it, at full, half and fixed strength', () => {
    // By the format: the cutoff of no strength, and so many cents more at the fullest (from memory).
    const at = (region: Region, velocity: number) =>
      Number(region.cutoff) * 2 ** ((numberOf(region, 'fil_veltrack', 0) * velocity) / 127 / 1200);
    const filtered = { filter: 'low', cutoffHz: 1600, velocityCutoffCents: 2400 } as const;
    const of = (more: object) => regionsOf(write(made().zones({ ...filtered, ...more }, [0])).text)[0]!;
    // Two octaves up from none to full: ours takes one octave away at half.
    for (const [velocity, hz] of [
      [127, 1600],
      [63.5, 800],
    ] as const)
      expect(at(of({}), velocity)).toBeCloseTo(hz, 0);
    // 1600 / 4 ^ (63 / 127).
    for (const velocity of [10, 127]) expect(at(of({ fixedVelocity: 64 }), velocity)).toBeCloseTo(804.4, 0);
  });

  it('says strengths, turns, chance, loops, tuning, choke, shape', () => {
    const keyed = made().spread(48, 48, 48);
    const [first, second, third, fourth] = keyed.zoneIds;
    const key = { low: 48, high: 48, root: 48 };
    keyed.document = unwrap(copyZone(keyed.document, { zoneId: first!, keys: key }, env));
    const twin = keyed.document.parts[keyed.partId]!.zoneOrder.at(-1)!;
    for (const id of [first!, twin])
      keyed.document = unwrap(
        setValue(keyed.document, { owners: [{ kind: 'zone', id }], param: 'turn', change: { to: 'turn' } }, env),
      );
    keyed.document = unwrap(
      setVelocities(keyed.document, { zoneIds: [second!], velocities: { low: 40, high: 90 } }, env),
    );
    keyed.zones({ loopMode: 'forwards', tuneCents: -1250 }, [2]);
    keyed.document = unwrap(
      setZoneLoop(
        keyed.document,
        { zoneId: third!, loop: { startFrame: 23_050, endFrame: 30_050, crossfadeFrames: 441 } },
        env,
      ),
    );
    keyed.zones(
      {
        chokeGroup: 2,
        attackMs: 12,
        decayMs: 300,
        sustain: 0.4,
        releaseMs: 250,
        filter: 'low',
        slope: 24,
        cutoffHz: 900,
      },
      [3],
    );
    expect(fourth).toBeDefined();
    const instrument = write(keyed);
    const regions = regionsOf(instrument.text);
    const on = (wanted: number) => regions.filter(({ lokey }) => Number(lokey) === wanted);
    expect(on(48).map(({ seq_length: length, seq_position: place }) => [Number(length), Number(place)])).toEqual([
      [2, 1],
      [2, 2],
    ]);
    expect([Number(on(49)[0]!.lovel), Number(on(49)[0]!.hivel)]).toEqual([40, 90]);
    expect(on(50)[0]).toMatchObject({ loop_mode: 'loop_sustain' });
    expect(Number(on(50)[0]!.loop_crossfade)).toBe(0.01);
    expect(instrument.unsaid).toEqual([expect.stringContaining('loop_crossfade')]);
    expect([on(50)[0]!.loop_start, on(50)[0]!.loop_end, on(50)[0]!.transpose, on(50)[0]!.tune].map(Number)).toEqual([
      1000, 7999, -12, -50,
    ]);
    const shaped = on(51)[0]!;
    expect(shaped).toMatchObject({ fil_type: 'lpf_4p' });
    const names = ['group', 'off_by', 'ampeg_attack', 'ampeg_decay', 'ampeg_sustain', 'ampeg_release', 'cutoff'];
    expect(names.map((name) => Number(shaped[name]))).toEqual([2, 2, 0.012, 0.3, 40, 0.25, 900]);
    const plain = regionsOf(write(keyed, { ...OPTIONS, withShape: false, withChoke: false }).text).at(3)!;
    expect(names.filter((name) => plain[name] !== undefined)).toEqual([]);
  });

  it('says at its head what it cannot say', () => {
    const keyed = made().zones({ answer: 'toggle', driveDb: 6 }, [0]);
    const { channelId } = keyed.document.parts[keyed.partId]!;
    keyed.document = unwrap(addEffect(keyed.document, { channelId, kind: 'crush' }, env));
    const { unsaid, text } = write(keyed);
    expect(unsaid).toHaveLength(3);
    for (const words of unsaid) expect(text).toContain(`// not said here: ${words}`);
    expect(RATE).toBe(44_100);
  });
});
