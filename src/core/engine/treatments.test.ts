/** Another treatment of a part takes over while it plays: when, on which frame, and what comes between. */
import { describe, expect, it } from 'vitest';
import { addModulator, drawModulator, setRoute } from '#core/project/commands/modulators.ts';
import { keepTreatment, putTreatmentOn } from '#core/project/commands/treatments.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { withTreatment } from '#core/queries/treatments.ts';
import type { SongValues, ZoneValues } from '#core/params/tables.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { setPart, setSong, setZones, type PartSettings } from '../../../tests/support/edits.ts';
import { energy, LiveSong, play, planOf, set, shortBursts } from '../../../tests/support/playing.ts';

const RATE = 44_100;
const BEAT = RATE / 2;
const BAR = 4 * BEAT;
const ASKED = Math.round(1.3 * BEAT);
const env = { ...countingEnv(), newId: () => crypto.randomUUID() };

/** The bar of bursts as it is, and with another treatment put on. */
function twoTreatments(
  changesAt: SongValues['changesAt'],
  sound: Partial<ZoneValues>,
  settings: PartSettings = {},
  before: PartSettings = {},
) {
  const made = set(shortBursts(), { oneAtATime: true, ...before });
  const { partId } = made;
  const plain = unwrap(setSong(made.document, { changesAt, tempoBpm: 120 }));
  const sliceIds = slicesOfCut(plain, plain.parts[partId]!.cutOrder[0]!).map(({ slice }) => slice.id);
  const treated = unwrap(setPart(unwrap(setZones(plain, { partId, sliceIds, sound })), { partId, settings }));
  const kept = unwrap(keepTreatment(treated, { partId }, env));
  const { id: treatmentId } = kept.parts[partId]!.treatments![0]!;
  const from = {
    ...plain,
    parts: { ...plain.parts, [partId]: { ...plain.parts[partId]!, treatments: kept.parts[partId]!.treatments } },
  };
  return { ...made, sliceIds, plain: from, treated: unwrap(putTreatmentOn(from, { partId, treatmentId }, env)) };
}

function difference(a: Float32Array, b: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!));
  return most;
}

