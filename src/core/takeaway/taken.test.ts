/** What is taken away beside the mix: slices as they sound, lanes and drums in a MIDI file. */
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { frameCount } from '../dsp/audio.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { bounce } from '../engine/bounce.ts';
import { compilePlan } from '../engine/plan/compile.ts';
import { renderAll } from '../engine/plan/render-all.ts';
import { writeMidiFile } from '../formats/midi-file.ts';
import { lanePoint } from '../lanes/points.ts';
import { orderLayout } from '../order/layout.ts';
import { addEffect } from '../project/commands/effects.ts';
import { addLane } from '../project/commands/lanes.ts';
import { addSection, setSectionValue } from '../project/commands/sections.ts';
import { setValue } from '../project/commands/values.ts';
import { mainChannel } from '../queries/channels.ts';
import { agreedKey, percussionOfKey } from '../queries/percussion-keys.ts';
import { slicesOfCut } from '../queries/slices.ts';
import { zonesOfPart } from '../queries/zones.ts';
import { midiSong } from './midi-song.ts';
import { soundingSlice } from './sounding-slices.ts';

const RATE = 44_100;
const env = (() => {
  const counting = countingEnv();
  return { ...counting, newId: () => `made-${counting.newId()}` };
})();

function made() {
  const { audio, starts } = eightStepLoop();
  return { ...loopProject(audio, starts), audio };
}

describe('a slice as it sounds', () => {
  async function played(project: ReturnType<typeof made>, document: ProjectDocument, place: number) {
    const part = document.parts[project.partId]!;
    const { slice } = slicesOfCut(document, project.cutId)[place]!;
    const alone = soundingSlice(document, part, project.cutId, slice.id)!;
    const { assets } = project;
    const plan = compilePlan(alone.document, RATE, { assets, renderings: renderAll(alone.document, assets) });
    return bounce(plan, { lengthTicks: alone.lengthTicks, ringOut: true });
  }

  it('is as it is cut where nothing is set, alone, from its first sample', async () => {
    const project = made();
    for (const place of [0, 3, 7]) {
      const { startFrame, endFrame } = slicesOfCut(project.document, project.cutId)[place]!;
      const { channels } = await played(project, project.document, place);
      const cut = project.audio.channels[0]!.subarray(startFrame, endFrame);
      // But for the short fades at its ends.
      const margin = 400;
      for (let i = margin; i < cut.length - margin; i += 7) expect(channels[0]![i]).toBeCloseTo(cut[i]!, 4);
    }
  });

  it('has its level, and what its part goes through; the rest of the song does not sound', async () => {
    const project = made();
    const { zone } = zonesOfPart(project.document, project.document.parts[project.partId]!)[2]!;
    const plain = await played(project, project.document, 2);
    const owners = [{ kind: 'zone' as const, id: zone.id }];
    const quieter = unwrap(setValue(project.document, { owners, param: 'gainDb', change: { to: -6 } }, env));
    const half = await played(project, quieter, 2);
    const peak = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(20 * Math.log10(peak(half.channels[0]!) / peak(plain.channels[0]!))).toBeCloseTo(-6, 1);
    const { channelId } = project.document.parts[project.partId]!;
    const echoing = unwrap(addEffect(project.document, { channelId, kind: 'echo' }, env));
    const longer = await played(project, echoing, 2);
    // It is told until it has rung out.
    expect(frameCount(longer)).toBeGreaterThan(frameCount(plain) + 0.2 * RATE);
  });

  it('a sound that nothing plays has no way to sound', () => {
    const project = made();
    const part = project.document.parts[project.partId]!;
    expect(soundingSlice(project.document, part, project.cutId, 'nobody')).toBeNull();
  });
});

