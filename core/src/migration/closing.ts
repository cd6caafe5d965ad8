/** Which tables a change needs for itself. */
import type { AppDesign } from '../design/design.js';
import { ident } from '../sql/sql.js';
import { attachmentsOf } from './columns.js';
import { storedPart, type StoredDesign } from './stored.js';

/**
 * The tables of the design `before` that SQL statements change or read, each as SQL names it. Children come before their parents:
 * most saves write a record first and then look at what it refers to.
 */
export function tablesToClose(before: AppDesign, texts: readonly string[], schema: string): readonly string[] {
  if (texts.length === 0) return [];
  const design = storedPart(before);
  const at = (slug: string): string => `${ident(schema)}.${ident(slug)}`;
  const all = texts.join('\n');
  const touched = childrenFirst(design).map((table) => ({
    name: at(table.slug),
    // A statement that drops an index does not name its table, and one that drops a foreign key does not name the other table.
    gone: attachmentsOf(table, design, schema).filter((attachment) => all.includes(ident(attachment.name))),
  }));
  const definitions = touched.flatMap(({ gone }) => gone.map((attachment) => attachment.definition)).join('\n');
  return touched.flatMap(({ name, gone }) => (gone.length > 0 || all.includes(name) || definitions.includes(name) ? [name] : []));
}

function childrenFirst({ tables, relationships }: StoredDesign): StoredDesign['tables'] {
  const byId = new Map(tables.map((table) => [table.id, table]));
  const children = new Map<string, string[]>(tables.map(({ id }) => [id, []]));
  for (const { parent, child } of relationships) children.get(parent)?.push(child);
  const ordered = new Set<string>();
  const begun = new Set<string>();
  const take = (id: string): void => {
    if (begun.has(id)) return;
    begun.add(id);
    for (const child of children.get(id) ?? []) take(child);
    ordered.add(id);
  };
  for (const { id } of tables) take(id);
  return [...ordered].flatMap((id) => byId.get(id) ?? []);
}
