import { describe, expect, it } from 'vitest';
import { setPart } from '../../../../tests/support/edits.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { RATE, WayRig, wayProject, withHelper } from '../../../../tests/support/on-the-way.ts';
import { bypassHelper, moveHelper, removeHelper } from '#core/project/commands/helpers.ts';
import { framesPerTick } from '../../units/time.ts';

const PER_TICK = framesPerTick(120, RATE);
const at = (ticks: number) => Math.floor(ticks * PER_TICK + 0.5 + 1e-6);
const ENV = { newId: () => '', newSeed: () => 1 };

describe('echoes of notes', () => {
  it('come in note values, each weaker and higher, the note itself at once', () => {
    const rig = new WayRig(
      wayProject([['echoes', { count: 3, rate: '1/8d', fallPercent: 50, shiftCents: 300, gatePercent: 50 }]]),
    );
    const note = rig.press(50, 0, 0.8);
    rig.letGo(note, 200);
    rig.runTo(at(4000));
    expect(rig.struck.map(({ frame, key, cents }) => [frame, key, cents])).toEqual([
      [0, 50, 0],
      [at(720), 50, 300],
      [at(1440), 50, 600],
      [at(2160), 50, 900],
    ]);
    rig.struck.forEach(({ velocity }, place) => expect(velocity).toBeCloseTo(0.8 * 0.5 ** place, 12));
    expect(rig.ended).toEqual([200, at(720 + 360), at(1440 + 360), at(2160 + 360)]);
  });

  it('endless ones go on until they are too weak, or the song stops', () => {
    const made = wayProject([['echoes', { endless: true, rate: '1/16', fallPercent: 20 }]]);
    const rig = new WayRig(made);
    rig.letGo(rig.press(48, 0, 1), 10);
    rig.runTo(at(240 * 60));
    // 0.8^n is below half a step of MIDI's strength from the 25th on.
    expect(rig.struck).toHaveLength(25);
    const steady = new WayRig(made, withHelper(made.document, made.helperIds[0]!, { fallPercent: 0 }));
    steady.renderer.play();
    steady.letGo(steady.press(48, 0, 1), 10);
    steady.runTo(at(240 * 100.5));
    expect(steady.struck).toHaveLength(101);
    steady.renderer.stop();
    expect(steady.runTo(at(240 * 140)).struck).toHaveLength(101);
  });

  it('end with the key where they are to', () => {
    const rig = new WayRig(wayProject([['echoes', { count: 8, rate: '1/16', until: 'held' }]]));
    const note = rig.press(48, 0);
    rig.letGo(note, at(600));
    rig.runTo(at(3000));
    expect(rig.struck).toHaveLength(3);
  });

  it('of many notes stay bounded, and all falls silent when all is let go', () => {
    const made = wayProject([
      ['runner', { plays: 'filled', rate: '1/64', octaves: 4 }],
      ['echoes', { endless: true, fallPercent: 0, rate: '1/64' }],
    ]);
    const rig = new WayRig(made);
    rig.press(48, 0);
    rig.runTo(2 * RATE);
    expect(rig.struck.length).toBeGreaterThan(1000);
    rig.renderer.allNotesOff();
    const before = rig.struck.length;
    rig.runTo(3 * RATE);
    expect(rig.struck).toHaveLength(before);
  });
});

describe('where notes come one at a time', () => {
  it('what is pressed on the frame of an echo is heard, and not the echo', () => {
    const made = wayProject([['echoes', { rate: '1/8', count: 2, fallPercent: 0 }]]);
    const single = unwrap(setPart(made.document, { partId: made.partId, settings: { oneAtATime: true } }));
    const rig = new WayRig(made, single);
    rig.press(48, 0);
    rig.press(51, at(480));
    rig.runTo(at(480) + 1000);
    expect(rig.keys).toEqual([48, 48, 51]);
    const sounding: string[] = [];
    rig.renderer.eachSounding((_part, zoneId) => sounding.push(zoneId));
    expect(sounding).toEqual([made.document.parts[made.partId]!.zoneOrder[3]]);
  });
});

describe('the way', () => {
  it('passes its helpers in their order: the echo of a chord, the chord of an echo', () => {
    const made = wayProject([
      ['chord', { chord: '5', heldTo: 'free' }],
      ['runner', { rate: '1/16' }],
    ]);
    const rig = new WayRig(made);
    rig.press(48, 0);
    rig.runTo(at(240 * 3.5));
    expect(rig.keys).toEqual([48, 55, 48, 55]);
    const turned = unwrap(moveHelper(made.document, { helperId: made.helperIds[0]!, place: 1 }, ENV));
    const other = new WayRig(made, turned);
    other.press(48, 0);
    other.runTo(at(240 * 1.5));
    expect(other.keys).toEqual([48, 55, 48, 55]);
    expect(other.frames).toEqual([0, 0, at(240), at(240)]);
  });

  it('a helper that is switched off, moved or taken out while keys are held leaves nothing hanging', () => {
    const made = wayProject([
      ['chord', { chord: '5', heldTo: 'free' }],
      ['runner', { rate: '1/16', latched: true }],
      ['echoes', { endless: true, fallPercent: 0 }],
    ]);
    const [chord, runner, echoes] = made.helperIds as [string, string, string];
    const rig = new WayRig(made);
    const note = rig.press(48, 0);
    rig.runTo(at(500));
    rig.change(unwrap(moveHelper(rig.now, { helperId: echoes, place: 0 }, ENV)));
    rig.runTo(at(1000));
    rig.change(unwrap(bypassHelper(rig.now, { helperId: runner, bypassed: true }, ENV)));
    rig.runTo(at(1500));
    rig.change(unwrap(removeHelper(rig.now, { helperId: chord }, ENV)));
    rig.change(unwrap(removeHelper(rig.now, { helperId: echoes }, ENV)));
    rig.change(unwrap(removeHelper(rig.now, { helperId: runner }, ENV)));
    rig.letGo(note);
    rig.runTo(at(2000));
    const before = rig.struck.length;
    rig.runTo(at(9000));
    expect(rig.struck).toHaveLength(before);
    expect(rig.ended.length).toBe(before);
    // What is pressed now comes straight to its key.
    rig.letGo(rig.press(49), rig.renderer.frame + 100);
    rig.runTo(at(9500));
    expect(rig.struck).toHaveLength(before);
  });

  it('a runner runs on where something behind it changes', () => {
    const made = wayProject([
      ['runner', { rate: '1/16' }],
      ['echoes', { count: 1, rate: '1/4' }],
    ]);
    const rig = new WayRig(made);
    rig.press(48, 0);
    rig.runTo(at(600));
    rig.change(unwrap(bypassHelper(rig.now, { helperId: made.helperIds[1]!, bypassed: true }, ENV)));
    rig.runTo(at(240 * 5.5));
    expect(rig.frames).toEqual([0, 1, 2, 3, 4, 5].map((step) => at(step * 240)));
  });
});
