/** Generated designs with data in PostgreSQL and in memory alike, for holding the two engines against each other. */
import {
  idsAs,
  kindOf,
  applyChanges,
  difference,
  emptyDesign,
  fieldOf,
  tableOf,
  type AppDesign,
  type DesignChange,
  type Field,
  type RecordSource,
  type RecordValue,
  type Value,
} from '@bibliona/core';
import fc from 'fast-check';
import type pg from 'pg';
import { field, table } from '../support.js';

export const zone = 'Europe/London';

/** Names with spaces, marks, words of the language and letters of many scripts; `n` keeps them apart. */
const name = (n: number): fc.Arbitrary<string> =>
  fc
    .constantFrom(
      'Amount',
      'Unit price',
      'Größe',
      'in stock',
      'Sale-price',
      'No. of jars',
      'and',
      '数量',
      'If any',
      '% full',
      'Price (net)',
      "Keeper's",
      'date',
      'Time-of-day',
    )
    .map((word) => `${word} ${n}`);

/** Three tables in a row, each the parent of the next, with every kind of field in the last two: the changes that make them, and the design. */
function designs(): fc.Arbitrary<Omit<MadeGarden, 'rows'>> {
  const names = fc.tuple(...Array.from({ length: 44 }, (_, i) => name(i)));
  return names.map((all) => {
    let next = 0;
    const called = (): string => all[(next += 1) - 1] ?? 'X';
    const kinds = (prefix: string) => [
      field('text', `${prefix}_text`, called()),
      field('whole', `${prefix}_whole`, called()),
      field('decimal', `${prefix}_decimal`, called(), { digits: 4 }),
      field('money', `${prefix}_money`, called(), { currency: 'GBP' }),
      field('percent', `${prefix}_percent`, called(), { digits: 1 }),
      field('date', `${prefix}_date`, called()),
      field('yes_no', `${prefix}_yes`, called()),
      field('time', `${prefix}_time`, called()),
      field('date_and_time', `${prefix}_moment`, called()),
      field('duration', `${prefix}_duration`, called()),
      field('phone', `${prefix}_phone`, called()),
      field('address', `${prefix}_address`, called()),
      field('place', `${prefix}_place`, called()),
      field('several_choices', `${prefix}_several`, called(), {
        choices: [
          { id: 'lime', label: 'Lime' },
          { id: 'ling', label: 'Ling heather' },
          { id: 'clover', label: 'Clover' },
        ],
      }),
      field('choice', `${prefix}_choice`, called(), {
        choices: [
          { id: 'low', label: 'Low' },
          { id: 'half', label: 'Half "full"' },
          { id: 'full', label: 'Voll ✓' },
        ],
      }),
    ];
    const related = (parent: string, child: string) =>
      ({
        kind: 'add_relationship',
        id: `r_${child}`,
        parent,
        child,
        fieldId: `${child}_up`,
        fieldName: called(),
        childrenName: called(),
        required: false,
        whenParentRemoved: 'refuse',
      }) as const;
    const changes: readonly DesignChange[] = [
      table('apiaries', 'Apiaries', [field('text', 'a_text', called(), { required: true }), field('decimal', 'a_decimal', called(), { digits: 2 })]),
      table('hives', 'Hives', kinds('h')),
      table('visits', 'Visits', kinds('v')),
      related('apiaries', 'hives'),
      related('hives', 'visits'),
    ];
    const made = applyChanges(emptyDesign('Garden', zone), changes);
    if (!made.ok) throw new Error(JSON.stringify(made.issues));
    return { changes, design: made.design };
  });
}

