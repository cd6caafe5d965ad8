/**
 * Views for SQL clients. Names of tables and columns stay as they were made, because renaming them would hold up everybody
 * who works with them; the views follow today's labels. Nobody writes through them.
 */
import { isStored, type AppDesign, type Table } from '../design/design.js';
import { freeSlug, systemColumns } from '../shapes/slug.js';
import { ident, literal } from '../sql/sql.js';
import { columnKind, columnType } from './columns.js';

interface View {
  readonly name: string;
  /** What it selects. */
  readonly text: string;
  /** Equal for equal views over equal columns: then the view can stay. */
  readonly key: string;
}

// A table that a change leaves alone stays the same object, so its view is written only once.
const known = new WeakMap<Table, View & { readonly schema: string }>();
function viewOf(table: Table, name: string, schema: string): View {
  const made = known.get(table);
  if (made?.name === name && made.schema === schema) return made;
  const view = { ...newView(table, name, schema), schema };
  known.set(table, view);
  return view;
}

/** The table with its labels as names of columns, and choices by their labels. */
function newView(table: Table, name: string, schema: string): View {
  const taken: string[] = [...systemColumns];
  const columns = table.fields.filter(isStored).map((field) => {
    const called = freeSlug(field.name, taken);
    taken.push(called);
    const column = ident(field.column);
    // What is stored as an id is shown by its label, and several by theirs.
    const { elements, asText, stored } = columnKind(field);
    const shown = elements === undefined ? (stored?.(field).seen(column) ?? column) : asText(column, field);
    return `, ${shown} AS ${ident(called)}`;
  });
  const text = `SELECT id${columns.join('')}, rev, created_at, created_by, updated_at, updated_by FROM ${ident(schema)}.${ident(table.slug)}`;
  // A column that becomes of another kind is written anew, which no view on it survives, also where its type stays.
  const types = table.fields.filter(isStored).map((field) => [field.kind, columnType(field)]);
  return { name, text, key: JSON.stringify([name, text, types]) };
}

function viewsOf(design: AppDesign, schema: string): ReadonlyMap<string, View> {
  const taken = new Set<string>();
  return new Map(
    design.tables.map((table) => {
      const name = freeSlug(table.name, taken);
      taken.add(name);
      return [table.id, viewOf(table, name, schema)] as const;
    }),
  );
}

export interface ViewChange {
  /** Before tables change: a column that a view shows cannot become another. */
  readonly drop: readonly string[];
  readonly make: readonly string[];
}

/** How the views of `before` become those of `after`. `null`: there are none yet. */
export function viewChange(before: AppDesign | null, after: AppDesign, schema: string, viewSchema: string): ViewChange {
  const at = (view: View): string => `${ident(viewSchema)}.${ident(view.name)}`;
  const [old, now] = [before === null ? new Map<string, View>() : viewsOf(before, schema), viewsOf(after, schema)];
  const drop = [...old].filter(([id, view]) => now.get(id)?.key !== view.key).map(([, view]) => `DROP VIEW IF EXISTS ${at(view)}`);
  const make = [...now]
    .filter(([id, view]) => old.get(id)?.key !== view.key)
    .flatMap(([, view]) => [
      `CREATE VIEW ${at(view)} AS ${view.text}`,
      `CREATE TRIGGER read_only INSTEAD OF INSERT OR UPDATE OR DELETE ON ${at(view)} FOR EACH ROW EXECUTE FUNCTION bibliona.refuse_write(${literal(view.name)})`,
    ]);
  return { drop, make };
}
