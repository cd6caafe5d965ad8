/**
 * The difference of two designs of one app is a migration. Pure: it says what would be run and what to look at first;
 * the server runs it in one transaction with the new design and the log entry.
 *
 * Order matters and is the same for every pair: constraints go, removed parts are set aside, what stays is renamed,
 * values are converted, new parts come, constraints come back. Every name used by a stage is the one that holds then.
 */
import type { AppDesign, StoredField as Field } from '../design/design.js';
import { ident, literal } from '../sql/sql.js';
import { startOf } from '../routes/route.js';
import { attachmentsOf, columnDefault, columnKind, isOfItself, type Attachment } from './columns.js';
import { becomeSql } from './become.js';
import { conversionOf } from './convert.js';
import { ComingValues } from './coming-values.js';
import { numberingSql } from './numbering.js';
import { dropFilling, removedValues, takePrepared } from './prepared.js';
import { ownParentsProbe, plural, probeText, sufferingProbes } from './probes.js';
import { hangingAlike } from './hangings.js';
import { storedPart, type StoredDesign, type StoredTable as Table } from './stored.js';
import { addAttachment, columnLine, createTable, dropAttachment } from './table-sql.js';

import type { Effect, SetAside, Migration, MigrationStep, MigrationContext, Probe } from './migration.js';

class Planner {
  readonly steps: MigrationStep[] = [];
  readonly keeps: SetAside[] = [];
  readonly restores: SetAside[] = [];
  readonly rewrites = new Set<string>();
  readonly indexed = new Set<string>();
  private readonly coming: ComingValues;

  constructor(
    private readonly before: StoredDesign,
    private readonly after: StoredDesign,
    private readonly context: MigrationContext,
  ) {
    this.coming = new ComingValues(context, after.timeZone);
  }

  private at(slug: string): string {
    return `${ident(this.context.schema)}.${ident(slug)}`;
  }
  private keptAt(name: string): string {
    return `${ident(this.context.keptSchema)}.${ident(name)}`;
  }
  private add(effect: Effect, description: string, sql: readonly string[], probe: Probe | null = null, isIndex = false): void {
    this.steps.push({ effect, description, sql, probe, isIndex });
  }

  plan(): Migration {
    const { before, after } = this;
    const restored = this.restoreTables();
    const byId = new Map(after.tables.map((table) => [table.id, table]));
    // From here on a restored table is one that was there all the time, without its constraints.
    const existing: readonly Table[] = [...before.tables, ...restored];
    const hangsAlike = hangingAlike(before, after);
    const pairs = existing.flatMap((old) => {
      const now = byId.get(old.id);
      return now === undefined || (now === old && hangsAlike(now.id)) ? [] : [{ old, now }];
    });
    const stood = new Set(existing.map((table) => table.id));
    const fresh = after.tables.filter((table) => !stood.has(table.id));
    const gone = before.tables.filter((table) => !byId.has(table.id));
    const renamedBefore = this.withNamesOf(before, after);
    const standingAttachments = (table: Table): readonly Attachment[] =>
      before.tables.some((each) => each.id === table.id)
        ? attachmentsOf(renamedBefore.tables.find((each) => each.id === table.id) ?? table, renamedBefore, this.context.schema)
        : [];

    for (const { old, now } of pairs) this.dropAttachments(old, this.leaving(standingAttachments(old), now, old));
    for (const table of gone) this.dropAttachments(table, attachmentsOf(table, before, this.context.schema));
    for (const { old, now } of pairs) this.removeFields(old, now);
    for (const table of gone) this.removeTable(table);
    this.rename(pairs);
    for (const { old, now } of pairs) for (const field of now.fields) this.convert(old, now, field);
    for (const table of fresh) this.createTable(table);
    for (const { old, now } of pairs) this.addFields(old, now);
    for (const { now } of pairs) this.startRoutes(now);
    for (const { old, now } of pairs) this.addAttachments(now, this.arriving(standingAttachments(old), now, old), old);
    for (const table of fresh) this.addAttachments(table, attachmentsOf(table, after, this.context.schema), null);
    // A foreign key needs the other table and its key, so all of them come after all tables.
    const isForeignKey = (step: MigrationStep): boolean => step.sql.some((text) => text.includes(' FOREIGN KEY '));
    const ordered = [
      ...this.steps.filter((step) => !step.isIndex && !isForeignKey(step)),
      ...this.steps.filter(isForeignKey),
      ...this.steps.filter((step) => step.isIndex),
    ];
    return { steps: ordered, keeps: this.keeps, restores: this.restores, rewrites: [...this.rewrites], indexed: [...this.indexed] };
  }

