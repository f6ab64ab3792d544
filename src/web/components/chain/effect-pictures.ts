/** Pictures of what effects do, from their settings: lines and areas in a box of 100 by 64, its origin at the top left. */
import { compressedDb } from '#core/engine/mix/effects/compressor.ts';
import { bent as bentWave } from '#core/engine/mix/effects/building/bends.ts';
import { bent as bentWay } from '#core/dsp/bend.ts';
import { shareOfPlace } from '#core/engine/mix/effects/building/share-of-place.ts';
import { NOTHING_DB } from '#core/params/effect-rows/paths.ts';
import { EFFECT_ROWS, type EffectKind } from '#core/params/effects.ts';
import { NOTE_QUARTERS } from '#core/params/effect-rows/common.ts';
import { fullValues, packValue, type Rows, type ValuesOf } from '#core/params/row.ts';
import { equaliserDb, filterDb } from '#core/queries/effect-curves.ts';

export const WIDTH = 100;
export const HEIGHT = 64;
const RATE = 44_100;
const POINTS = 60;

/** A shape of a picture: where it is filled the area under it, else its line. */
export interface Shape {
  path: string;
  look: 'line' | 'area' | 'faint' | 'bar' | 'warm';
}

type ValuesOfKind<K extends EffectKind> = ValuesOf<(typeof EFFECT_ROWS)[K]>;
type Draw<K extends EffectKind> = (values: ValuesOfKind<K>) => Shape[];

const at = (x: number, y: number) => `${x.toFixed(1)},${y.toFixed(1)}`;

/** A line through values of 0..1 from left to right, 1 at the top. */
function line(valueAt: (share: number) => number, look: Shape['look'] = 'line', points = POINTS): Shape {
  const dots = Array.from({ length: points + 1 }, (_, i) => {
    const share = i / points;
    return at(share * WIDTH, (1 - Math.max(0, Math.min(1, valueAt(share)))) * HEIGHT);
  });
  return { path: `M${dots.join('L')}`, look };
}

/** The same, and the area under it. */
function filled(valueAt: (share: number) => number): Shape[] {
  const edge = line(valueAt);
  return [{ path: `${edge.path}L${WIDTH},${HEIGHT}L0,${HEIGHT}Z`, look: 'area' }, edge];
}

const bar = (x: number, width: number, height: number, look: Shape['look'] = 'bar'): Shape => ({
  path: `M${at(x, HEIGHT)}V${((1 - height) * HEIGHT).toFixed(1)}h${width.toFixed(1)}V${HEIGHT}Z`,
  look,
});

const hzAt = (share: number) => 20 * 1000 ** share;
const byLevel = (dB: number) => 0.5 + dB / 48;
const index = (kind: EffectKind, param: string, value: unknown) => {
  const rows: Rows = EFFECT_ROWS[kind];
  return packValue(rows[param]!, value);
};
/** How much of a second, or of two bars at a hundred and twenty, as a share of the picture. */
const quartersOf = (kind: EffectKind, param: string, value: unknown) => NOTE_QUARTERS[index(kind, param, value)]!;

