/** Patterns, deals and MIDI files as nobody would make them: a clear word or a sane result, and nothing is lost. */
import { writeMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { readMidiFile } from '#core/formats/midi-file.ts';
import { LiveSong, set, shortBursts } from '../../../tests/support/playing.ts';
import { unwrap } from '../../../tests/support/documents.ts';
import { setEvents } from '../../../tests/support/edits.ts';
import { deal } from '../project/commands/deal.ts';
import { copyPattern, layPattern, setPatternLength } from '../project/commands/patterns.ts';
import { placeEvents } from '../project/commands/transform.ts';
import { setValue } from '../project/commands/values.ts';
import { brokenRule } from '../document/validate.ts';
import { eventsOf } from '../queries/patterns.ts';
import { notesToStrips } from '../queries/pattern-notes.ts';

const RATE = 44_100;

function table() {
  const made = set(shortBursts(), { oneAtATime: true });
  const { partId, home, env } = made;
  const document = unwrap(copyPattern(made.document, { partId, patternId: home }, env));
  const patternId = document.parts[partId]!.activePatternId;
  return { ...made, document, patternId, ids: eventsOf(document, patternId).map(({ id }) => id) };
}

describe('a MIDI file', () => {
  const ofNotes = (count: number) => {
    const events = Array.from({ length: count }, (_, i) => [
      { deltaTime: 0, type: 'noteOn' as const, channel: 0, noteNumber: 48 + (i % 8), velocity: 100 },
      { deltaTime: 4, type: 'noteOff' as const, channel: 0, noteNumber: 48 + (i % 8), velocity: 0 },
    ]).flat();
    const tracks = [[...events, { deltaTime: 0, type: 'endOfTrack' as const, meta: true as const }]];
    return Uint8Array.from(writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 480 }, tracks }));
  };

  it('of 100,000 notes is refused with the way out; of 20,000 it becomes a pattern', () => {
    expect(() => readMidiFile(ofNotes(100_000))).toThrow(/100000 notes.*shorter/);
    const { tracks: read } = readMidiFile(ofNotes(20_000));
    const { document, partId, env } = table();
    const { strips } = notesToStrips(document, document.parts[partId]!, read[0]!.notes, 'key');
    const laid = unwrap(layPattern(document, { partId, name: 'many', lengthTicks: 64 * 3840, strips }, env));
    expect(brokenRule(laid)).toBeNull();
    expect(eventsOf(laid, laid.parts[partId]!.activePatternId)).toHaveLength(20_000);
  });
});

describe('a pattern shorter than its strips', () => {
  it('plays what fits, and keeps the rest for when it is longer again', () => {
    const { document, patternId, assets, partId, env } = table();
    const zoneId = document.parts[partId]!.zoneOrder[0]!;
    const strips = [{ zoneId, positionTicks: 100, lengthTicks: 3700, values: {} }];
    const long = unwrap(placeEvents(document, { patternId, strips }, env));
    const short = unwrap(setPatternLength(long, { patternId, lengthTicks: 240 }, env));
    expect(brokenRule(short)).toBeNull();
    const song = new LiveSong(short, assets);
    song.renderer.play();
    const out = song.next(2 * RATE);
    expect(out.every(Number.isFinite)).toBe(true);
    song.renderer.stop();
    song.next(RATE);
    expect(song.sounding).toEqual([]);
    const again = unwrap(setPatternLength(short, { patternId, lengthTicks: 3840 }, env));
    expect(eventsOf(again, patternId)).toEqual(eventsOf(long, patternId));
  });
});

describe('a deal', () => {
  it('where all is held, or every sound left out, is refused with the way out', () => {
    const { document, patternId, ids, partId, env } = table();
    const held = unwrap(setEvents(document, { patternId, eventIds: ids, settings: { hold: true } }, env));
    expect(deal(held, { partId, reachPercent: 100 }, env)).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/not held/) as string,
    });
    const owners = document.parts[partId]!.zoneOrder.map((id) => ({ kind: 'zone' as const, id }));
    const without = unwrap(setValue(document, { owners, param: 'dealWeight', change: { to: 0 } }, env));
    for (const sounds of ['exchanged', 'any'] as const) {
      expect(deal(without, { partId, reachPercent: 100, rules: { sounds } }, env).ok).toBe(false);
    }
  });

  it('of strips that are never heard deals them, and they stay silent', () => {
    const { document, patternId, ids, partId, env, assets } = table();
    const settings = { chancePercent: 0 };
    const silent = unwrap(setEvents(document, { patternId, eventIds: ids, settings }, env));
    const dealt = unwrap(deal(silent, { partId, reachPercent: 100 }, env));
    const song = new LiveSong(dealt, assets);
    song.renderer.play();
    expect(song.next(3 * RATE).every((sample) => sample === 0)).toBe(true);
  });

  it('twenty times a second while keys are held loses nothing and leaves no voice behind', () => {
    const made = table();
    const { partId, assets, env } = made;
    let { document } = made;
    const song = new LiveSong(document, assets);
    song.renderer.play();
    for (let step = 0; step < 60; step++) {
      if (step % 6 === 0) song.renderer.noteOn(partId, 48 + (step % 8), 1, step);
      document = unwrap(deal(document, { partId, reachPercent: 100 }, env));
      song.edit(document);
      const out = song.next(RATE / 20);
      expect(out.every((sample) => Number.isFinite(sample) && Math.abs(sample) < 4)).toBe(true);
      if (step % 6 === 3) song.renderer.noteOff(step - 3);
    }
    const pattern = document.patterns[made.patternId]!;
    expect(pattern.handOrder).toHaveLength(61);
    expect(brokenRule(document)).toBeNull();
    song.renderer.stop();
    song.next(2 * RATE);
    expect(song.sounding).toEqual([]);
  });
});
