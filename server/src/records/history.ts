/** What has happened to records, as far as a person can know of it. */
import {
  compileRemoved,
  fieldOf,
  formFor,
  isStored,
  kindOf,
  localeFor,
  parentOf,
  permit,
  printValue,
  relationshipOf,
  rightsOf,
  sightOf,
  tableOf,
  type ChildEntry,
  type Field,
  type HistoryEntry,
  type Locale,
  type Person,
  type Removed,
  type Table,
  type Value,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { pastOf, pastOfChildren, type PastLine, type Values } from './past.js';
import { RecordReader } from './read.js';

const historyShown = 100;
// Of longer texts the history shows this much.
const longestShown = 1000;
const removedShown = 200;

export class HistoryReader {
  private readonly reader: RecordReader;

  constructor(
    private readonly database: DataSource,
    private readonly app: OpenedApp,
    private readonly person: Person,
  ) {
    this.reader = new RecordReader(database, app, person);
  }

  /** What happened to a record that this person can see, and to the children in its form. @throws Refusal not_found */
  async of(tableId: string, id: number): Promise<{ entries: HistoryEntry[]; children: ChildEntry[] }> {
    await this.reader.record(tableId, id);
    const table = this.reader.table(tableId);
    return {
      entries: await this.entries(table, await pastOf(this.database, this.app, this.person, table, id, historyShown)),
      children: await this.children(table, id),
    };
  }

  private async children(table: Table, parent: number): Promise<ChildEntry[]> {
    const { design } = this.app;
    const all: ChildEntry[] = [];
    for (const item of formFor(design, table.id, this.person.roles).items) {
      if (item.kind !== 'children') continue;
      const { id: relationship, child: childId, field } = relationshipOf(design, item.relationship);
      const child = tableOf(design, childId);
      const rights = rightsOf(design, this.person, child);
      if (!rights.see || rights.hidden.includes(field)) continue;
      const of = { child, field: fieldOf(child, field), parent };
      const lines = await pastOfChildren(this.database, this.app, this.person, of, historyShown);
      const entries = await this.entries(child, lines);
      const ids = [...new Set(lines.map((line) => line.record))];
      const captions = new Map((await this.reader.captions(child.id, ids)).map((caption) => [caption.id, caption.caption]));
      const shown = await this.values(
        child,
        lines.map((line) => line.before),
      );
      all.push(
        ...entries.map((entry, at): ChildEntry => {
          const { record = 0, before = null } = lines[at] ?? {};
          return {
            ...entry,
            relationship,
            record,
            caption: captions.get(record) ?? wasCalled(child, field, record, (each) => shown(each, before), localeFor(design, this.person)),
          };
        }),
      );
    }
    return all.sort((each, other) => other.id - each.id).slice(0, historyShown);
  }

  private async entries(table: Table, lines: readonly PastLine[]): Promise<HistoryEntry[]> {
    const shown = await this.values(
      table,
      lines.flatMap((line) => [line.before, line.after]),
    );
    return lines.map((line) => ({
      id: line.id,
      at: line.at.toISOString(),
      kind: line.kind,
      person: line.person,
      save: line.kind !== 'import' && (this.isBuilder || line.person_id === this.person.id) ? line.save : null,
      automatic: line.automatic,
      changes: table.fields
        .filter((field) => field.id in (line.after ?? {}))
        .map((field) => ({
          field: field.id,
          before: shown(field, line.before),
          after: shown(field, line.after),
          beforeHidden: line.kind === 'change' && !(field.id in (line.before ?? {})),
        })),
    }));
  }

  private get isBuilder(): boolean {
    return this.person.role === 'builder';
  }

  /**
   * What was removed of a table and is not there. Grants ask about records that are there, so nobody but a builder sees
   * more than what they removed themselves, and of that the fields which each record of the table shows them.
   */
  async removed(tableId: string): Promise<{ removed: Removed[]; more: boolean }> {
    const table = this.reader.table(tableId);
    const { design, schema } = this.app;
    if (permit(design, this.person, table, 'remove') === null)
      throw new Refusal('forbidden', `You don't have permission to remove or restore records of ${table.name}.`);
    interface Row {
      readonly id: number;
      readonly at: Date;
      readonly before: Values;
      readonly save: string;
      readonly person: string | null;
    }
    const rows = await run<Row>(this.database, compileRemoved(schema, table, this.isBuilder ? null : this.person.id, removedShown + 1));
    const told = rows.slice(0, removedShown);
    const shown = await this.values(
      table,
      told.map((row) => row.before),
    );
    const open = this.alwaysOpen(table);
    return {
      removed: told.map(({ id, at, before, save, person }) => ({
        id,
        at: at.toISOString(),
        person,
        save,
        values: Object.fromEntries(open.filter((field) => field.id in before).map((field) => [field.id, shown(field, before)])),
      })),
      more: rows.length > removedShown,
    };
  }

  /** Fields that are shown of every record which this person can see, whichever of their grants it meets. */
  private alwaysOpen(table: Table): readonly Field[] {
    const sight = sightOf(this.app.design, this.person, table.id, 'see');
    if (sight.kind === 'all') return table.fields;
    const { grants } = sight;
    const shows = (grant: (typeof grants)[number], field: Field): boolean => !grant.withheld.has(field.id);
    return table.fields.filter(
      (field) => grants.some((grant) => grant.condition === null && shows(grant, field)) || (grants.length > 0 && grants.every((grant) => shows(grant, field))),
    );
  }

  /** How old values are shown: a reference with what its record is called, as far as this person can see it. */
  private async values(table: Table, lines: readonly (Values | null)[]): Promise<(field: Field, line: Values | null) => Value> {
    const { design } = this.app;
    const captions = new Map<string, string>();
    for (const field of table.fields) {
      if (field.kind !== 'reference') continue;
      const ids = [...new Set(lines.map((line) => line?.[field.id]).filter((value) => typeof value === 'number'))];
      if (ids.length === 0) continue;
      for (const row of await this.reader.captions(parentOf(design, field).id, ids)) captions.set(`${field.id} ${row.id}`, row.caption);
    }
    return (field, line) => {
      const value = line?.[field.id] ?? null;
      if (typeof value === 'string' && value.length > longestShown) {
        const column = kindOf(field).column;
        return column?.shortened?.value(value, longestShown) ?? (column?.isWhole === true ? value : `${value.slice(0, longestShown)}…`);
      }
      if (field.kind !== 'reference' || typeof value !== 'number') return value;
      const caption = captions.get(`${field.id} ${value}`);
      if (caption !== undefined) return { id: value, caption };
      // A record that is gone is called by its number; of one that this person can't see not even that is told.
      return sightOf(design, this.person, parentOf(design, field).id, 'see').kind === 'all' ? { id: value, caption: `No. ${value}` } : null;
    };
  }
}

/** A record that is gone is called by the first two of its values that were filled. */
function wasCalled(table: Table, parent: string, id: number, value: (field: Field) => Value, locale: Locale): string {
  const texts = table.fields.filter((field) => field.id !== parent && isStored(field)).map((field) => printValue(field, value(field), locale));
  const filled = texts.filter((text) => text !== '').slice(0, 2);
  return filled.length === 0 ? `No. ${id}` : filled.join(' · ');
}
