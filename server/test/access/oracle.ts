/** What is left of data for a person, formula in memory from the grants alone: neither the compiler nor `sightOf` has a part in it. */
import {
  wants,
  check,
  circumstancesOf,
  evaluate,
  isStored,
  parentOf,
  tableOf,
  type AppDesign,
  type Grant,
  type Person,
  type RecordSource,
  type Value,
} from '@bibliona/core';
import { source, type Garden } from '../expressions/garden.js';

export const now = Date.UTC(2026, 2, 29, 0, 59, 59, 123);
export const tables = ['apiaries', 'hives', 'visits'] as const;

export interface Seen {
  /** Of each table, by record id from 1: the visible values, or null where the record is not. */
  readonly rows: ReadonlyMap<string, readonly (Readonly<Record<string, Value>> | null)[]>;
  readonly source: RecordSource;
  /** Formulas of a record that are withheld. */
  readonly withheld: (table: string, id: number, field: string) => boolean;
}

/** What is left of a garden for a person: grants asked one by one of the whole data, in memory. */
export function whatIsSeen(garden: Garden, design: AppDesign, person: Person, action: 'see' | 'export' = 'see'): Seen {
  const whole = source(garden);
  const around = circumstancesOf(design, person, now);
  const mine = design.roles.filter((role) => person.roles.includes(role.id)).flatMap((role) => role.grants);
  const open = new Map<string, readonly (readonly Grant[])[]>(
    tables.map((table) => [
      table,
      (garden.rows.get(table) ?? []).map((_, i) =>
        mine.filter((grant) => {
          if (grant.table !== table || !grant.see || !grant[action]) return false;
          if (grant.condition === '') return true;
          if (grant.condition.includes('me.Home') && person.ties['tie_home'] === undefined) return false;
          const checked = check(grant.condition, { design, table }, wants.anything);
          if (!checked.ok) throw new Error(grant.condition);
          return evaluate(checked.node, { ...around, records: whole, self: { kind: 'record', table, id: i + 1 } }) === true;
        }),
      ),
    ]),
  );
  const grantsOf = (table: string, id: number): readonly Grant[] => open.get(table)?.[id - 1] ?? [];
  const withheld = (table: string, id: number, field: string): boolean => !grantsOf(table, id).some((grant) => !grant.hidden.includes(field));
  const rows = new Map(
    tables.map((table) => [
      table,
      (garden.rows.get(table) ?? []).map((row, i) => {
        if (grantsOf(table, i + 1).length === 0) return null;
        return Object.fromEntries(
          tableOf(design, table)
            .fields.filter(isStored)
            .map((field): [string, Value] => {
              const value = row[field.id] ?? null;
              if (withheld(table, i + 1, field.id)) return [field.id, null];
              // A reference to a record that can't be seen is none.
              return [
                field.id,
                field.kind === 'reference' && value !== null && grantsOf(parentOf(design, field).id, Number(value)).length === 0 ? null : value,
              ];
            }),
        );
      }),
    ]),
  );
  const seen: Garden = { design: garden.design, rows: new Map([...rows].map(([table, list]) => [table, list.map((row) => row ?? {})])) };
  return { rows, source: source(seen), withheld };
}
