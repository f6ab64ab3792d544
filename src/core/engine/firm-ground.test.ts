/** What must not hang, jump or depend on when the page was opened: each of these once did. */
import { describe, expect, it } from 'vitest';
import { greatestStep, KeyedPart, peakOf, RATE, rmsOf } from '../../../tests/support/keys.ts';
import { loudestBeside } from '../../../tests/support/spectrum.ts';
import { firstDifference, noise, sine } from '../../../tests/support/signals.ts';
import { unwrap, countingEnv, loopProject } from '../../../tests/support/documents.ts';
import { addBus, leadTo } from '#core/project/commands/channels.ts';
import { addModulator } from '#core/project/commands/modulators.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Modulator, Zone } from '#core/document/schema.ts';
import { LiveSong, planOf, play } from '../../../tests/support/playing.ts';
import { addPart } from '#core/project/commands/parts.ts';
import type { AudioData } from '../dsp/audio.ts';
import type { Renderer } from './renderer.ts';

describe('letting go', () => {
  it('is told with the part and key of its press, for what records it', () => {
    const part = new KeyedPart([sine(440, 2)]).zones({ answer: 'gate' });
    const { renderer } = part.play(2_000, [
      [0, part.press(48, 1, 7)],
      [1_000, part.letGo(7)],
    ]);
    expect(renderer.log.takeAll()).toMatchObject([
      { kind: 'on', partId: part.partId, key: 48, frame: 0 },
      { kind: 'off', partId: part.partId, key: 48, frame: 1_000, noteId: 7 },
    ]);
  });

  it('ends both of two whole loops on one key', () => {
    const part = new KeyedPart([noise(88_200, 3)], [0, 44_100]);
    const loop = Object.values(part.document.zones).find(({ plays }) => plays.kind === 'loop');
    const base = part.document.zones[part.zoneIds[0]!]!;
    const extra = ['loop-a', 'loop-b'].map((id): Zone => ({
      ...(loop ?? base),
      id,
      plays: { kind: 'loop' as const, cutId: base.plays.cutId, sliceId: null },
      laid: 'hand' as const,
      keys: { low: 90, high: 90, root: 90 },
      values: { answer: 'gate' },
    }));
    const { document } = part;
    part.document = {
      ...document,
      zones: { ...document.zones, ...Object.fromEntries(extra.map((zone) => [zone.id, zone])) },
      parts: {
        ...document.parts,
        [part.partId]: {
          ...document.parts[part.partId]!,
          zoneOrder: [...document.parts[part.partId]!.zoneOrder, ...extra.map(({ id }) => id)],
        },
      },
    };
    const { left } = part.play(40_000, [
      [0, part.press(90, 1, 5)],
      [10_000, part.letGo(5)],
    ]);
    expect(rmsOf(left, 2_000, 10_000)).toBeGreaterThan(0.1);
    expect(peakOf(left, 12_000)).toBe(0);
  });

  it('never comes before its press, however their times were told', () => {
    const part = new KeyedPart([sine(440, 1)]).zones({ answer: 'gate', loopMode: 'forwards' });
    const renderer = part.renderer();
    for (let noteId = 0; noteId < 64; noteId++) {
      const press = { noteId, partId: part.partId, key: 48, velocity: 1 };
      renderer.addNote({ ...press, kind: 'on', frame: 500 + noteId });
      renderer.addNote({ ...press, kind: 'off', frame: 499 + noteId });
    }
    const left = new Float32Array(8_000);
    renderer.process(left, new Float32Array(8_000), 8_000);
    expect(peakOf(left, 4_000)).toBe(0);
  });

  it('while the attack still rises falls from where it stands', () => {
    const part = new KeyedPart([new Float32Array(10 * RATE).fill(0.5)]).zones({
      answer: 'gate',
      attackMs: 2_000,
      releaseMs: 5_000,
    });
    const { left } = part.play(6 * RATE, [
      [0, part.press(48, 1, 1)],
      [4_410, part.letGo(1)],
    ]);
    const atRelease = left[4_409]!;
    expect(atRelease).toBeCloseTo(0.5 * 0.05, 3);
    for (let i = 4_410; i < left.length; i++) expect(left[i]!).toBeLessThanOrEqual(left[i - 1]! + 1e-5);
    expect(peakOf(left, 5.2 * RATE)).toBe(0);
  });
});

