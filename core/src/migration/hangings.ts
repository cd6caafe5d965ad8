/** What the constraints and indexes of a table are made of outside of it. */
import type { StoredDesign } from './stored.js';

/** Tells of a table whether all of that is the same in both designs. */
export function hangingAlike(before: StoredDesign, after: StoredDesign): (table: string) => boolean {
  const [old, now] = [hangingsOf(before), hangingsOf(after)];
  return (table) => sameParts(old.get(table), now.get(table));
}

function hangingsOf({ lists, relationships, routes, tables }: StoredDesign): ReadonlyMap<string, readonly unknown[]> {
  const slugs = new Map(tables.map((table) => [table.id, table.slug]));
  const picked = new Set(relationships.map((relationship) => relationship.parent));
  const hangings = new Map<string, unknown[]>(tables.map((table) => [table.id, [picked.has(table.id)]]));
  for (const list of lists) hangings.get(list.table)?.push(list);
  for (const relationship of relationships) hangings.get(relationship.child)?.push(relationship, slugs.get(relationship.parent));
  for (const route of routes) hangings.get(route.table)?.push(route);
  return hangings;
}
// Nothing hangs from a table that is not in a design.
const sameParts = (a: readonly unknown[] = [false], b: readonly unknown[] = [false]): boolean => a.length === b.length && a.every((part, i) => part === b[i]);
