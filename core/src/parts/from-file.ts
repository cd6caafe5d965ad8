/** A design that comes from a file: of another app, of another day, or edited by hand. */
import { AppDesignShape, isStored, type AppDesign, type Field, type Table } from '../design/design.js';
import { freeSlug, systemColumns } from '../shapes/slug.js';
import type { DesignIssue } from './issues.js';
import { DesignInvalid, parseDesign } from './parse.js';

const newest = AppDesignShape.unwrap().shape.format.value;

/**
 * The design of a file as it can be that of an app. Tables and columns keep the names that they have in the database of the app;
 * new ones get names that are free there. The app keeps its own name.
 * @throws DesignInvalid with what is wrong in the file and where
 */
export function designFromFile(json: unknown, now: AppDesign): AppDesign {
  const format = typeof json === 'object' && json !== null ? (json as { readonly format?: unknown }).format : undefined;
  if (typeof format !== 'number') throw new DesignInvalid([broken('This file is not the design of an app.')]);
  if (format > newest) throw new DesignInvalid([broken('This design was made by a newer version of Bibliona. Update this server first.')]);
  const given = parseDesign(json);
  const issues = given.tables.flatMap((table) => table.fields.flatMap((field) => kindIssues(field, table, now)));
  if (issues.length > 0) throw new DesignInvalid(issues);
  const slugs = new Set(now.tables.map((table) => table.slug));
  const tables = given.tables.map((table) => {
    const old = now.tables.find((each) => each.id === table.id);
    const slug = old?.slug ?? taken(slugs, table.name);
    return { ...table, slug, fields: withColumns(table, old) };
  });
  return parseDesign({ ...given, name: now.name, tables });
}

const broken = (problem: string): DesignIssue => ({ code: 'broken', problem });

/** The first name for a label that is free, which it then is no longer. */
function taken(names: Set<string>, label: string): string {
  const name = freeSlug(label, names);
  names.add(name);
  return name;
}

function withColumns(table: Table, old: Table | undefined): readonly Field[] {
  const columns = new Set<string>([...systemColumns, ...(old?.fields ?? []).map((field) => field.column)]);
  return table.fields.map((field) => ({ ...field, column: old?.fields.find((each) => each.id === field.id)?.column ?? taken(columns, field.name) }));
}

/** A field can't turn from values into a formula, nor into a reference, or back. */
function kindIssues(field: Field, table: Table, now: AppDesign): readonly DesignIssue[] {
  const was = now.tables.find((each) => each.id === table.id)?.fields.find((each) => each.id === field.id);
  if (was === undefined) return [];
  if (isStored(was) !== isStored(field)) return [{ code: 'formula_kind', field: field.name }];
  const [before, after] = [was.kind === 'reference' ? was.relationship : null, field.kind === 'reference' ? field.relationship : null];
  return before === after ? [] : [{ code: 'relationship_kind', field: field.name }];
}