  /** `before` with the names that `after` has for the parts that are in both: what stands once renaming is done. */
  private withNamesOf(before: StoredDesign, after: StoredDesign): StoredDesign {
    const byId = new Map(after.tables.map((table) => [table.id, table]));
    const tables = before.tables.map((table) => {
      const now = byId.get(table.id);
      if (now === undefined || now === table) return table;
      const fields = table.fields.map((field) => ({ ...field, column: now.fields.find((each) => each.id === field.id)?.column ?? field.column }));
      return { ...table, slug: now.slug, fields };
    });
    return { ...before, tables };
  }

  private changesKind(old: Table, now: Table, fieldId: string): boolean {
    const [was, is] = [old.fields.find((field) => field.id === fieldId), now.fields.find((field) => field.id === fieldId)];
    return was !== undefined && is !== undefined && conversionOf(was, is, this.after.timeZone) !== null;
  }
  /** Constraints and indexes that are no longer wanted. A removed column takes its indexes with it, so the same definition over another field is another one. */
  private leaving(standing: readonly Attachment[], now: Table, old: Table): readonly Attachment[] {
    const wanted = attachmentsOf(now, this.after, this.context.schema);
    return standing.filter(
      (attachment) =>
        attachment.fields.some((id) => this.changesKind(old, now, id)) ||
        !wanted.some(
          (other) => other.name === attachment.name && other.definition === attachment.definition && String(other.fields) === String(attachment.fields),
        ),
    );
  }
  private arriving(standing: readonly Attachment[], now: Table, old: Table): readonly Attachment[] {
    const leaving = this.leaving(standing, now, old);
    return attachmentsOf(now, this.after, this.context.schema).filter(
      (attachment) => !standing.some((other) => other.name === attachment.name && !leaving.includes(other)),
    );
  }

  private dropAttachments(table: Table, attachments: readonly Attachment[]): void {
    for (const attachment of attachments) {
      const sql = dropAttachment(this.context.schema, table, attachment);
      this.add('free', `A rule of ${table.name} is taken off`, [sql]);
    }
  }

  private addAttachments(table: Table, attachments: readonly Attachment[], old: Table | null): void {
    for (const attachment of attachments) {
      if (attachment.kind === 'index') {
        this.indexed.add(table.id);
        this.add('free', `${table.name} gets an index`, [addAttachment(this.context.schema, table, attachment)], null, true);
        continue;
      }
      if (attachment.kind === 'trigger') {
        const field = table.fields.find((each) => each.id === attachment.fields[0]);
        if (field !== undefined)
          this.add('free', `Records of ${table.name} get a ${field.name}`, numberingSql(this.at(table.slug), ident(field.column), attachment));
        continue;
      }
      const sql = addAttachment(this.context.schema, table, attachment);
      // A table that comes back can't be asked before it is there.
      const stood = old !== null && this.before.tables.some((each) => each.id === old.id);
      const probe = !stood
        ? null
        : attachment.unique !== undefined
          ? this.coming.repeated(table, attachment, old)
          : isOfItself(attachment.name)
            ? this.ownParents(table, attachment, old)
            : null;
      const restored = old !== null && !stood;
      const field = table.fields.find((each) => each.id === attachment.fields[0]);
      const fix = restored && field !== undefined && attachment.definition.startsWith('FOREIGN KEY') ? this.clearDangling(table, field) : [];
      this.add(
        probe === null ? 'free' : 'look',
        attachment.reason === null ? `${table.name} gets a rule` : `From now on ${attachment.reason}`,
        [...fix, sql],
        probe,
      );
    }
  }