describe('another treatment', () => {
  it.each([
    ['beat', 2 * BEAT],
    ['bar', BAR],
    ['round', BAR],
  ] as const)('is heard from the next %s on, to the frame', (changesAt, frame) => {
    const made = twoTreatments(changesAt, { tuneCents: 700, reverse: true });
    const song = new LiveSong(made.plain, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(ASKED));
    song.edit(made.treated, made.treated, made.partId);
    expect(song.renderer.takePartStatus()).toMatchObject([{ awaitsSound: true }]);
    heard.set(song.next(2 * BAR - ASKED), ASKED);
    expect(song.renderer.takePartStatus()).toMatchObject([{ awaitsSound: false }]);
    const before = play(planOf({ ...made, document: made.plain }), 2 * BAR);
    const after = play(planOf({ ...made, document: made.treated }), 2 * BAR);
    expect(difference(before, after, frame, 2 * BAR)).toBeGreaterThan(0.1);
    expect(difference(heard, before, 0, frame)).toBe(0);
    // Bursts begin with the beats: none sounds over the line but by its last breath.
    expect(difference(heard, after, frame + 400, 2 * BAR)).toBe(0);
  });

  it('is heard at once when the song says so, and while nothing runs', () => {
    const made = twoTreatments('now', { muted: true });
    const song = new LiveSong(made.plain, made.assets);
    song.renderer.play();
    song.next(ASKED);
    song.edit(made.treated, made.treated, made.partId);
    song.next(400);
    expect(energy(song.next(BAR), 0, BAR)).toBe(0);

    const still = twoTreatments('bar', { muted: true });
    const stopped = new LiveSong(still.plain, still.assets);
    stopped.edit(still.treated, still.treated, still.partId);
    stopped.renderer.noteOn(still.partId, 48, 1);
    expect(energy(stopped.next(BEAT), 0, BEAT)).toBe(0);
  });

  it('mutes on the line, with the stop fade', () => {
    const made = twoTreatments('beat', { muted: true });
    const song = new LiveSong(made.plain, made.assets);
    song.renderer.play();
    song.next(ASKED);
    song.edit(made.treated, made.treated, made.partId);
    const heard = song.next(2 * BEAT - ASKED + BAR);
    const line = 2 * BEAT - ASKED;
    expect(energy(heard, 0, line)).toBeGreaterThan(0.1);
    expect(energy(heard, line + 200, heard.length)).toBe(0);
  });

  it('that is called off before its turn leaves nothing behind', () => {
    const made = twoTreatments('bar', { tuneCents: 700, gainDb: -20 }, { transposeCents: 300, gainDb: -6 });
    const song = new LiveSong(made.plain, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(ASKED));
    song.edit(made.treated, made.treated, made.partId);
    heard.set(song.next(BEAT), ASKED);
    song.edit(made.plain, made.plain, made.partId);
    heard.set(song.next(2 * BAR - ASKED - BEAT), ASKED + BEAT);
    const before = play(planOf({ ...made, document: made.plain }), 2 * BAR);
    expect(difference(heard, before, 0, 2 * BAR)).toBe(0);
  });

  it('lets what is changed by hand meanwhile be heard at once, and stay', () => {
    const made = twoTreatments('bar', { gainDb: -20 });
    const { partId, sliceIds } = made;
    const song = new LiveSong(made.plain, made.assets);
    song.renderer.play();
    song.next(ASKED);
    song.edit(made.treated, made.treated, partId);
    const byHand = unwrap(setZones(made.treated, { partId, sliceIds, sound: { gainDb: -3 } }));
    song.edit(byHand);
    song.next(BEAT);
    const soon = song.next(BEAT / 2);
    song.next(2 * BAR - ASKED - BEAT - BEAT / 2);
    const later = song.next(BAR);
    const wanted = play(planOf({ ...made, document: byHand }), BAR);
    expect(difference(later, wanted, 0, BAR)).toBeLessThan(1e-6);
    expect(energy(soon, 0, soon.length)).toBeGreaterThan(0.1 * energy(wanted, 0, soon.length));
  });

  it('of a stretched part brings its transposed samples on the line, however early they are ready', () => {
    const stretched = { follow: 'stretch' } as const;
    const made = twoTreatments('bar', {}, { transposeCents: 700 }, stretched);
    const slow = (document: typeof made.plain) => unwrap(setSong(document, { tempoBpm: 100 }));
    const [plain, treated] = [slow(made.plain), slow(made.treated)];
    const bar = Math.round((4 * 60 * RATE) / 100);
    const song = new LiveSong(plain, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * bar);
    heard.set(song.next(ASKED));
    song.edit(treated, treated, made.partId);
    heard.set(song.next(2 * bar - ASKED), ASKED);
    const before = play(planOf({ ...made, document: plain }), 2 * bar);
    const after = play(planOf({ ...made, document: treated }), 2 * bar);
    expect(difference(heard, before, 0, bar - 200)).toBe(0);
    expect(difference(before, after, bar, 2 * bar)).toBeGreaterThan(0.1);
    expect(difference(heard, after, bar + 400, 2 * bar)).toBeLessThan(1e-6);
  });

  it('moves as it says from the line on: other steps, another amount, and nothing by what came since', () => {
    const made = set(shortBursts(), { oneAtATime: true });
    const { partId } = made;
    const moves = { paramId: 'gainDb', amount: 1 };
    let document = unwrap(setSong(made.document, { changesAt: 'bar', tempoBpm: 120 }));
    document = unwrap(addModulator(document, { ownerId: partId, kind: 'steps', ...moves }, env));
    const modulatorId = Object.keys(document.modulators)[0]!;
    document = unwrap(keepTreatment(document, { partId }, env));
    const treatmentId = document.parts[partId]!.treatments![0]!.id;
    let other = unwrap(drawModulator(document, { modulatorId, steps: [0, -1] }, env));
    other = unwrap(setRoute(other, { modulatorId, ...moves, amount: 0.4 }, env));
    other = unwrap(addModulator(other, { ownerId: partId, kind: 'lfo', paramId: 'pan', amount: 1 }, env));
    const back = unwrap(putTreatmentOn(other, { partId, treatmentId }, env));
    const song = new LiveSong(other, made.assets);
    song.renderer.play();
    const heard = new Float32Array(2 * BAR);
    heard.set(song.next(ASKED));
    song.edit(back, back, partId);
    heard.set(song.next(2 * BAR - ASKED), ASKED);
    const before = play(planOf({ ...made, document: other }), 2 * BAR);
    const after = play(planOf({ ...made, document: back }), 2 * BAR);
    expect(difference(heard, before, 0, BAR)).toBe(0);
    expect(difference(before, after, BAR, 2 * BAR)).toBeGreaterThan(0.1);
    expect(difference(heard, after, BAR + 2_000, 2 * BAR)).toBeLessThan(1e-6);
  });

  it('costs no more than the values that differ', () => {
    const made = twoTreatments('bar', { gainDb: -20 });
    const song = new LiveSong(made.plain, made.assets);
    const compiled = song.compiler.compiledCount;
    const patch = song.edit(made.treated, made.treated, made.partId)!;
    expect(song.compiler.compiledCount).toBe(compiled);
    expect(patch.values).toHaveLength(8);
    expect(
      song.edit(
        withTreatment(made.treated, made.treated.parts[made.partId]!, made.treated.parts[made.partId]!.treatments![0]!),
      ),
    ).toBeNull();
  });
});
