/**
 * A row of the table of settings: all that is to be known of one setting. Its Zod range, the check in a command, the field
 * on the screen, its reset, whether it may be moved by a modulator: everything follows from here, nothing is written twice.
 */
interface RowWords {
  /** What it is called on the screen and by a screen reader. */
  label: string;
  /** One sentence more, for a tooltip. */
  hint?: string;
}

/** How a field divides its way between the ends: evenly, or by equal factors (frequencies). */
export type Curve = 'linear' | 'logarithmic';

export interface NumberRow extends RowWords {
  kind: 'number';
  min: number;
  max: number;
  default: number;
  /** Whole numbers only. */
  isWhole: boolean;
  /** Only multiples of this. */
  multipleOf?: number;
  /** As shown: number shown = number stored * scale, with this unit, so many digits, nudged by such steps. */
  unit: string;
  scale: number;
  digits: number;
  step: number;
  curve: Curve;
  /** A key of the keyboard: shown with its name. */
  isNote: boolean;
  /** A new value is reached within this time, so that it makes no noise; 0: at the next event. In milliseconds. */
  smoothingMs: number;
  /**
   * How far a source moves it at full amount: as it is stored, or in cents where its curve is logarithmic. 0: nothing may
   * move it. What is reached within no time is looked at when a sound begins.
   */
  movedBy: number;
}

export interface Choice<Value extends string | number> {
  value: Value;
  words: string;
  /** Other settings of the same owner that it brings along, as long as nobody has set them: ids and values. */
  brings?: Readonly<Record<string, number>>;
}

export interface ChoiceRow<Value extends string | number = string | number> extends RowWords {
  kind: 'choice';
  choices: readonly Choice<Value>[];
  default: Value;
}

export interface ToggleRow extends RowWords {
  kind: 'toggle';
  default: boolean;
}

export type Row = NumberRow | ChoiceRow | ToggleRow;
/** The settings of one kind of owner, by their ids. */
export type Rows = Readonly<Record<string, Row>>;

export type ValueOf<R extends Row> = R extends NumberRow ? number : R extends ChoiceRow<infer Value> ? Value : boolean;
/** All values of an owner. */
export type ValuesOf<R extends Rows> = { readonly [Id in keyof R]: ValueOf<R[Id]> };
/** As a document keeps them: what is missing has its default. */
export type SparseValues<R extends Rows> = Partial<ValuesOf<R>>;

type NumberSettings = RowWords & { min: number; max: number; default: number } & Partial<
    Omit<NumberRow, 'kind' | keyof RowWords>
  >;

export function number(settings: NumberSettings): NumberRow {
  const defaults = { isWhole: false, unit: '', scale: 1, digits: 0, step: 1, curve: 'linear' as const, isNote: false };
  return { kind: 'number', ...defaults, smoothingMs: 0, movedBy: 0, ...settings };
}

export function choice<const Value extends string | number>(
  settings: RowWords & { choices: readonly Choice<Value>[]; default: Value },
): ChoiceRow<Value> {
  return { kind: 'choice', ...settings };
}

export function toggle(settings: RowWords & { default: boolean }): ToggleRow {
  return { kind: 'toggle', ...settings };
}

/** Does a value fit its row? The answer of its schema (see values-schema.ts), without the cost: for thousands of values at once. */
export function fitsRow(row: Row, value: unknown): boolean {
  if (row.kind === 'toggle') return typeof value === 'boolean';
  if (row.kind === 'choice') return row.choices.some((one) => one.value === value);
  if (typeof value !== 'number' || !(value >= row.min && value <= row.max)) return false;
  if (row.isWhole && !Number.isSafeInteger(value)) return false;
  return row.multipleOf === undefined || Number.isInteger(value / row.multipleOf);
}

/** A number as people read it: `-3.5 dB`, `1200 Hz`. */
export function formatValue(row: NumberRow, value: number): string {
  return `${(value * row.scale).toFixed(row.digits)}${row.unit ? ` ${row.unit}` : ''}`;
}