  /** Looks for records that are their own parent. */
  private ownParents(table: Table, { fields }: Attachment, old: Table): Probe | null {
    const field = table.fields.find((each) => each.id === fields[0]);
    const was = old.fields.find((each) => each.id === field?.id);
    return field === undefined || was === undefined ? null : ownParentsProbe(this.at(old.slug), was, field, table);
  }

  private removeFields(old: Table, now: Table): void {
    for (const field of old.fields) {
      if (now.fields.some((each) => each.id === field.id)) continue;
      const name = `${field.id}_${this.context.stamp}`;
      const [table, column] = [this.at(old.slug), ident(field.column)];
      this.keeps.push({ kind: 'field', name, tableId: old.id, field, became: null });
      this.add(
        'loses',
        `${field.name} goes from ${old.name}`,
        [
          `CREATE TABLE ${this.keptAt(name)} AS SELECT id, ${column} AS value FROM ${table} WHERE ${column} IS NOT NULL`,
          `ALTER TABLE ${table} DROP COLUMN ${column}`,
        ],
        {
          text: probeText(`SELECT id, ${column}::text AS shown FROM ${table} WHERE ${column} IS NOT NULL`),
          meaning: 'loses',
          sentence: (count, _, locale) =>
            `${plural(count, 'record has', 'records have', locale)} a ${field.name}. The values are kept for 30 days. Undo restores them.`,
        },
      );
    }
  }

  private removeTable(table: Table): void {
    const name = `${table.id}_${this.context.stamp}`;
    this.keeps.push({ kind: 'table', name, table });
    this.add(
      'loses',
      `The table ${table.name} goes`,
      [`ALTER TABLE ${this.at(table.slug)} SET SCHEMA ${ident(this.context.keptSchema)}`, `ALTER TABLE ${this.keptAt(table.slug)} RENAME TO ${ident(name)}`],
      {
        text: probeText(`SELECT id, id::text AS shown FROM ${this.at(table.slug)}`),
        meaning: 'loses',
        sentence: (count, _, locale) =>
          `${plural(count, 'record', 'records', locale)} of ${table.name} go with it. They are kept for 30 days. Undo restores them.`,
      },
    );
  }

  private restoreTables(): Table[] {
    return this.after.tables.flatMap((table) => {
      if (this.before.tables.some((each) => each.id === table.id)) return [];
      const aside = this.context.setAside.find((each) => each.kind === 'table' && each.table.id === table.id);
      if (aside?.kind !== 'table') return [];
      // Under a name that no table can have, until the renaming below: its own name may be in use again by now.
      const slug = `__${aside.name}`;
      this.restores.push(aside);
      this.add('free', `The records of ${table.name} come back`, [
        `ALTER TABLE ${this.keptAt(aside.name)} RENAME TO ${ident(slug)}`,
        `ALTER TABLE ${this.keptAt(slug)} SET SCHEMA ${ident(this.context.schema)}`,
      ]);
      return [{ ...aside.table, slug }];
    });
  }

  /** Two passes, so that names can be swapped: first everything that moves steps aside, then it takes its new name. */
  private rename(pairs: readonly { old: Table; now: Table }[]): void {
    const first: string[] = [];
    const second: string[] = [];
    for (const { old, now } of pairs) {
      for (const field of old.fields) {
        const column = now.fields.find((each) => each.id === field.id)?.column;
        if (column === undefined || column === field.column) continue;
        first.push(`ALTER TABLE ${this.at(old.slug)} RENAME COLUMN ${ident(field.column)} TO ${ident(`__${field.id}`)}`);
        second.push(`ALTER TABLE ${this.at(now.slug)} RENAME COLUMN ${ident(`__${field.id}`)} TO ${ident(column)}`);
      }
    }
    const moving = pairs.filter(({ old, now }) => old.slug !== now.slug);
    const aside = moving.map(({ old }) => `ALTER TABLE ${this.at(old.slug)} RENAME TO ${ident(`__${old.id}`)}`);
    const arrive = moving.map(({ now }) => `ALTER TABLE ${this.at(`__${now.id}`)} RENAME TO ${ident(now.slug)}`);
    const sql = [...first, ...aside, ...arrive, ...second];
    if (sql.length > 0) this.add('free', 'Names change', sql);
  }