describe('a filter that is changed while it sounds', () => {
  const shapes = [
    [{ filter: 'low', cutoffHz: 300 }, { filter: 'off' }],
    [{ filter: 'off' }, { filter: 'high', cutoffHz: 2_000 }],
    [{ filter: 'low', cutoffHz: 400 }, { filter: 'high' }],
    [{ filter: 'band', cutoffHz: 900 }, { filter: 'notch' }],
    [{ filter: 'low', cutoffHz: 300, slope: 12 }, { slope: 24 }],
    [{ driveDb: 0 }, { driveDb: 18 }],
    [{ driveDb: 18 }, { driveDb: 0 }],
  ] as const;
  it.each(shapes)('from %o to %o makes no step that the tone has not', (before, after) => {
    const part = new KeyedPart([sine(220, 4).map((x) => x * 0.5)]).zones(before as never);
    const song = new LiveSong(
      part.document,
      new Map([['source-a', { sampleRate: RATE, channels: [sine(220, 4).map((x) => x * 0.5)] }]]),
    );
    song.renderer.noteOn(part.partId, 48, 1);
    const first = song.next(10_000);
    part.zones(after as never);
    song.edit(part.document);
    const second = song.next(10_000);
    const both = new Float32Array(20_000);
    both.set(first);
    both.set(second, 10_000);
    // A sine of 0.5 at 220 Hz moves by 0.0157 a frame; driven as a near square by up to 0.13.
    const own = Math.max(greatestStep(both, 4_000, 9_900), greatestStep(both, 11_000, 19_000), 0.0157);
    expect(greatestStep(both, 9_900, 10_700)).toBeLessThan(own * 1.1 + 0.002);
  });
});

describe('drive', () => {
  it.each([
    [12, -85],
    [18, -50],
  ])('of %d dB on 5 kHz folds nothing back above %d dB', (driveDb, mostDb) => {
    const part = new KeyedPart([sine(5_003, 2)]).zones({ driveDb });
    const { left } = part.play(60_000, [[0, part.press(48)]]);
    const partials = Array.from({ length: 4 }, (_, n) => (n + 1) * 5_003);
    expect(loudestBeside(left, RATE, 8_000, 32_768, partials, 60)).toBeLessThan(mostDb);
  });
});

describe('waves that run free', () => {
  function wavering(rate: Record<string, number | string | boolean>): KeyedPart {
    const part = new KeyedPart([noise(20 * RATE, 5).map((x) => x * 0.5)]).part({ oneAtATime: false });
    const env = countingEnv();
    const owner = part.partId;
    const lfo = { ownerId: owner, kind: 'lfo', paramId: 'gainDb', amount: 0.5 } as const;
    const routed = unwrap(addModulator(part.document, lfo, env));
    const modulatorId = Object.keys(routed.modulators)[0]!;
    const modulator: Modulator = { ...routed.modulators[modulatorId]!, values: { restarts: false, ...rate } };
    part.document = { ...routed, modulators: { [modulatorId]: modulator } };
    return part;
  }
  const played = (part: KeyedPart, waits: number, tempo?: number): Float32Array => {
    const renderer: Renderer = part.renderer();
    const quiet = new Float32Array(waits);
    if (waits > 0) renderer.process(quiet, new Float32Array(waits), waits);
    renderer.play();
    const left = new Float32Array(60_000);
    renderer.process(left.subarray(0, 30_000), new Float32Array(30_000), 30_000);
    if (tempo !== undefined) renderer.setValues([{ kind: 'song', id: '', slot: 0, value: tempo }]);
    renderer.process(left.subarray(30_000), new Float32Array(30_000), 30_000);
    return left;
  };

  it.each([[{ rateBy: 'hz', rateHz: 3.3 }], [{ rateBy: 'notes' }], [{ rateBy: 'hz', rateHz: 7, wave: 'stepped' }]])(
    'by %o sound the same at every play, whenever the page was opened',
    (rate) => {
      const part = wavering(rate);
      const first = played(part, 0);
      expect(rmsOf(first, 0, 60_000)).toBeGreaterThan(0.01);
      for (const waits of [1, 31, 777, 44_100 * 3 + 5]) {
        expect(firstDifference(played(part, waits), first)).toBe(-1);
      }
    },
  );

  it.each([true, false])('in notes go on from where they are when the tempo changes (with the key: %s)', (restarts) => {
    const part = wavering({ rateBy: 'notes', restarts });
    const left = new Float32Array(40_000);
    const renderer = part.renderer();
    renderer.play();
    renderer.noteOn(part.partId, 48, 1);
    renderer.process(left.subarray(0, 20_000), new Float32Array(20_000), 20_000);
    renderer.setValues([{ kind: 'song', id: '', slot: 0, value: 61 }]);
    renderer.process(left.subarray(20_000), new Float32Array(20_000), 20_000);
    // The level of steady noise over a few milliseconds before and after: no jump of more than the noise itself has.
    const level = (from: number) => 20 * Math.log10(rmsOf(left, from, from + 600));
    expect(Math.abs(level(19_400) - level(20_000))).toBeLessThan(1.5);
  });
});

