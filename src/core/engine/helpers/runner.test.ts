import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drawStrengths } from '#core/project/commands/helpers.ts';
import { setPart, setSong } from '../../../../tests/support/edits.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { withValues } from '../../../../tests/support/keys.ts';
import { bounced, RATE, WayRig, wayProject, withHelper, withStrips } from '../../../../tests/support/on-the-way.ts';
import { framesPerTick } from '../../units/time.ts';
import { MAX_BOUNCED_VOICES } from '../voice/pool.ts';
import { firstDifference } from '../../../../tests/support/signals.ts';

const PER_TICK = framesPerTick(120, RATE);
const at = (ticks: number, from = 0) => Math.floor(from + ticks * PER_TICK + 0.5 + 1e-6);
const ENV = { newId: () => '', newSeed: () => 1 };

describe('a runner', () => {
  it('goes through held keys in steps of its rate, from the frame of the first press on', () => {
    const rig = new WayRig(wayProject([['runner', { rate: '1/16', gatePercent: 50 }]]));
    const notes = [50, 48, 53].map((key) => rig.press(key, 777));
    rig.runTo(777 + at(240 * 6.5));
    expect(rig.keys).toEqual([48, 50, 53, 48, 50, 53, 48]);
    const ticks = rig.frames.map((_, step) => step * 240);
    expect(rig.frames).toEqual(ticks.map((one) => at(one, 777)));
    expect(rig.ended.slice(0, 6)).toEqual(ticks.slice(0, 6).map((one) => at(one + 120, 777)));
    for (const note of notes) rig.letGo(note);
    rig.runTo(777 + at(240 * 20));
    expect(rig.struck).toHaveLength(7);
    expect(rig.ended).toHaveLength(7);
  });

  it('from one key it plays all filled keys by itself, from that key on', () => {
    const rig = new WayRig(wayProject([['runner', { plays: 'filled', rate: '1/8' }]]));
    rig.press(53, 0);
    rig.runTo(at(480 * 8.5));
    expect(rig.keys).toEqual([53, 54, 55, 48, 49, 50, 51, 52, 53]);
  });

  it('stands in the bars of the song: it goes on as if it had run all the time', () => {
    const made = wayProject([['runner', { plays: 'filled', rate: '1/8', starts: 'song' }]]);
    const rig = new WayRig(made, withStrips(made, 3840, []));
    rig.renderer.play();
    rig.runTo(at(480 * 2.3));
    rig.press(48);
    rig.runTo(at(480 * 6.5));
    expect(rig.frames).toEqual([3, 4, 5, 6].map((step) => at(step * 480)));
    expect(rig.keys).toEqual([51, 52, 53, 54]);
  });

  it('goes on with another rate where it was in its order, on the grid of that', () => {
    const made = wayProject([['runner', { rate: '1/8' }]]);
    const rig = new WayRig(made);
    for (const key of [48, 49, 50, 51, 52]) rig.press(key, 0);
    rig.runTo(at(480 * 2) + 10);
    rig.change(withHelper(rig.now, made.helperIds[0]!, { rate: '1/16t' }));
    rig.runTo(at(480 * 4) - 10);
    expect(rig.keys).toEqual([48, 49, 50, 51, 52, 48, 49, 50]);
    expect(rig.frames.slice(3)).toEqual([1, 2, 3, 4, 5].map((step) => at(960 + step * 160)));
  });

  it('swings, rests by chance, repeats its notes and goes up octaves by pitch', () => {
    const made = wayProject([['runner', { rate: '1/16', swingPercent: 66, hits: 2, octaves: 2 }]]);
    const rig = new WayRig(made);
    rig.press(48, 0);
    rig.press(49, 0);
    rig.runTo(at(240 * 7.9));
    expect(rig.struck.map(({ key, cents }) => [key, cents])).toEqual([
      [48, 0],
      [48, 0],
      [49, 0],
      [49, 0],
      [48, 1200],
      [48, 1200],
      [49, 1200],
      [49, 1200],
    ]);
    expect(rig.frames.slice(0, 4)).toEqual([0, 480 * 0.66, 480, 480 * 1.66].map((ticks) => at(ticks)));
    const resting = new WayRig(made, withHelper(made.document, made.helperIds[0]!, { restPercent: 40, rate: '1/64' }));
    resting.press(48, 0);
    resting.runTo(at(60 * 1000));
    // 600 of 1,000 steps sound; five standard deviations are 78.
    expect(Math.abs(resting.struck.length - 600)).toBeLessThan(78);
  });

  it('an octave up is a key where a sound follows its keys', () => {
    const made = wayProject([['runner', { rate: '1/4', octaves: 2, starts: 'key' }]], 1);
    const [zoneId] = made.document.parts[made.partId]!.zoneOrder;
    const zone = { ...made.document.zones[zoneId!]!, laid: 'hand' as const, keys: { low: 40, high: 80, root: 48 } };
    const rig = new WayRig(made, { ...made.document, zones: { [zoneId!]: zone } });
    rig.press(50, 0);
    rig.runTo(at(960 * 3.5));
    expect(rig.struck.map(({ key, cents }) => [key, cents])).toEqual([
      [50, 0],
      [62, 0],
      [50, 0],
      [62, 0],
    ]);
  });

  it('strikes as played, as fixed, or by a drawn row of any length', () => {
    const made = wayProject([['runner', { rate: '1/16' }]]);
    const [helperId] = made.helperIds;
    const velocities = (document: typeof made.document) => {
      const rig = new WayRig(made, document);
      rig.press(48, 0, 0.3);
      rig.press(49, 0, 0.7);
      return rig.runTo(at(240 * 4.5)).struck.map(({ velocity }) => velocity);
    };
    expect(velocities(made.document)).toEqual([0.3, 0.7, 0.3, 0.7, 0.3]);
    const fixed = withHelper(made.document, helperId!, { strength: 'fixed', fixedStrength: 0.6 });
    expect(velocities(fixed)).toEqual([0.6, 0.6, 0.6, 0.6, 0.6]);
    const drawn = unwrap(drawStrengths(made.document, { helperId: helperId!, strengths: [1, 0, 0.5] }, ENV));
    // A step without strength is a rest.
    expect(velocities(drawn)).toEqual([1, 0.5, 1]);
  });

  it('latched it runs on, until others are pressed, or it is no longer latched', () => {
    const made = wayProject([['runner', { rate: '1/16', latched: true }]]);
    const rig = new WayRig(made);
    const note = rig.press(48, 0);
    rig.letGo(note, 100);
    rig.runTo(at(240 * 3.5));
    expect(rig.keys).toEqual([48, 48, 48, 48]);
    const other = rig.press(52);
    rig.letGo(other, rig.renderer.frame + 50);
    rig.runTo(at(240 * 5.4));
    expect(rig.keys.slice(4)).toEqual([52, 52]);
    rig.change(withHelper(rig.now, made.helperIds[0]!, { latched: false }));
    rig.runTo(at(240 * 12));
    expect(rig.keys).toHaveLength(6);
  });

  it('is driven by a held note of a pattern as long as that lasts, and nothing of it is left when the song stops', () => {
    const made = wayProject([['runner', { plays: 'filled', rate: '1/16', latched: true }]]);
    const [zoneId] = made.document.parts[made.partId]!.zoneOrder;
    const strips = [{ zoneId: zoneId!, positionTicks: 480, lengthTicks: 960, values: { onKey: true } }];
    const rig = new WayRig(made, withHelper(withStrips(made, 3840, strips), made.helperIds[0]!, { latched: false }));
    rig.renderer.play();
    rig.runTo(at(3840 + 480 + 100));
    expect(rig.frames).toEqual([480, 720, 960, 1200, 3840 + 480].map((ticks) => at(ticks)));
    expect(rig.keys).toEqual([48, 49, 50, 51, 48]);
    rig.renderer.stop();
    const before = rig.struck.length;
    rig.runTo(at(3840 * 3));
    expect(rig.struck).toHaveLength(before);
    const latched = new WayRig(made, withStrips(made, 3840, strips));
    latched.renderer.play();
    latched.runTo(at(3000));
    expect(latched.struck.length).toBeGreaterThan(9);
    latched.renderer.stop();
    const held = latched.struck.length;
    expect(latched.runTo(at(9000)).struck).toHaveLength(held);
  });

  it('a strip past the helpers presses its key alone', () => {
    const made = wayProject([['runner', { rate: '1/32' }]]);
    const [zoneId] = made.document.parts[made.partId]!.zoneOrder;
    const values = { onKey: true, pastHelpers: true };
    const rig = new WayRig(
      made,
      withStrips(made, 3840, [{ zoneId: zoneId!, positionTicks: 0, lengthTicks: 960, values }]),
    );
    rig.renderer.play();
    rig.runTo(at(2000));
    expect(rig.struck).toEqual([]);
    expect(rig.left.some((sample) => sample !== 0)).toBe(true);
  });

  it('its gate cuts what plays whole, or lets it ring', () => {
    const made = wayProject([['runner', { rate: '1/2', gatePercent: 10 }]], 1);
    const levelAt = (document: typeof made.document, ticks: number) => {
      const rig = new WayRig(made, document);
      rig.press(48, 0);
      rig.runTo(at(ticks) + 400);
      return Math.max(...rig.left.subarray(at(ticks), at(ticks) + 400).map(Math.abs));
    };
    expect(levelAt(made.document, 150)).toBeGreaterThan(0.01);
    expect(levelAt(made.document, 260)).toBe(0);
    expect(levelAt(withHelper(made.document, made.helperIds[0]!, { cuts: false }), 260)).toBeGreaterThan(0.01);
  });

  it('goes by the part’s own tempo where it keeps one', () => {
    const made = wayProject([['runner', { rate: '1/4' }]]);
    const own = unwrap(setPart(made.document, { partId: made.partId, settings: { follow: 'none' } }));
    const slow = unwrap(setSong(own, { tempoBpm: 60 }));
    const rig = new WayRig(made, slow);
    rig.press(48, 0);
    rig.runTo(at(960 * 2.5));
    expect(rig.frames).toEqual([0, at(960), at(1920)]);
  });

  const changes = fc.array(
    fc.record({ afterTicks: fc.integer({ min: 30, max: 9000 }), tempoBpm: fc.integer({ min: 20, max: 400 }) }),
    { minLength: 1, maxLength: 12 },
  );
  it.each([1, 127, 128, 4096])(
    'each note lies on its worked frame through changes of tempo, in blocks of %i',
    (block) => {
      fc.assert(
        fc.property(changes, fc.constantFrom('1/16', '1/8t', '1/4d', '1/64'), (steps, rate) => {
          const made = wayProject([['runner', { rate }]], 2);
          const rig = new WayRig(made, withStrips(made, 3840, []), block === 1 ? 8 : block);
          rig.renderer.play();
          rig.press(48, 0);
          const quarters = { '1/16': 0.25, '1/8t': 1 / 3, '1/4d': 1.5, '1/64': 1 / 16 }[rate]!;
          const expected: number[] = [];
          // Worked by itself: where the last change was, and ticks from there on.
          let [frame, ticks, tempo, step] = [0, 0, 120, 0];
          for (const { afterTicks, tempoBpm } of steps) {
            const perTick = framesPerTick(tempo, RATE);
            const to = frame + Math.round(afterTicks * perTick);
            for (;;) {
              const due = Math.floor(frame + (step * quarters * 960 - ticks) * perTick + 0.5 + 1e-6);
              if (due >= to) break;
              // What another tempo has moved over its frame is played on the next.
              expected.push(Math.max(due, frame));
              step++;
            }
            rig.runTo(to);
            ticks += (to - frame) / perTick;
            [frame, tempo] = [to, tempoBpm];
            rig.change(unwrap(setSong(rig.now, { tempoBpm })));
          }
          expect(rig.frames.slice(0, expected.length)).toEqual(expected);
          expect(rig.frames.length).toBe(expected.length);
        }),
        { numRuns: block === 1 ? 3 : 12 },
      );
    },
  );

  it('ten minutes on it has not drifted by a frame', () => {
    const made = wayProject([['runner', { rate: '1/4t' }]], 2);
    const document = unwrap(setSong(made.document, { tempoBpm: 97.3 }));
    // Silent sounds are soon rendered.
    const muted = withValues(
      document,
      { kind: 'zone', id: made.document.parts[made.partId]!.zoneOrder[1]! },
      { muted: true },
    );
    const rig = new WayRig(made, muted, 4096);
    rig.press(49, 0);
    rig.runTo(600 * RATE);
    const perStep = framesPerTick(97.3, RATE) * 640;
    expect(rig.frames).toHaveLength(Math.ceil((600 * RATE) / perStep));
    rig.frames.forEach((frame, step) => expect(Math.abs(frame - step * perStep)).toBeLessThanOrEqual(0.5 + 1e-3));
  });

  it('sounds live as it is bounced, at any block size, through chord, runner and echoes', async () => {
    const made = wayProject([
      ['chord', { chord: 'm7', strumMs: 7 }],
      ['runner', { rate: '1/16t', order: 'each', restPercent: 20, gatePercent: 70, octaves: 2 }],
      ['echoes', { rate: '1/8', count: 4, shiftCents: -200 }],
    ]);
    const ids = made.document.parts[made.partId]!.zoneOrder;
    const strips = [
      { zoneId: ids[0]!, positionTicks: 0, lengthTicks: 1900, values: { onKey: true, gainDb: -3 } },
      { zoneId: ids[2]!, positionTicks: 1920, lengthTicks: 960, values: { onKey: true, pan: 0.5 } },
      { zoneId: ids[5]!, positionTicks: 2000, lengthTicks: 1500, values: { onKey: true, reverse: true } },
    ];
    const document = withStrips(made, 3840, strips);
    const reference = await bounced(made, document, 3 * 3840, 1024);
    for (const block of [1, 127, 4096]) {
      const other = await bounced(made, document, (block === 1 ? 1 : 3) * 3840, block);
      expect(firstDifference(other, reference.subarray(0, other.length))).toBe(-1);
    }
    // As many voices: which of them sums first is then the same, too.
    const rig = new WayRig(made, document, 128, MAX_BOUNCED_VOICES);
    rig.renderer.play();
    rig.runTo(reference.length);
    expect(firstDifference(rig.left, reference)).toBe(-1);
    expect(rig.struck.length).toBeGreaterThan(100);
  });
});
