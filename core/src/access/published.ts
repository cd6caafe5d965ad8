/** What anyone can see who knows its address: lists, reports and tiles that their builder has published, through the role named there. */
import type { Tile } from '../design/dashboard.js';
import type { AppDesign, Field } from '../design/design.js';
import type { List } from '../design/list.js';
import type { Published } from '../design/published.js';
import { tableOf } from '../design/read.js';
import type { Report } from '../design/report.js';
import { kindOf } from '../fields/kinds.js';
import { questionOf } from '../parts/row-sources.js';
import { rightsOf, type Person } from './access.js';
import { partFormulas } from './part-seen.js';
import { visitorWith } from './visitor.js';

interface PublishedParts {
  readonly list: List;
  readonly report: Report;
  readonly tile: Tile;
}
export type PublishedKind = keyof PublishedParts;
export type PublishedPart<K extends PublishedKind = PublishedKind> = PublishedParts[K] & { readonly public: Published };

/** How a tile is named in an address: its dashboard, and what it is called there. */
export const tileName = (dashboard: string, tile: string): string => `${dashboard}.${tile}`;

const found: { readonly [K in PublishedKind]: (design: AppDesign, name: string) => PublishedParts[K] | undefined } = {
  list: (design, name) => design.lists.find((each) => each.id === name),
  report: (design, name) => design.reports.find((each) => each.id === name),
  tile: (design, name) => {
    const [dashboard, tile] = name.split('.');
    return design.dashboards.find((each) => each.id === dashboard)?.tiles.find((each) => each.id === tile);
  },
};
export const isPublishedKind = (kind: string): kind is PublishedKind => Object.hasOwn(found, kind);

/** The published part of this kind and name, if there is one. */
export function publishedPart<K extends PublishedKind>(design: AppDesign, kind: K, name: string): PublishedPart<K> | undefined {
  const part: PublishedParts[K] | undefined = found[kind](design, name);
  return part?.public === undefined ? undefined : (part as PublishedPart<K>);
}

export const readerOf = (part: { readonly public: Published }): Person => visitorWith(part.public.role);

/** Files and people of the app are nobody else's. */
const isForVisitors = (field: Field): boolean => kindOf(field).files === undefined && kindOf(field).people === undefined;

interface PublishedColumns {
  readonly shown: readonly Field[];
  /** The names of those that visitors don't see: what their role can't see, files, people, and what is linked. */
  readonly leftOut: readonly string[];
  /** The names of shown formulas that add up records of which their role sees only some, or none. */
  readonly partial: readonly string[];
}

/** The columns of a list as visitors see them. */
export function publishedColumns(design: AppDesign, list: PublishedPart<'list'>): PublishedColumns {
  const table = tableOf(design, list.table);
  const { see, hidden } = rightsOf(design, readerOf(list), table);
  const partFormula = partFormulas(design, readerOf(list), table);
  const isShown = (field: Field): boolean => see && isForVisitors(field) && !hidden.includes(field.id);
  const columns = list.columns.flatMap((id) => table.fields.filter((field) => field.id === id));
  const links = design.relationships.filter((relationship) => list.columns.includes(relationship.id));
  return {
    shown: columns.filter(isShown),
    partial: columns.filter((field) => isShown(field) && partFormula.includes(field.id)).map((field) => field.name),
    leftOut: [...columns.filter((field) => !isShown(field)).map((field) => field.name), ...links.map((link) => link.childrenName)],
  };
}

const opened = new WeakMap<AppDesign, Map<string, AppDesign>>();

/** The design in which a published list is for everybody, whose roles ever it is made for; the same object as long as the design is the same. */
export function withListForAll(design: AppDesign, list: List): AppDesign {
  if (list.roles.length === 0) return design;
  const perDesign = opened.get(design) ?? new Map<string, AppDesign>();
  opened.set(design, perDesign);
  const made = perDesign.get(list.id) ?? { ...design, lists: design.lists.map((each) => (each.id === list.id ? { ...each, roles: [] } : each)) };
  perDesign.set(list.id, made);
  return made;
}

/** The table whose records a part shows; null when the query that it is made of is gone. */
export const tableShown = (design: AppDesign, part: List | Report | Tile): string | null =>
  'table' in part ? part.table : (questionOf(part.source, design)?.table ?? null);

/** Why visitors would see nothing, in a sentence for the builder; null: they see something. */
export function publishedProblem(design: AppDesign, part: List | Report | Tile, published: Published): string | null {
  const table = tableShown(design, part);
  if (table === null || rightsOf(design, visitorWith(published.role), tableOf(design, table)).see) return null;
  const role = design.roles.find((each) => each.id === published.role);
  return `The role ${role?.name ?? ''} can't see ${tableOf(design, table).name}, so visitors see nothing.`;
}
