/** A tuned effect laid on keys: one treatment a note, the sound of the part as it was. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { planOf, play } from '../../../../tests/support/playing.ts';
import { sine } from '../../../../tests/support/signals.ts';
import type { AudioData } from '../../dsp/audio.ts';
import { withTreatment } from '../../queries/treatments.ts';
import { addEffect } from './effects.ts';
import { layTunings } from './tunings.ts';
import { EMPTY_HISTORY, record, undo } from '../../document/history.ts';
import { problemOfChange } from '../../document/validate.ts';

const RATE = 44_100;

function withComb() {
  const audio = { sampleRate: RATE, channels: [sine(220, 2).map((x) => x * 0.2)] } as AudioData;
  const project = loopProject(audio, [0, RATE], 1);
  const { channelId } = project.document.parts[project.partId]!;
  const document = unwrap(addEffect(project.document, { channelId, kind: 'comb' }, project.env));
  return { ...project, document, effectId: document.channels[channelId]!.effectOrder[0]! };
}
const NOTES = [36, 39, 41].map((note) => ({ note, name: `on ${note}` }));

describe('tunings on keys', () => {
  it('are treatments on keys that follow each other, from the first note on', () => {
    const { document, partId, effectId, env } = withComb();
    const laid = unwrap(layTunings(document, { partId, effectId, tunings: NOTES }, env));
    expect(problemOfChange(document, laid)).toBeNull();
    const part = laid.parts[partId]!;
    expect(part.treatments!.map(({ name }) => name)).toEqual(['on 36', 'on 39', 'on 41']);
    expect(part.treatments!.map(({ effects }) => effects[effectId]!.values.note)).toEqual([36, 39, 41]);
    expect(part.switches!.map(({ key }) => key)).toEqual([36, 37, 38]);
    expect(part.switches!.every(({ does, whileHeld }) => does === 'treatment' && !whileHeld)).toBe(true);
    expect(laid.effects).toBe(document.effects);
    expect(laid.song.values.changesAt).toBe('now');
    // A second row finds other keys; one undo takes each back.
    const again = unwrap(layTunings(laid, { partId, effectId, tunings: NOTES }, env));
    expect(again.parts[partId]!.switches!.slice(3).map(({ key }) => key)).toEqual([24, 25, 26]);
    const step = undo(record(EMPTY_HISTORY, 'tunings', document, laid), laid)!;
    expect(step.document).toEqual(document);
  });

  it('are heard as what they are tuned to', () => {
    const made = withComb();
    const { partId, effectId, env } = made;
    const laid = unwrap(layTunings(made.document, { partId, effectId, tunings: NOTES }, env));
    const part = laid.parts[partId]!;
    const heard = part.treatments!.map((one) =>
      play(planOf({ ...made, document: withTreatment(laid, part, one) }), RATE),
    );
    const differs = (a: Float32Array, b: Float32Array) => a.some((x, i) => Math.abs(x - b[i]!) > 0.005);
    expect(differs(heard[0]!, heard[1]!) && differs(heard[1]!, heard[2]!)).toBe(true);
  });

  it('are refused where there is no comb, and where there is no room', () => {
    const { document, partId, effectId, env } = withComb();
    const { channelId } = document.parts[partId]!;
    const driven = unwrap(addEffect(document, { channelId, kind: 'drive' }, env));
    const driveId = driven.channels[channelId]!.effectOrder[1]!;
    const refusal = (args: Parameters<typeof layTunings>[1]) => layTunings(driven, args, countingEnv());
    expect(refusal({ partId, effectId: driveId, tunings: NOTES })).toMatchObject({ ok: false });
    expect(refusal({ partId, effectId, tunings: [] })).toMatchObject({ ok: false });
    const many = Array.from({ length: 65 }, (_, i) => ({ note: 30 + i, name: `${i}` }));
    expect(refusal({ partId, effectId, tunings: many })).toMatchObject({ ok: false });
  });
});
