/** What effects cost: each by itself, at its usual settings and far from them, and all of a large mix. */
import { CONTROL_FRAMES } from '#core/engine/control/control-step.ts';
import { MixGraph } from '#core/engine/mix/graph.ts';
import { makeSlot } from '#core/engine/mix/make-slot.ts';
import type { ChannelFragment, EffectFragment } from '#core/engine/plan/fragments.ts';
import { EFFECT_KINDS, EFFECT_ROWS, type EffectKind } from '#core/params/effects.ts';
import { packValues } from '#core/params/row.ts';
import { channelFragment, momentAt, sendFragment } from '../tests/support/mixing.ts';
import { unusualValues } from '../tests/support/unusual-values.ts';

const RATE = 44_100;
const SECONDS = 10;

const share = (ms: number, seconds: number) => `${(ms / (seconds * 10)).toFixed(2)}%`;
const sound = (i: number) => Math.sin(i / 7) * 0.4 * Math.exp(-(i % 11_025) / 4000);

function costOf(kind: EffectKind, values: Float64Array): string {
  const slot = makeSlot({ id: kind, kind, bypassed: false, sideChannelId: null, values }, RATE);
  slot.arrive();
  const left = new Float32Array(CONTROL_FRAMES);
  const right = new Float32Array(CONTROL_FRAMES);
  const moment = momentAt(0);
  const run = (seconds: number) => {
    for (let at = 0; at < seconds * RATE; at += CONTROL_FRAMES) {
      for (let i = 0; i < CONTROL_FRAMES; i++) left[i] = right[i] = sound(at + i);
      moment.frame = moment.songFrame = at;
      moment.isStep = true;
      slot.process({ left, right }, 0, CONTROL_FRAMES, moment);
    }
  };
  run(SECONDS / 2);
  const began = performance.now();
  run(SECONDS);
  return share(performance.now() - began, SECONDS);
}

/** Sixteen parts with four effects each, sent to four buses with echo and room. */
function largeMix(): string {
  const effect = (id: string, kind: EffectKind): EffectFragment => ({
    id,
    kind,
    bypassed: false,
    sideChannelId: null,
    values: packValues(EFFECT_ROWS[kind], {}),
  });
  const parts = Array.from({ length: 16 }, (_, n): ChannelFragment => {
    const kinds =
      n % 2 === 0
        ? (['drive', 'filter', 'equaliser', 'compressor'] as const)
        : (['hits', 'gate', 'ducking', 'sway'] as const);
    const effects = kinds.map((kind) => effect(`${n} ${kind}`, kind));
    return channelFragment(`part ${n}`, { effects, sends: [sendFragment(`bus ${n % 4}`, -12)] });
  });
  const buses = Array.from({ length: 4 }, (_, n) =>
    channelFragment(`bus ${n}`, { effects: [effect(`${n} echo`, 'echo'), effect(`${n} room`, 'room')] }),
  );
  const graph = new MixGraph(RATE);
  graph.update([...parts, ...buses], []);
  const out = { left: new Float32Array(128), right: new Float32Array(128) };
  // A second of it, made before: what it costs to make is no cost of the mix.
  const sounds = Float32Array.from({ length: 2 * RATE }, (_, i) => sound(i));
  const run = (seconds: number) => {
    for (let at = 0; at < seconds * RATE; at += 128) {
      for (let n = 0; n < 16; n++) {
        const { left, right } = graph.get(`part ${n}`)!;
        const from = (at + 500 * n) % RATE;
        left.set(sounds.subarray(from, from + 128));
        right.set(sounds.subarray(from, from + 128));
      }
      graph.mixInto(out, 0, 128, momentAt(at), 0);
    }
  };
  run(3);
  const began = performance.now();
  run(SECONDS);
  return share(performance.now() - began, SECONDS);
}

export function benchEffects(): void {
  // First of all: what effects do far from their usual settings would stand in the way of what is fast.
  const mix = largeMix();
  const rows = EFFECT_KINDS.map(
    (kind) =>
      `| ${kind} | ${costOf(kind, packValues(EFFECT_ROWS[kind], {}))} | ${costOf(kind, unusualValues(EFFECT_ROWS[kind]))} |`,
  );
  process.stdout.write(
    [
      '| effect | usual settings, of a core | far from them |',
      '| --- | --- | --- |',
      ...rows,
      `| 16 parts with 4 effects each, 4 buses with echo and room | ${mix} | |`,
      '',
    ].join('\n'),
  );
}