const DRAW: { [K in EffectKind]: Draw<K> } = {
  drive: (values) => {
    const way = index('drive', 'shape', values.shape);
    const drive = 10 ** (values.driveDb / 20);
    const most = Math.max(0.2, Math.abs(bentWave(way, drive)), Math.abs(bentWave(way, -drive)));
    return [line((x) => x, 'faint'), ...filled((x) => 0.5 + (0.48 * bentWave(way, (2 * x - 1) * drive)) / most)];
  },
  crush: ({ bits, rateHz }) => {
    const levels = 2 ** (Math.min(bits, 6) - 1);
    const looks = Math.max(4, Math.min(POINTS, (rateHz / 20_000) * POINTS));
    const wave = (x: number) => Math.sin(2 * Math.PI * x);
    return [
      line((x) => 0.5 + 0.45 * wave(x), 'faint'),
      line((x) => 0.5 + (0.45 * Math.round(wave(Math.floor(x * looks) / looks) * levels)) / levels, 'line', 4 * POINTS),
    ];
  },
  filter: (values) => filled((x) => byLevel(filterDb(values, hzAt(x), RATE) - 6)),
  equaliser: (values) => [line(() => 0.5, 'faint'), ...filled((x) => byLevel(equaliserDb(values, hzAt(x), RATE)))],
  compressor: ({ thresholdDb, ratio, kneeDb }) => [
    line((x) => x, 'faint'),
    ...filled((x) => 1 + compressedDb(60 * (x - 1), thresholdDb, ratio, kneeDb) / 60),
  ],
  ducking: ({ depthDb, downMs, holdMs, returnMs, bend }) => {
    const spanMs = 600;
    const level = (ms: number) => {
      if (ms < downMs) return ms / downMs;
      if (ms < downMs + holdMs) return 1;
      return 1 - bentWay(Math.min(1, (ms - downMs - holdMs) / returnMs), bend);
    };
    const depth = Math.min(1, -depthDb / 30);
    return filled((x) => 0.9 * (1 - depth * level(((x * 2) % 1) * spanMs)));
  },
  hits: ({ attackDb, bodyDb }) => {
    const hit = (x: number, attack: number, body: number) =>
      Math.min(
        1,
        0.55 * Math.exp(-7 * x) * 10 ** ((attack * Math.exp(-14 * x)) / 20) * 10 ** ((body * Math.min(1, 3 * x)) / 30),
      );
    return [
      line((x) => hit((x * 2) % 1, 0, 0), 'faint', 2 * POINTS),
      ...filled((x) => hit((x * 2) % 1, attackDb, bodyDb)),
    ];
  },
  gate: (values) => {
    if (values.opens === 'steps') {
      const steps = Array.from({ length: 16 }, (_, i) => (values as Record<string, unknown>)[`step${i + 1}`] as number);
      return steps.map((step, i) => bar((i * WIDTH) / 16 + 0.6, WIDTH / 16 - 1.2, Math.max(0.02, step * 0.94)));
    }
    const hit = (x: number) => Math.exp(-6 * ((x * 2) % 1)) * 0.92;
    const opensAt = 1 + values.thresholdDb / 80;
    return [
      line(hit, 'faint', 2 * POINTS),
      ...filled((x) => (hit(x) > opensAt * 0.92 ? hit(x) : 0)),
      line(() => opensAt * 0.92, 'warm'),
    ];
  },
  limiter: ({ inputDb, ceilingDb }) => {
    const wave = (x: number) => Math.abs(Math.sin(19 * x) * Math.sin(47 * x + 1)) * 0.8 * 10 ** (inputDb / 30);
    const ceiling = 0.92 * (1 + ceilingDb / 30);
    return [line(wave, 'warm'), ...filled((x) => Math.min(ceiling, wave(x))), line(() => ceiling)];
  },
  echo: (values) => {
    const every =
      values.timeIn === 'notes' ? quartersOf('echo', 'timeNote', values.timeNote) / 4 : values.timeMs / 2000;
    const share = Math.max(0.03, every);
    const shapes = [bar(2, 3, 0.94)];
    for (let n = 1, level = 0.8; n * share < 0.97 && n < 24 && level > 0.02; n++, level *= values.feedback)
      shapes.push(bar(2 + n * share * WIDTH, 3, level, 'area'));
    return shapes;
  },
  room: ({ decaySeconds, beforeMs, size, runs, early }) => {
    const start = 0.04 + Math.min(0.3, beforeMs / 1000);
    const span = 4;
    const tail = (x: number) => {
      const seconds = (x - start) * span;
      if (seconds < 0) return 0;
      if (runs === 'backwards') return seconds < decaySeconds ? 0.8 * 10 ** (2 * (seconds / decaySeconds - 1)) : 0;
      if (runs === 'gated' && seconds > 1) return 0;
      return 0.85 * 10 ** ((-3 * seconds) / decaySeconds / 2);
    };
    const walls = [0.03, 0.05, 0.09].map((wall) => bar((start + wall * size) * WIDTH, 1, early * 0.7, 'faint'));
    return [bar(2, 1.6, 0.96), ...filled(tail), ...walls];
  },
  comb: ({ note, second, third, fourth, sign }) => {
    const notes = [0, second, third, fourth].filter((by, i) => i === 0 || by !== 0);
    return notes.flatMap((by, i) => {
      const step = 4 + ((note + by) / 127) * 22;
      return Array.from({ length: Math.floor(WIDTH / step) }, (_, n) =>
        bar((n + (sign === 'down' ? 0.5 : 1)) * step, 1.2, 0.92 - 0.025 * n - 0.12 * i, i === 0 ? 'bar' : 'area'),
      );
    });
  },
  shifter: ({ shiftHz }) => {
    const by = Math.sign(shiftHz) * Math.log2(1 + Math.abs(shiftHz)) * 2.4;
    return [0.2, 0.4, 0.6, 0.8].flatMap((x, n) => [
      bar(x * WIDTH - 1, 1.4, 0.7 - 0.1 * n, 'faint'),
      bar(x * WIDTH - 1 + by, 1.8, 0.9 - 0.15 * n),
    ]);
  },
  sway: ({ way, depth, voices, feedback }) =>
    way === 'chorus'
      ? Array.from({ length: voices }, (_, v) =>
          line((x) => 0.5 + 0.44 * depth * Math.sin(2 * Math.PI * (x + v / 6)), v === 0 ? 'line' : 'faint'),
        )
      : filled((x) => {
          const notches = way === 'flanger' ? 9 : 3;
          const comb = Math.abs(Math.cos(Math.PI * notches * x * (1 + 0.3 * depth)));
          return 0.08 + 0.84 * (1 - depth * (1 - comb ** (1 - 0.7 * Math.abs(feedback))));
        }),
  catch: ({ length, fallDb, runs }) => {
    const share = Math.max(0.04, Math.min(0.5, quartersOf('catch', 'length', length) / 4));
    const rounds = Math.floor(1 / share);
    return Array.from({ length: rounds }, (_, n) => {
      const level = 10 ** ((-fallDb * n) / 20);
      const [from, to] = runs === 'backwards' ? [0.2, 0.9] : [0.9, 0.2];
      const x = n * share * WIDTH;
      const end = (n + 0.92) * share * WIDTH;
      const y = (height: number) => (1 - height * level) * HEIGHT;
      return {
        path: `M${at(x, HEIGHT)}L${at(x, y(from))}L${at(end, y(to))}L${at(end, HEIGHT)}Z`,
        look: n === 0 ? 'bar' : 'area',
      } as Shape;
    });
  },
  paths: ({ count, joins, which, level1, level2, level3, level4 }) =>
    [level1, level2, level3, level4].slice(0, count).flatMap((level, place) => {
      const share =
        joins === 'together' ? (level - NOTHING_DB) / (12 - NOTHING_DB) : shareOfPlace(place, which * (count - 1));
      const width = WIDTH / count;
      return [bar(place * width + width * 0.2, width * 0.6, Math.max(0.02, share * 0.9))];
    }),
  width: ({ width }) => {
    const half = 4 + width * 22;
    const top = 8;
    return [
      { path: `M${at(50, HEIGHT)}L${at(50 - half, top)}L${at(50 + half, top)}Z`, look: 'area' },
      { path: `M${at(50 - half, top)}L${at(50, HEIGHT)}L${at(50 + half, top)}`, look: 'line' },
      { path: `M50,${HEIGHT}V${top}`, look: 'faint' },
    ];
  },
};

/** The picture of an effect with these settings. */
export function effectPicture(kind: EffectKind, sparse: object): Shape[] {
  const rows: Rows = EFFECT_ROWS[kind];
  return (DRAW[kind] as (values: object) => Shape[])(fullValues(rows, sparse));
}