/** Why a value does not fit its row, in words; null when it fits. */
export function valueProblem(row: Row, value: unknown): string | null {
  if (fitsRow(row, value)) return null;
  if (row.kind === 'toggle') return `${row.label} is on or off`;
  if (row.kind === 'choice') return `${row.label} is one of ${row.choices.map(({ words }) => words).join(', ')}`;
  const whole = row.isWhole ? ' in whole numbers' : '';
  return `${row.label} goes from ${formatValue(row, row.min)} to ${formatValue(row, row.max)}${whole}`;
}

/** A number moved into its row's range, on a whole number where only those fit. */
export function fitValue(row: NumberRow, value: number): number {
  const fitted = Math.max(row.min, Math.min(row.max, value));
  return row.isWhole ? Math.round(fitted) : fitted;
}

const fullByRows = new WeakMap<Rows, WeakMap<object, object>>();

/** All values of an owner; the same object for the same sparse values. */
export function fullValues<R extends Rows>(rows: R, sparse: SparseValues<R>): ValuesOf<R> {
  let fullBySparse = fullByRows.get(rows);
  if (!fullBySparse) fullByRows.set(rows, (fullBySparse = new WeakMap()));
  const known = fullBySparse.get(sparse);
  if (known) return known as ValuesOf<R>;
  const values = Object.fromEntries(
    Object.entries(rows).map(([id, row]) => [id, (sparse as Record<string, unknown>)[id] ?? row.default]),
  ) as ValuesOf<R>;
  fullBySparse.set(sparse, values);
  return values;
}

/** Sparse values with changes put in; what has its default is left out. */
export function withValues<R extends Rows>(rows: R, sparse: SparseValues<R>, change: SparseValues<R>): SparseValues<R> {
  const next: Record<string, unknown> = { ...sparse, ...change };
  for (const id of Object.keys(change)) if (next[id] === rows[id]!.default || next[id] === undefined) delete next[id];
  return next as SparseValues<R>;
}

/**
 * What a choice brings along for the other settings of its owner: its own values in place of what another choice of the
 * row has brought, or of what nobody has set; what was set by hand stays.
 */
export function broughtBy(rows: Rows, row: Row, to: unknown, values: Record<string, unknown>): Record<string, unknown> {
  if (row.kind !== 'choice') return {};
  const chosen = row.choices.find(({ value }) => value === to);
  const ids = new Set(row.choices.flatMap(({ brings }) => Object.keys(brings ?? {})));
  return Object.fromEntries(
    [...ids].flatMap((id) => {
      const now = values[id];
      const isFree = now === undefined || row.choices.some(({ brings }) => brings?.[id] === now);
      return isFree ? [[id, chosen?.brings?.[id] ?? rows[id]!.default]] : [];
    }),
  );
}

/** What of stored values is still sound: rows come and go, and storage can be written by others. */
export function soundValues<R extends Rows>(rows: R, stored: unknown): SparseValues<R> {
  if (typeof stored !== 'object' || stored === null) return {};
  return Object.fromEntries(
    Object.entries(stored).filter(([id, value]) => Object.hasOwn(rows, id) && fitsRow(rows[id]!, value)),
  ) as SparseValues<R>;
}

/**
 * Values as numbers in the order of the rows, for the audio thread: toggles as 0 or 1, choices as their places.
 */
export function packValues<R extends Rows>(rows: R, sparse: SparseValues<R>): Float64Array {
  const values = fullValues(rows, sparse) as Record<string, unknown>;
  return Float64Array.from(Object.entries(rows), ([id, row]) => packValue(row, values[id]));
}

export function packValue(row: Row, value: unknown): number {
  if (row.kind === 'choice') return row.choices.findIndex((one) => one.value === value);
  return Number(value);
}

/** Places of the rows in packed values. */
export function slotsOf<R extends Rows>(rows: R): { readonly [Id in keyof R]: number } {
  return Object.fromEntries(Object.keys(rows).map((id, slot) => [id, slot])) as { [Id in keyof R]: number };
}
