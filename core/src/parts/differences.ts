/** What differs between two designs of an app, part by part: what a change from one to the other would do. */
import { partLists, type AppDesign, type Table } from '../design/design.js';
import type { DesignDifference } from './difference.js';
import { calledOf, partKind, partNames, partsOf, type AnyPart } from './kinds.js';

interface Named {
  readonly id: string;
  readonly name?: string;
}

export function differencesOf(before: AppDesign, after: AppDesign): readonly DesignDifference[] {
  const found: DesignDifference[] = [];
  const compare = (
    part: DesignDifference['part'],
    table: string | null,
    item: readonly Named[],
    other: readonly Named[],
    isSame: (a: Named, b: Named) => boolean,
  ): void => {
    const before = new Map(item.map((each) => [each.id, each]));
    const tell = (kind: DesignDifference['kind'], item: Named, { was = null, published = null }: Partial<DesignDifference> = {}): unknown => {
      const [what, name] = part === 'field' || part === 'app' ? [part, item.name ?? ''] : [partKind(part).word, calledOf(part, item)];
      return found.push({ kind, what, part, id: item.id, name, was, table, published });
    };
    for (const now of other) {
      const old = before.get(now.id);
      const published = publishedBetween(old, now);
      if (old === undefined) tell('added', now, { published });
      else if ((old.name ?? '') !== (now.name ?? '')) tell('renamed', now, { was: old.name ?? '', published });
      else if (!isSame(old, now)) tell('changed', now, { published });
    }
    const stays = new Set(other.map((each) => each.id));
    for (const old of item) if (!stays.has(old.id)) tell('removed', old);
  };
  for (const name of partNames) {
    const [one, other] = [partsOf(before, name), partsOf(after, name)].map((parts) => parts.map((part) => named(part, name, before, after)));
    compare(name, null, one ?? [], other ?? [], (a, b) => same(withoutFields(a), withoutFields(b)));
  }
  const fieldsOf = (design: AppDesign, id: string): Table['fields'] => design.tables.find((table) => table.id === id)?.fields ?? [];
  for (const table of after.tables)
    if (before.tables.some((each) => each.id === table.id)) compare('field', table.name, fieldsOf(before, table.id), table.fields, same);
  if (!same(settingsOf(before), settingsOf(after)))
    found.push({ kind: 'changed', what: 'app', part: 'app', id: '', name: after.name, was: null, table: null, published: null });
  return found;
}

const isPublic = (part: Named | undefined): boolean => part !== undefined && 'public' in part && part.public !== undefined;

function publishedBetween(old: Named | undefined, now: Named): DesignDifference['published'] {
  if (isPublic(old) === isPublic(now)) return null;
  return isPublic(now) ? 'begins' : 'ends';
}

/** What is set for the app as a whole. */
function settingsOf(design: AppDesign): unknown {
  const lists: ReadonlySet<string> = new Set(partNames.map((name) => partLists[name].key));
  return Object.entries(design).filter(([key]) => !lists.has(key));
}

/** Whatever the order of their settings: the database keeps one of its own. */
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a, inOrder) === JSON.stringify(b, inOrder);
const inOrder = (_: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))) : value;

/** Fields are told one by one. */
const withoutFields = (part: object): object => ('fields' in part && 'caption' in part ? { ...part, fields: [] } : part);

/** A relationship has no name: it is called by what its parent calls the children. */
function named(part: AnyPart, kind: string, before: AppDesign, after: AppDesign): Named {
  if (kind !== 'relationship') return part;
  const relationship = [...after.relationships, ...before.relationships].find((each) => each.id === part.id);
  return { ...part, name: relationship?.childrenName ?? '' };
}
