/** How effects and their settings are told: what a card says first, and which settings there are for what is chosen. */
import { EFFECT_ROWS, type EffectKind } from '#core/params/effects.ts';
import { formatValue, fullValues, type Row, type Rows } from '#core/params/row.ts';
import { keyName } from '../../canvas/key-names.ts';

/** The setting that a card shows. */
const FIRST: Readonly<Record<EffectKind, string>> = {
  drive: 'driveDb',
  crush: 'bits',
  filter: 'cutoffHz',
  equaliser: 'bell2Db',
  compressor: 'thresholdDb',
  ducking: 'depthDb',
  hits: 'attackDb',
  gate: 'thresholdDb',
  limiter: 'ceilingDb',
  echo: 'timeNote',
  room: 'decaySeconds',
  comb: 'note',
  shifter: 'shiftHz',
  sway: 'way',
  catch: 'length',
  width: 'width',
  paths: 'count',
};

/** Names the lists that effects are dragged between. */
export const DRAGGED_EFFECTS = 'effects';

function wordsOf(row: Row, value: unknown): string {
  if (row.kind === 'choice') return row.choices.find((one) => one.value === value)?.words ?? '';
  if (row.kind === 'toggle') return value === true ? row.label : '';
  if (row.isNote) return keyName(value as number);
  if (row.unit === 'Hz' && Math.abs(value as number) >= 1000) return `${((value as number) / 1000).toFixed(1)} kHz`;
  return formatValue(row, value as number);
}

/** What a card says of an effect. */
export function firstWords(kind: EffectKind, sparse: object): string {
  const rows: Rows = EFFECT_ROWS[kind];
  const values = fullValues(rows, sparse) as Record<string, unknown>;
  if (kind === 'echo' && values.timeIn === 'ms') return wordsOf(rows.timeMs!, values.timeMs);
  if (kind === 'gate' && values.opens === 'steps') return `steps of ${wordsOf(rows.stepNote!, values.stepNote)}`;
  if (kind === 'equaliser') {
    const used = Object.keys(rows).filter((id) => id.endsWith('Db') && values[id] !== 0).length;
    const cuts = [values.lowCut, values.highCut].filter((cut) => cut !== 'off').length;
    return used + cuts === 0 ? 'flat' : `${used + cuts} of 8`;
  }
  return wordsOf(rows[FIRST[kind]]!, values[FIRST[kind]]);
}

/** Kinds that may listen to another channel. */
export const LISTENING: ReadonlySet<EffectKind> = new Set(['filter', 'compressor', 'ducking', 'gate', 'comb']);

type Values = Record<string, unknown>;
/** Settings that only matter where another one says so. */
const ONLY_WHEN: Partial<Record<EffectKind, Readonly<Record<string, (values: Values) => boolean>>>> = {
  filter: {
    driveDb: ({ circuit }) => circuit === 'ladder',
    apartCents: ({ second }) => second !== 'none',
    attackMs: ({ followOctaves }) => followOctaves !== 0,
    releaseMs: ({ followOctaves }) => followOctaves !== 0,
    sensitivity: ({ followOctaves }) => followOctaves !== 0,
  },
  equaliser: {
    lowCutHz: ({ lowCut }) => lowCut !== 'off',
    highCutHz: ({ highCut }) => highCut !== 'off',
  },
  ducking: {
    under: ({ by }) => by === 'notes',
    thresholdDb: ({ by }) => by === 'level',
  },
  gate: {
    thresholdDb: ({ opens }) => opens === 'level',
    holdMs: ({ opens }) => opens === 'level',
    stepNote: ({ opens }) => opens === 'steps',
  },
  echo: {
    timeNote: ({ timeIn }) => timeIn === 'notes',
    timeMs: ({ timeIn }) => timeIn === 'ms',
  },
  room: { cutMs: ({ runs }) => runs === 'gated' },
  shifter: { delayMs: ({ feedback }) => feedback !== 0 },
  paths: {
    // Paths come and go on the card, with what stands in them.
    count: () => false,
    which: ({ joins }) => joins === 'turns',
    level1: ({ joins }) => joins === 'together',
    level2: ({ joins }) => joins === 'together',
    level3: ({ joins, count }) => joins === 'together' && Number(count) > 2,
    level4: ({ joins, count }) => joins === 'together' && Number(count) > 3,
  },
  sway: {
    rateHz: ({ rateIn }) => rateIn === 'hertz',
    rateNote: ({ rateIn }) => rateIn === 'notes',
    voices: ({ way }) => way === 'chorus',
    feedback: ({ way }) => way !== 'chorus',
  },
};

/**
 * The settings of an effect that are shown as fields, in their order; wet and steps have places of their own.
 * @param point of an equaliser the one that is chosen: only its settings stand there, and the cuts
 */
export function fieldsOf(kind: EffectKind, sparse: object, point = ''): string[] {
  const rows: Rows = EFFECT_ROWS[kind];
  const values = fullValues(rows, sparse) as Values;
  return Object.keys(rows).filter((id) => {
    if (id === 'wet' || (kind === 'gate' && id.startsWith('step') && id !== 'stepNote')) return false;
    if (kind === 'equaliser' && !/Cut/.test(id) && !id.startsWith(point)) return false;
    return ONLY_WHEN[kind]?.[id]?.(values) ?? true;
  });
}