describe('a chain of twelve channels at +12 dB each', () => {
  it('is no louder than 40 dB over full scale, and nothing but numbers', () => {
    const part = new KeyedPart([sine(440, 1)]);
    let { document } = part;
    const env = { ...countingEnv(), newId: () => crypto.randomUUID() };
    let below = document.parts[part.partId]!.channelId;
    for (let n = 0; n < 12; n++) {
      document = unwrap(
        setValue(document, { owners: [{ kind: 'channel', id: below }], param: 'gainDb', change: { to: 12 } }, env),
      );
      const before = new Set(Object.keys(document.channels));
      document = unwrap(addBus(document, { name: `bus ${n}` }, env));
      const busId = Object.keys(document.channels).find((id) => !before.has(id))!;
      document = unwrap(leadTo(document, { channelId: below, outputId: busId }, env));
      below = busId;
    }
    part.document = document;
    const { left } = part.play(8_000, [[0, part.press(48)]]);
    expect(left.every(Number.isFinite)).toBe(true);
    expect(peakOf(left)).toBeLessThanOrEqual(100);
    expect(peakOf(left)).toBeGreaterThan(50);
  });
});

describe('two loops whose slices touch on the same frames', () => {
  it('come out as they are: a voice that begins takes no place that another is about to go on from', () => {
    const frames = 88_200;
    const starts = Array.from({ length: 8 }, (_, step) => step * 11_025);
    const one = { sampleRate: RATE, channels: [noise(frames, 3).map((x) => 0.3 * x)] } as AudioData;
    const other = { sampleRate: RATE, channels: [noise(frames, 4).map((x) => 0.3 * x)] } as AudioData;
    const made = loopProject(one, starts, 1);
    const [slice] = Object.values(made.document.cuts[made.cutId]!.slices);
    const document = unwrap(
      addPart(
        made.document,
        {
          name: 'other',
          source: { id: 'other', name: 'other', sampleRate: RATE, channels: 1, frames },
          loop: { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: 4 },
          tempoReadings: [],
          slices: starts.map((startFrame) => ({ ...slice!, startFrame })),
          adoptTempo: false,
        },
        { ...countingEnv(), newId: () => crypto.randomUUID() },
      ),
    );
    const assets = new Map([...made.assets, ['other', other]]);
    // The first lets its sounds fade where the second goes on: it needs another voice at that very frame. It is not heard.
    const { zoneOrder, channelId } = document.parts[made.partId]!;
    const zones = zoneOrder.map((id) => ({ kind: 'zone' as const, id }));
    const lower = unwrap(
      setValue(document, { owners: zones, param: 'tuneCents', change: { to: -300 } }, countingEnv()),
    );
    const owners = [{ kind: 'channel' as const, id: channelId }];
    const muted = unwrap(setValue(lower, { owners, param: 'muted', change: { to: true } }, countingEnv()));
    const heard = play(planOf({ ...made, document: muted, assets }), 2 * frames);
    expect(peakOf(heard.map((x, i) => x - other.channels[0]![i % frames]!))).toBeLessThan(1e-6);
  });
});