  private convert(old: Table, now: Table, field: Field): void {
    const was = old.fields.find((each) => each.id === field.id);
    if (was === undefined) return;
    const [table, column] = [this.at(now.slug), ident(field.column)];
    const conversion = conversionOf({ ...was, column: field.column }, field, this.after.timeZone);
    if (conversion !== null) {
      const name = `${field.id}_${this.context.stamp}`;
      const isPrepared = this.context.prepared.has(field.id);
      const aside = conversion.canLose ? this.keptAt(name) : null;
      if (aside !== null) this.keeps.push({ kind: 'field', name, tableId: now.id, field: was, became: field, tells: true });
      if (!isPrepared) this.rewrites.add(now.id);
      const sql = becomeSql({ ...was, column: field.column }, field, conversion, table, aside, isPrepared ? this.context.keptSchema : null);
      const [lost, altered] = conversion.canLose ? sufferingProbes(this.at(old.slug), old.id, was, field, this.after.timeZone) : [null, null];
      this.add(conversion.canLose ? 'loses' : 'free', `${field.name} of ${now.name} becomes another kind`, sql, lost);
      if (altered !== null) this.add('loses', `Values of ${field.name} are written in another way`, [], altered);
    }
    this.refill(was, now, field);
    if (conversion !== null || columnDefault(was) !== columnDefault(field)) {
      const value = columnDefault(field);
      if (value !== null) this.add('free', `${field.name} gets its default`, [`ALTER TABLE ${table} ALTER COLUMN ${column} SET DEFAULT ${value}`]);
      else if (conversion === null) this.add('free', `${field.name} loses its default`, [`ALTER TABLE ${table} ALTER COLUMN ${column} DROP DEFAULT`]);
    }
    if (field.required && (!was.required || conversion !== null)) {
      const expression = conversionOf(was, field, this.after.timeZone)?.expression ?? ident(was.column);
      this.require(
        now,
        field,
        this.before.tables.some((each) => each.id === old.id) ? `SELECT id, id::text AS shown FROM ${this.at(old.slug)} WHERE (${expression}) IS NULL` : null,
      );
    }
    if (!field.required && was.required && conversion === null)
      this.add('free', `${field.name} is no longer required`, [`ALTER TABLE ${table} ALTER COLUMN ${column} DROP NOT NULL`]);
  }

  /**
   * Going back to a kind whose values did not all survive: they come back where the record is still as the conversion
   * left it. What was entered since then stays.
   */
  private refill(was: Field, now: Table, field: Field): void {
    const aside = this.coming.setAsideOf(was, field);
    if (aside === undefined) return;
    const column = ident(field.column);
    this.restores.push(aside);
    const isUntouched = `${columnKind(field).asText(`t.${column}`, field)} IS NOT DISTINCT FROM ${this.coming.turnedBack(aside, was, field)}`;
    this.add('free', `Values of ${field.name} come back`, [
      `UPDATE ${this.at(now.slug)} AS t SET ${column} = k.value FROM ${this.keptAt(aside.name)} AS k WHERE k.id = t.id AND ${isUntouched}`,
      `DROP TABLE ${this.keptAt(aside.name)}`,
    ]);
  }

  /** Records that were there before their route are at its start, and say so. */
  private startRoutes(table: Table): void {
    const route = this.after.routes.find((each) => each.table === table.id);
    const field = table.fields.find((each) => each.id === route?.field);
    if (route === undefined || field === undefined || this.before.routes.some((each) => each.table === table.id && each.field === route.field)) return;
    const stood = this.before.tables.find((each) => each.id === table.id);
    const old = stood?.fields.find((each) => each.id === field.id);
    const label = field.kind === 'choice' ? field.choices.find((choice) => choice.id === startOf(route))?.label : undefined;
    const empty =
      stood === undefined ? null : `SELECT id, id::text AS shown FROM ${this.at(stood.slug)}${old === undefined ? '' : ` WHERE ${ident(old.column)} IS NULL`}`;
    this.add(
      'look',
      `Records without a ${field.name} begin at ${label ?? 'the start'}`,
      [`UPDATE ${this.at(table.slug)} SET ${ident(field.column)} = ${literal(startOf(route))} WHERE ${ident(field.column)} IS NULL`],
      empty === null
        ? null
        : {
            text: probeText(empty),
            meaning: 'fills',
            sentence: (count, _, locale) =>
              `${plural(count, 'record', 'records', locale)} of ${table.name} without a ${field.name} ${count === 1 ? 'begins' : 'begin'} at ${label ?? 'the start'}.`,
          },
    );
  }

