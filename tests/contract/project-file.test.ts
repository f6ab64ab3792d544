/** docs/project-file.md says what the schema and the table of settings say: every field, every range, a whole example. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type * as z from 'zod/mini';
import { DEAL_ROWS } from '#core/params/deal-rows.ts';
import { EFFECT_ROWS } from '#core/params/effects.ts';
import { DOUBLE_ROWS } from '#core/params/double-rows.ts';
import { HELPER_ROWS } from '#core/params/helpers.ts';
import { MAPPING_ROWS } from '#core/params/mapping-rows.ts';
import { MODULATOR_ROWS, ROUTE_ROWS } from '#core/params/modulators.ts';
import type { Row, Rows } from '#core/params/row.ts';
import { SECTION_ROWS } from '#core/params/section-rows.ts';
import { CHANNEL_ROWS, CUT_ROWS, EVENT_ROWS, PART_ROWS, SEND_ROWS, SONG_ROWS, ZONE_ROWS } from '#core/params/tables.ts';
import {
  groove,
  hand,
  HEAD,
  keySwitch,
  loop,
  patternEvent,
  placing,
  slice,
  TABLES,
  tempoReading,
  double,
  treatment,
} from '#core/document/schema.ts';
import { openDocument } from '#core/document/validate.ts';

const text = readFileSync(new URL('../../docs/project-file.md', import.meta.url), 'utf8');
const sections = new Map(
  text
    .split(/^#{2,3} /m)
    .slice(1)
    .map((section) => [section.split('\n')[0]!.trim(), section]),
);

/** Lines of a table in a section, cell by cell, without the head. */
function cells(title: string): string[][] {
  const lines = (sections.get(title) ?? '').split('\n').filter((line) => line.startsWith('|'));
  return lines.slice(2).map((line) =>
    line
      .split('|')
      .slice(1, -1)
      .map((cell) => cell.trim()),
  );
}

/** Fields of a record, also of one that is one of several kinds or has a rule of its own. */
function fieldsOf(schema: z.ZodMiniType): string[] {
  const { options, shape } = schema.def as unknown as { options?: { shape: object }[]; shape?: object };
  const kinds = options ?? [{ shape: shape! }];
  return [...new Set(kinds.flatMap((kind) => Object.keys(kind.shape)))].sort();
}

function rangeOf(row: Row): string {
  if (row.kind === 'toggle') return 'true or false';
  if (row.kind === 'choice') return row.choices.map(({ value }) => `\`${value}\``).join(' ');
  return `${row.min} to ${row.max}${row.isWhole ? ', whole' : ''}`;
}

describe('docs/project-file.md', () => {
  const records: [string, z.ZodMiniType][] = [
    ...Object.entries(TABLES),
    ['slice', slice],
    ['loop', loop],
    ['tempo reading', tempoReading],
    ['event', patternEvent],
    ['hand', hand],
    ['groove', groove],
    ['switch', keySwitch],
    ['treatment', treatment],
    ['double', double],
    ['placing', placing],
  ];
  it.each(records)('%s: has every field and no other', (title, schema) => {
    expect(
      cells(title)
        .map(([field]) => field!.replaceAll('`', ''))
        .sort(),
    ).toEqual(fieldsOf(schema));
  });

  it('the head: has every field and table', () => {
    const named = cells('The whole').map(([field]) => field!.replaceAll('`', ''));
    expect(named.sort()).toEqual([...Object.keys(HEAD), ...Object.keys(TABLES)].sort());
  });

  const settings: [string, Rows][] = [
    ['Settings of the song', SONG_ROWS],
    ['Settings of a part', PART_ROWS],
    ['Settings of a cut', CUT_ROWS],
    ['Settings of a zone', ZONE_ROWS],
    ['Settings of a channel', CHANNEL_ROWS],
    ['Settings of a send', SEND_ROWS],
    ['Settings of a double', DOUBLE_ROWS],
    ['Settings of a route', ROUTE_ROWS],
    ['Settings of an event', EVENT_ROWS],
    ['Settings of a deal', DEAL_ROWS],
    ['Settings of a mapping', MAPPING_ROWS],
    ['Settings of a section', SECTION_ROWS],
    ...Object.entries(HELPER_ROWS).map(([kind, rows]): [string, Rows] => [`Settings of the helper ${kind}`, rows]),
    ...Object.entries(MODULATOR_ROWS).map(([kind, rows]): [string, Rows] => [
      `Settings of the modulator ${kind}`,
      rows,
    ]),
    ...Object.entries(EFFECT_ROWS).map(([kind, rows]): [string, Rows] => [`Settings of the effect ${kind}`, rows]),
  ];
  it.each(settings)('%s: ranges and defaults are those of the table', (title, rows) => {
    const expected = Object.entries(rows).map(([id, row]) => [`\`${id}\``, rangeOf(row), `\`${row.default}\``]);
    expect(cells(title).map(([id, range, standard]) => [id, range, standard])).toEqual(expected);
  });

  it('says what can be moved, and how far', () => {
    const owners: [string, Rows][] = [
      ['zone', ZONE_ROWS],
      ['channel', CHANNEL_ROWS],
      ['send', SEND_ROWS],
      ['double', DOUBLE_ROWS],
      ['route', ROUTE_ROWS],
      ...Object.entries(MODULATOR_ROWS).map(([kind, rows]): [string, Rows] => [`modulator ${kind}`, rows]),
      ...Object.entries(EFFECT_ROWS).map(([kind, rows]): [string, Rows] => [`effect ${kind}`, rows]),
      ...Object.entries(HELPER_ROWS).map(([kind, rows]): [string, Rows] => [`helper ${kind}`, rows]),
    ];
    const expected = owners.flatMap(([owner, rows]) =>
      Object.entries(rows).flatMap(([id, row]) =>
        row.kind === 'number' && row.movedBy > 0 ? [[owner, `\`${id}\``, String(row.movedBy)]] : [],
      ),
    );
    expect(cells('What can be moved').map(([owner, id, by]) => [owner, id, by])).toEqual(expected);
  });

  it('shows a project that opens', () => {
    const example = /```json\n([\s\S]*?)```/.exec(text)![1]!;
    const document = openDocument(JSON.parse(example));
    expect(Object.keys(document.patterns)).toHaveLength(1);
  });
});
