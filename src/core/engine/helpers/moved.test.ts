/** What moves settings moves those of helpers, too: a dial that shortens every hit of a runner. */
import { expect, it } from 'vitest';
import { putOnMacro } from '#core/project/commands/macros.ts';
import { setValue } from '#core/project/commands/values.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { RATE, WayRig, wayProject } from '../../../../tests/support/on-the-way.ts';
import { framesPerTick } from '../../units/time.ts';

const at = (ticks: number) => Math.floor(ticks * framesPerTick(120, RATE) + 0.5 + 1e-6);

it('a dial shortens the hits of a runner while it runs, and compiles nothing', () => {
  const made = wayProject([['runner', { rate: '1/16' }]]);
  const [helperId] = made.helperIds as [string];
  const target = { kind: 'helper' as const, id: helperId };
  const args = { place: 0, target, paramId: 'gatePercent', amount: -0.8 };
  const document = unwrap(putOnMacro(made.document, args, made.env));
  const macro = Object.values(document.modulators).find(({ kind }) => kind === 'macro')!;
  const rig = new WayRig(made, document);
  rig.press(48, 0);
  rig.runTo(at(240) - 5);
  const turned = unwrap(
    setValue(
      document,
      { owners: [{ kind: 'modulator', id: macro.id }], param: 'position', change: { to: 1 } },
      made.env,
    ),
  );
  rig.change(turned);
  rig.runTo(at(240 * 4));
  // 100 % of a step, then what is left of it: 20 %, once the dial has come there.
  expect(rig.ended[0]).toBe(at(240));
  expect(rig.ended[2]).toBe(at(480 + 240 * 0.2));
  expect(rig.ended[3]).toBe(at(720 + 240 * 0.2));
});