  /** Makes a column NOT NULL; records without a value get the default, or hinder it when there is none. */
  private require(table: Table, field: Field, empty: string | null): void {
    const [at, column, value] = [this.at(table.slug), ident(field.column), columnDefault(field)];
    const sql = [
      ...(value === null ? [] : [`UPDATE ${at} SET ${column} = ${value} WHERE ${column} IS NULL`]),
      `ALTER TABLE ${at} ALTER COLUMN ${column} SET NOT NULL`,
    ];
    this.add('look', `${field.name} of ${table.name} is required`, sql, {
      table: table.id,
      text: probeText(empty ?? `SELECT 0 AS id, ''::text AS shown WHERE false`),
      meaning: value === null ? 'blocks' : 'fills',
      sentence: (count, _, locale) =>
        value === null
          ? `${plural(count, 'record of', 'records of', locale)} ${table.name} would have no ${field.name}. Give the field a default, or fill them first.`
          : `${plural(count, 'record gets', 'records get', locale)} the default of ${field.name}.`,
    });
  }

  private createTable(table: Table): void {
    this.add('free', `The table ${table.name} comes`, [createTable(this.context.schema, table)]);
  }

  private addFields(old: Table, now: Table): void {
    for (const field of now.fields) {
      if (old.fields.some((each) => each.id === field.id)) continue;
      const at = this.at(now.slug);
      const aside = removedValues(this.context.setAside, field);
      const isPrepared = this.context.prepared.has(field.id);
      const sql = isPrepared
        ? [dropFilling(field.id, this.context.keptSchema), takePrepared(at, field)]
        : [`ALTER TABLE ${at} ADD COLUMN ${columnLine({ ...field, default: aside === undefined ? field.default : null } as Field)}`];
      const column = ident(field.column);
      if (aside !== undefined) {
        this.restores.push(aside);
        sql.push(
          `UPDATE ${at} AS t SET ${column} = k.value FROM ${this.keptAt(aside.name)} AS k WHERE k.id = t.id AND t.${column} IS NULL`,
          `DROP TABLE ${this.keptAt(aside.name)}`,
          ...this.clearDangling(now, field),
        );
      }
      if (aside !== undefined || isPrepared) {
        const value = columnDefault(field);
        if (value !== null) sql.push(`ALTER TABLE ${at} ALTER COLUMN ${column} SET DEFAULT ${value}`);
      }
      this.add('free', aside === undefined ? `${field.name} comes to ${now.name}` : `${field.name} comes back to ${now.name} with its values`, sql);
      if (!field.required) continue;
      const without = aside === undefined ? '' : ` WHERE NOT EXISTS (SELECT FROM ${this.keptAt(aside.name)} AS k WHERE k.id = t.id)`;
      const stood = this.before.tables.find((table) => table.id === now.id);
      this.require(now, field, stood === undefined ? null : `SELECT id, id::text AS shown FROM ${this.at(stood.slug)} AS t${without}`);
    }
  }

  /** A restored reference can point to a record that was deleted in the meantime. */
  private clearDangling(table: Table, field: Field): string[] {
    if (field.kind !== 'reference') return [];
    const relationship = this.after.relationships.find((each) => each.id === field.relationship);
    const parent = this.after.tables.find((each) => each.id === relationship?.parent);
    if (parent === undefined) return [];
    const column = ident(field.column);
    return [
      `UPDATE ${this.at(table.slug)} AS t SET ${column} = NULL WHERE ${column} IS NOT NULL AND NOT EXISTS (SELECT FROM ${this.at(parent.slug)} AS p WHERE p.id = t.${column})`,
    ];
  }
}

/** What has to happen to the tables of an app that stands as `before` for it to stand as `after`. */
export function difference(before: AppDesign, after: AppDesign, context: MigrationContext): Migration {
  return new Planner(storedPart(before), storedPart(after), context).plan();
}