describe('a MIDI file', () => {
  const wish = { order: false, partId: null, patternId: null, handId: null, asHeard: false };
  const eventsOf = (document: ProjectDocument, more: object) => {
    const bytes = writeMidiFile(midiSong(document, { ...wish, ...more }), { format: 1, ticksPerBeat: 480 });
    let at = 0;
    return parseMidi(bytes).tracks[1]!.map((event) => ({ ...event, at: (at += event.deltaTime) }));
  };

  it('has lanes as controllers: a level is 7, a cutoff 74, from 0 to 127 over the lane', () => {
    const { document, home, partId } = made();
    const { channelId } = document.parts[partId]!;
    const rising = [lanePoint(0, 0), lanePoint(3840, 1)];
    const target = { kind: 'channel' as const, id: channelId };
    const laid = unwrap(addLane(document, { overId: home, target, paramId: 'gainDb', points: rising }, env));
    const found = eventsOf(laid, { withLanes: true }).flatMap((event) =>
      event.type === 'controller' ? [{ number: event.controllerType, value: event.value, at: event.at }] : [],
    );
    expect(new Set(found.map(({ number }) => number))).toEqual(new Set([7]));
    // Half of the way after half of the bar, which has 1920 ticks in the file; no value twice.
    for (const { value, at } of found) expect(Math.abs(value - (at / 1920) * 127)).toBeLessThanOrEqual(1);
    expect(found.length).toBeGreaterThan(60);
    expect(eventsOf(laid, {}).some(({ type }) => type === 'controller')).toBe(false);
  });

  it('has lanes over sections as controllers, over all rounds; those of the mix on a track of their own', () => {
    const { document: plain, home, partId } = made();
    const { channelId } = plain.parts[partId]!;
    const rising = [lanePoint(0, 0), lanePoint(3840, 1)];
    const target = { kind: 'channel' as const, id: channelId };
    let document = unwrap(addLane(plain, { overId: home, target, paramId: 'gainDb', points: rising }, env));
    for (const repeats of [1, 2]) {
      document = unwrap(addSection(document, { withPlaying: true }, env));
      const sectionId = document.sectionOrder.at(-1)!;
      document = unwrap(setSectionValue(document, { sectionId, param: 'repeats', change: { to: repeats } }, env));
      for (const id of [channelId, mainChannel(document).id]) {
        const over = { overId: sectionId, target: { kind: 'channel' as const, id }, paramId: 'gainDb' };
        document = unwrap(addLane(document, { ...over, points: [lanePoint(0, 1), lanePoint(3840 * repeats, 0)] }, env));
      }
    }
    const { tracks } = midiSong(document, { ...wish, order: true, withLanes: true });
    expect(tracks.map(({ name }) => name)).toEqual([plain.parts[partId]!.name, 'mix']);
    const numbers = tracks.map(({ controls }) => [...new Set(controls!.map(({ number }) => number))]);
    // The level of the part has its number over the pattern already; in the mix it is free.
    expect(numbers).toEqual([[7, 16], [7]]);
    const falling = tracks[1]!.controls!;
    const section = 3840 * 2;
    const second = falling.filter(
      ({ positionTicks }) => positionTicks >= orderLayout(document).sections[1]!.startTicks,
    );
    expect(second[0]!.value).toBe(127);
    // What it comes to at the very end is the next section's.
    expect(second.at(-1)!.value).toBeLessThanOrEqual(1);
    expect(second.at(-1)!.positionTicks - second[0]!.positionTicks).toBeGreaterThan(0.9 * section);
    expect(midiSong(document, { ...wish, order: true }).tracks).toHaveLength(1);
  });

  it('has drums on the keys that they have by agreement, on the tenth channel', () => {
    const { document, cutId, partId } = made();
    const roles = new Map(slicesOfCut(document, cutId).map(({ slice }) => [slice.id, slice.role]));
    const zones = zonesOfPart(document, document.parts[partId]!);
    const wanted = zones.map(({ at }) => roles.get(at.slice.id)!);
    const notes = eventsOf(document, { keys: 'drums' }).flatMap((event) => (event.type === 'noteOn' ? [event] : []));
    const drums = wanted.filter((role) => !['bass', 'note', 'chord', 'other'].includes(role));
    expect(notes).toHaveLength(drums.length);
    expect(drums.length).toBeGreaterThan(3);
    for (const [place, { noteNumber, channel }] of notes.entries()) {
      expect(channel).toBe(9);
      expect(percussionOfKey(noteNumber)?.role).toBe(drums[place]);
    }
  });

  it('has all kicks on the one key of kicks, toms on several ("General MIDI System Level 1", percussion key map)', () => {
    expect([0, 1, 5].map((place) => agreedKey('kick', place))).toEqual([36, 36, 36]);
    expect([0, 1, 2].map((place) => agreedKey('tom', place))).toEqual([45, 47, 48]);
    expect(agreedKey('chord', 0)).toBeNull();
  });
});
