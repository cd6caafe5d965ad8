/** What is written when several cells of a list are pasted, filled or emptied at once: one save, or a sentence for each cell that does not fit. */
import { contract, kindOf, parentOf, written, type Field, type RecordAnswer, type Table, type Value, type Write } from '@bibliona/core';
import { call } from '../../state/api.js';
import type { AppInHand } from '../../state/app.js';
import { valueOf } from '../record/draft.js';

/** A cell that is to be given a value: what was typed for it, or the value of another cell. */
interface Given {
  readonly record: RecordAnswer;
  readonly field: Field;
  readonly value: { readonly text: string } | { readonly same: Value };
}
interface CellWrites {
  readonly writes: readonly Write[];
  readonly cells: number;
  readonly problems: readonly string[];
}

/** The records of a block, the fields of its columns (null: nothing that can be changed there), and how many of those are of it. */
export interface CellsOf {
  readonly records: readonly (RecordAnswer | undefined)[];
  readonly fields: readonly (Field | null)[];
  readonly width: number;
  readonly canEdit: (record: RecordAnswer, field: Field) => boolean;
}

/** Cells from the clipboard, over those of the block: one alone goes into all of them, several go as far as they reach. */
export function pastedInto({ records, fields, width, canEdit }: CellsOf, cells: readonly (readonly string[])[]): readonly Given[] {
  const [[only = ''] = []] = cells;
  const isOne = cells.length === 1 && cells[0]?.length === 1;
  return records.flatMap((record, r) =>
    (isOne ? fields.slice(0, width).map(() => only) : (cells[r % cells.length] ?? [])).flatMap((text, c) => {
      const field = fields[c] ?? null;
      return record === undefined || field === null || !canEdit(record, field) ? [] : [{ record, field, value: { text } }];
    }),
  );
}

/** The cells of the first row, over those of the others. */
export function filledDown({ records, fields, width, canEdit }: CellsOf): readonly Given[] {
  const [first, ...others] = records;
  return others.flatMap((record) =>
    fields.slice(0, width).flatMap((field) => {
      if (record === undefined || first === undefined || field === null || !canEdit(record, field)) return [];
      // Of a text that is shown in part the rest is not known here, and what somebody has signed is for one record.
      if (first.cut?.includes(field.id) === true || kindOf(field).stamp !== undefined) return [];
      return [{ record, field, value: { same: first.values[field.id] ?? null } }];
    }),
  );
}

export const emptied = ({ records, fields, width, canEdit }: CellsOf): readonly Given[] =>
  records.flatMap((record) =>
    fields
      .slice(0, width)
      .flatMap((field) => (record === undefined || field === null || !canEdit(record, field) ? [] : [{ record, field, value: { same: null } }])),
  );

type Found = ReadonlyMap<string, number | null>;
/** How many names are looked up at the same time. */
const atOnce = 20;

/** Records by what they are called, for what was pasted into references: null where there is none of that name, or several. */
async function recordsCalled(app: AppInHand, given: readonly Given[]): Promise<ReadonlyMap<string, Found>> {
  const asked = new Map<string, Set<string>>();
  for (const { field, value } of given)
    if (field.kind === 'reference' && 'text' in value && value.text.trim() !== '') {
      const { id } = parentOf(app.design, field);
      asked.set(id, (asked.get(id) ?? new Set()).add(value.text.trim()));
    }
  const found = new Map<string, Found>();
  for (const [table, names] of asked) {
    const idByName = async (name: string): Promise<readonly [string, number | null]> => {
      const { records } = await call(contract.lookUp, { params: { app: app.id, table }, query: { text: name.slice(0, 200) } });
      const called = records.filter((record) => record.caption.toLowerCase() === name.toLowerCase());
      return [name, called.length === 1 ? (called[0]?.id ?? null) : null];
    };
    const all = [...names];
    const pairs: (readonly [string, number | null])[] = [];
    for (let i = 0; i < all.length; i += atOnce) pairs.push(...(await Promise.all(all.slice(i, i + atOnce).map(idByName))));
    found.set(table, new Map(pairs));
  }
  return found;
}

/** The writes that give the cells their values, without those that have them already. */
export async function writesOfCells(app: AppInHand, table: Table, given: readonly Given[], called: (record: RecordAnswer) => string): Promise<CellWrites> {
  const found = await recordsCalled(app, given);
  const values = new Map<RecordAnswer, Record<string, Value>>();
  const problems: string[] = [];
  for (const { record, field, value } of given) {
    const parsed = 'same' in value ? { ok: true as const, value: value.same } : read(app, field, value.text.trim(), found);
    if (!parsed.ok) problems.push(`${field.name} of ${called(record)}: ${parsed.problem}`);
    else if (JSON.stringify(written(parsed.value)) !== JSON.stringify(written(record.values[field.id] ?? null)))
      values.set(record, { ...values.get(record), [field.id]: parsed.value });
  }
  const writes = [...values].map(([record, own]): Write => ({
    kind: 'change',
    table: table.id,
    id: record.id,
    rev: record.rev,
    values: Object.fromEntries(Object.entries(own).map(([id, value]) => [id, written(value)])),
  }));
  return { writes, cells: [...values.values()].reduce((sum, own) => sum + Object.keys(own).length, 0), problems };
}

function read(app: AppInHand, field: Field, text: string, found: ReadonlyMap<string, Found>): ReturnType<typeof valueOf> {
  if (field.kind !== 'reference' || text === '') return valueOf(field, text);
  const { id, name } = parentOf(app.design, field);
  const record = found.get(id)?.get(text) ?? null;
  return record === null
    ? { ok: false, problem: `no record of ${name} is called “${text}”, or several are.` }
    : { ok: true, value: { id: record, caption: text } };
}
