/** What fields will hold after a migration, asked before it: through the conversion, and with the values that come back. */
import type { StoredField as Field } from '../design/design.js';
import { ident } from '../sql/sql.js';
import { columnKind, differingIn, type Attachment } from './columns.js';
import { conversionOf, holdsAlike } from './convert.js';
import type { SetAside, MigrationContext, Probe } from './migration.js';
import { repeatedProbe } from './probes.js';
import type { StoredTable as Table } from './stored.js';

export class ComingValues {
  /** @param zone of the app after the migration */
  constructor(
    private readonly context: MigrationContext,
    private readonly zone: string,
  ) {}

  /** The values that were set aside when a field became what it is now, if it goes back to what it was. */
  setAsideOf(was: Field, field: Field): SetAside | undefined {
    if (holdsAlike(was, field)) return undefined;
    return this.context.setAside.find(
      (aside) =>
        aside.kind === 'field' && aside.field.id === field.id && aside.became !== null && holdsAlike(aside.became, was) && holdsAlike(aside.field, field),
    );
  }

  /** What a value that was set aside, `k`, became and is turned back into, as text: a record that holds it is as the conversion left it. */
  turnedBack(aside: SetAside, was: Field, field: Field): string {
    if (aside.kind !== 'field' || aside.tells !== true) return 'NULL';
    const turned = conversionOf({ ...was, column: 'became' }, field, this.zone)?.expression ?? 'became';
    const became = columnKind(was).fromText('k.became', was);
    return `(SELECT ${columnKind(field).asText(`(${turned})`, field)} FROM (SELECT ${became} AS became) AS b)`;
  }

  /** Looks for records that are alike in what has to differ; null when the table has not all of it yet. */
  repeated(table: Table, { fields: ids, unique = {} }: Attachment, old: Table): Probe | null {
    const fields = ids.flatMap((id) => table.fields.find((field) => field.id === id) ?? []);
    const pairs = fields.flatMap((field) => old.fields.flatMap((was) => (was.id === field.id ? [{ was, field }] : [])));
    const [first] = pairs;
    if (first === undefined || pairs.length < fields.length) return null;
    const names = fields.map((field) => field.name).join(' and ');
    if (pairs.length === 1) {
      return repeatedProbe(
        `SELECT id, ${differingIn(first.field, 'value', unique)} AS value FROM (${this.rows(old, first.was, first.field)}) AS coming`,
        names,
        old.id,
      );
    }
    const rows = pairs.map(({ was, field }, i) => `(${this.rows(old, was, field)}) AS v${i}`).reduce((all, next) => `${all} JOIN ${next} USING (id)`);
    const filled = pairs.map((_, i) => `v${i}.value IS NOT NULL`).join(' AND ');
    const values = pairs.map(({ field }, i) => differingIn(field, `v${i}.value`, unique)).join(', ');
    return repeatedProbe(`SELECT id, jsonb_build_array(${values}) AS value FROM ${rows} WHERE ${filled}`, names, old.id);
  }

  /** Rows of `id` and `value`: what a field will hold. */
  private rows(old: Table, was: Field, field: Field): string {
    const present = `SELECT id, ${ident(was.column)} AS present FROM ${ident(this.context.schema)}.${ident(old.slug)}`;
    const value = conversionOf({ ...was, column: 'present' }, field, this.zone)?.expression ?? 'present';
    const aside = this.setAsideOf(was, field);
    if (aside === undefined) return `SELECT id, ${value} AS value FROM (${present}) AS t`;
    const isUntouched = `${columnKind(field).asText(`(${value})`, field)} IS NOT DISTINCT FROM ${this.turnedBack(aside, was, field)}`;
    const from = `${ident(this.context.keptSchema)}.${ident(aside.name)}`;
    return `SELECT t.id, CASE WHEN k.id IS NOT NULL AND ${isUntouched} THEN k.value ELSE ${value} END AS value FROM (${present}) AS t LEFT JOIN ${from} AS k ON k.id = t.id`;
  }
}
