/** A hand is told by its seed: what a seed dealt once it must deal for ever, on every machine; here by the dealer of version 2. */
import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { bounce } from '#core/engine/bounce.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { dealEvents } from '#core/patterns/deal/deal.ts';
import { deal } from '#core/project/commands/deal.ts';
import { seededRandom } from '#core/units/random.ts';
import { loopProject, unwrap } from '../support/documents.ts';
import { eightStepLoop } from '../support/signals.ts';
import { setSong } from '../support/edits.ts';

const events = Array.from({ length: 12 }, (_, i) => ({
  id: `e${i}`,
  zoneId: String(i),
  positionTicks: i * 240,
  lengthTicks: 240,
  values: i === 4 ? { hold: true } : {},
}));

describe('golden hands', () => {
  it.each([
    [1, 100, '8 10 7 11 4 2 0 9 3 1 5 6'],
    [20417, 40, '1 3 2 9 4 5 6 7 8 0 10 11'],
    [2 ** 31 - 1, 60, '7 1 6 3 4 5 11 8 0 9 2 10'],
  ])('seed %i, reach %i', (seed, reachPercent, expected) => {
    expect(
      dealEvents(events, { seed, reachPercent })
        .map((event) => event.zoneId)
        .join(' '),
    ).toBe(expected);
  });

  it('the generator gives its published sequence', () => {
    // First values of mulberry32 for seed 0, computed from its public definition.
    const random = seededRandom(0);
    expect([random(), random(), random()].map((value) => Math.floor(value * 2 ** 32))).toEqual([
      1144304738, 1416247, 958946056,
    ]);
  });
});

describe('golden sound', () => {
  it('of a dealt pattern at another tempo is the same to the last bit', async () => {
    const { audio, starts } = eightStepLoop();
    const made = loopProject(audio, starts);
    let document = unwrap(deal(made.document, { partId: made.partId, reachPercent: 100, seed: 5 }, made.env));
    document = unwrap(setSong(document, { tempoBpm: 133.7 }));
    const out = await bounce(compilePlan(document, 44100, { assets: made.assets }), { lengthTicks: 3840 });
    const hash = createHash('sha256');
    // Rounded to 24 bits: the last bits of sines differ between engines' mathematics, none is used on this path.
    for (const channel of out.channels) hash.update(Int32Array.from(channel, (x) => Math.round(x * 2 ** 23)));
    expect(hash.digest('hex').slice(0, 16)).toBe('206966d13b0a7d93');
  });
});
