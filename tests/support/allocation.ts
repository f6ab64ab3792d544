/** Prints how many bytes each effect allocates in a control step, at its usual settings and far from them. */
import { makeSlot } from '#core/engine/mix/make-slot.ts';
import { CONTROL_FRAMES } from '#core/engine/control/control-step.ts';
import { EFFECT_KINDS, EFFECT_ROWS } from '#core/params/effects.ts';
import { packValues } from '#core/params/row.ts';
import { momentAt } from './mixing.ts';
import { unusualValues } from './unusual-values.ts';

const RATE = 44_100;
/** Until all of it has been compiled: before that numbers live on the heap. */
const WARM_STEPS = 15_000;
const STEPS = 3_000;

/** What is compiled meanwhile, or collected, counts in one measurement and not in the next. */
function measured(run: (count: number) => void): number {
  const before = process.memoryUsage().heapUsed;
  run(STEPS);
  return (process.memoryUsage().heapUsed - before) / STEPS;
}

/** What goes on at each step is in all of them; the lowest may be one in which something was collected. */
function steady(values: number[]): number {
  return values.sort((a, b) => a - b)[1]!;
}

const bytesAStep: Record<string, number> = {};
for (const kind of EFFECT_KINDS) {
  for (const [name, values] of [
    ['usual', packValues(EFFECT_ROWS[kind], {})],
    ['unusual', unusualValues(EFFECT_ROWS[kind])],
  ] as const) {
    const slot = makeSlot({ id: kind, kind, bypassed: false, sideChannelId: null, values }, RATE);
    slot.arrive();
    const sound = Float32Array.from({ length: 4 * CONTROL_FRAMES }, (_, i) => Math.sin(i / 3) * 0.5);
    const bus = { left: sound.slice(), right: sound.slice() };
    const moment = momentAt(0);
    const run = (count: number) => {
      for (let step = 0; step < count; step++) {
        if (step % 4 === 0) {
          bus.left.set(sound);
          bus.right.set(sound);
        }
        slot.process(bus, (step % 4) * CONTROL_FRAMES, CONTROL_FRAMES, moment);
      }
    };
    run(WARM_STEPS);
    bytesAStep[`${kind}, ${name}`] = steady(Array.from({ length: 5 }, () => measured(run)));
  }
}
process.stdout.write(JSON.stringify(bytesAStep));