const texts = fc.constantFrom(
  '',
  'a',
  'jar',
  'Straße',
  '🐝 bee',
  'ÀÉ',
  'a"b\\c',
  "x'y%_",
  'Ωμέγα ΣΊΣΥΦΟΣ',
  '12.50',
  '1 000,5',
  '2026-03-29',
  'aaa bbb',
  '\n\t',
  'ﬁ',
  'ẞ',
  '10:00:00',
);
const wholes = fc.oneof(fc.integer({ min: -20, max: 20 }), fc.constantFrom(0, 9007199254740991, -9007199254740991, 1000000));
const decimals = fc.oneof(
  fc.constantFrom('0', '1', '-1', '0.5', '2.5', '-2.5', '0.0001', '12345678901234567890123456.7891', '-99999999999999999999999999.9999', '3', '7.25', '0.3333'),
  fc.integer({ min: -1_000_000, max: 1_000_000 }).map((n) => String(n / 100)),
);
const dates = fc.constantFrom(
  '2024-02-29',
  '2023-02-28',
  '2026-01-31',
  '2026-03-29',
  '2026-10-25',
  '0001-01-01',
  '9999-12-31',
  '1970-01-01',
  '2026-12-31',
  '2000-02-29',
  '1900-03-01',
  '2026-05-14',
);
const times = fc.constantFrom('00:00:00', '23:59:59', '12:00:00', '09:30:15', '01:30:00');
// With the hours at which the clocks of the zone change.
const moments = fc.constantFrom(
  '1970-01-01T00:00:00Z',
  '9999-12-31T23:59:59Z',
  '2026-03-29T00:59:59Z',
  '2026-03-29T01:00:00Z',
  '2026-10-25T00:30:00Z',
  '2026-10-25T01:30:00Z',
  '2024-02-29T12:00:00Z',
);
const durations = fc.oneof(fc.constantFrom(0, 1, -1, 5400, 86_400, -90_061, 316_224_000_000), fc.integer({ min: -1_000_000, max: 1_000_000 }));
export const valueOf = (item: Field): fc.Arbitrary<Value> => {
  switch (item.kind) {
    case 'whole':
      return wholes;
    case 'decimal':
      return item.digits === 4 ? decimals : fc.constantFrom('0', '1.25', '-3.5', '100');
    case 'money':
      return fc.constantFrom('0', '12.5', '-3.25', '1000000');
    case 'percent':
      return fc.constantFrom('0', '0.125', '-0.5', '1', '2.005');
    case 'date':
      return dates;
    case 'time':
      return times;
    case 'date_and_time':
      return moments;
    case 'duration':
      return durations;
    case 'yes_no':
      return fc.boolean();
    case 'several_choices':
      return fc.subarray(item.choices.map((each) => each.id)).map((ids) => idsAs(ids, item));
    case 'choice':
      return fc.constantFrom(...item.choices.map((each) => each.id));
    case 'phone':
    case 'address':
    case 'place':
      return kindOf(item).sample.values(fc, item);
    default:
      return texts;
  }
};

export interface Garden {
  readonly design: AppDesign;
  readonly rows: ReadonlyMap<string, readonly Readonly<Record<string, Value>>[]>;
}

/** With the changes that make its design. */
export interface MadeGarden extends Garden {
  readonly changes: readonly DesignChange[];
}

export function gardens(): fc.Arbitrary<MadeGarden> {
  return designs().chain(({ changes, design }) => {
    const rowsOf = (id: string, count: number, parents: number): fc.Arbitrary<readonly Readonly<Record<string, Value>>[]> => {
      const shape = Object.fromEntries(
        tableOf(design, id).fields.map((each): [string, fc.Arbitrary<Value>] => [
          each.id,
          each.kind === 'reference'
            ? fc.option(fc.integer({ min: 1, max: parents }), { freq: 5 })
            : each.required
              ? valueOf(each).filter((value) => value !== '')
              : fc.option(valueOf(each), { freq: 5 }),
        ]),
      );
      return fc.array(fc.record(shape), { minLength: count, maxLength: count });
    };
    return fc.tuple(rowsOf('apiaries', 3, 0), rowsOf('hives', 6, 3), rowsOf('visits', 14, 6)).map(([apiaries, hives, visits]) => ({
      changes,
      design,
      rows: new Map([
        ['apiaries', apiaries],
        ['hives', hives],
        ['visits', visits],
      ]),
    }));
  });
}

/** Makes the tables of a garden in a schema and fills them; ids count from 1. */
export async function plant(client: pg.Client, schema: string, { design, rows }: Garden): Promise<void> {
  await client.query(`CREATE SCHEMA ${schema}`);
  const { steps } = difference(emptyDesign('Garden', zone), design, { schema, keptSchema: `${schema}_kept`, stamp: 'v1', setAside: [], prepared: new Set() });
  for (const step of steps) for (const text of step.sql) await client.query(text);
  for (const [id, records] of rows) {
    const { slug, fields } = tableOf(design, id);
    for (const record of records) {
      const columns = fields.map((each) => `"${each.column}"`).join(', ');
      const places = fields.map((_, i) => `$${i + 1}`).join(', ');
      await client.query(
        `INSERT INTO ${schema}."${slug}" (${columns}) VALUES (${places})`,
        fields.map((each) => record[each.id] ?? null),
      );
    }
  }
}

/** The same records for the engine in memory. */
export function source({ design, rows }: Garden): RecordSource {
  return {
    value: (record, each) => rows.get(record.table)?.[Number(record.id) - 1]?.[each.id] ?? null,
    children: (record, relationship) => {
      const reference = fieldOf(tableOf(design, relationship.child), relationship.field);
      return (rows.get(relationship.child) ?? []).flatMap((row, i): RecordValue[] =>
        row[reference.id] === record.id ? [{ kind: 'record', table: relationship.child, id: i + 1 }] : [],
      );
    },
  };
}
