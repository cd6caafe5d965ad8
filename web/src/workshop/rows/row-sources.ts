/** What reports and tiles are made of, as a builder picks it: one row of a table here for each kind of source. */
import {
  kindOf,
  listFor,
  membersOf,
  rowSourceId,
  shownExpression,
  typeOfField,
  type AppDesign,
  type Member,
  type QueryColumn,
  type RowSource,
} from '@bibliona/core';
import { columnType } from '../queries/query-draft.js';

/** A source as it is picked. */
export interface PickedRows {
  readonly kind: RowSource['kind'];
  readonly id: string;
}

/** Something of a source that can be shown, summarised, or by which rows can be told apart. */
export interface Offer {
  /** Id of the field, or of the query's column. */
  readonly id: string;
  readonly name: string;
  readonly expression: string;
  /** The kind of its type in the expression language. */
  readonly kind: string;
  readonly digits: number | null;
  /** Whether it adds up: amounts do, years and numbers of things mostly do not. */
  readonly addsUp: boolean;
}

interface RowSourceKind {
  /** All there are, as a builder picks among them. */
  readonly all: (design: AppDesign) => readonly { readonly id: string; readonly name: string }[];
  /** What its rows are called. */
  readonly name: (design: AppDesign, id: string) => string;
  readonly offers: (design: AppDesign, id: string) => readonly Offer[];
  /** Which of the offers are shown first, in their order. */
  readonly listed: (design: AppDesign, id: string) => readonly string[];
  /** Whether its columns are those of another part; else each report and tile has columns of its own. */
  readonly isGiven: boolean;
  /** @param columns its own, where it has any */
  readonly source: (id: string, columns: readonly QueryColumn[]) => RowSource;
}

export const rowSources: { readonly [Kind in RowSource['kind']]: RowSourceKind } = {
  table: {
    all: (design) => design.tables,
    name: (design, id) => design.tables.find((table) => table.id === id)?.name ?? '',
    offers: (design, id) => membersOf(design, id).flatMap((member) => (member.kind === 'field' ? [fieldOffer(member, id, design)] : [])),
    listed: (design, id) => listFor(design, id).columns,
    isGiven: false,
    source: (id, columns) => ({ kind: 'table', table: id, condition: '', columns }),
  },
  query: {
    all: (design) => design.queries.map(({ id, name }) => ({ id, name: `the query ${name}` })),
    name: (design, id) => design.queries.find((query) => query.id === id)?.name ?? '',
    offers: queryOffers,
    listed: (design, id) => queryOffers(design, id).map((offer) => offer.id),
    isGiven: true,
    source: (id) => ({ kind: 'query', query: id }),
  },
};
export const rowSourceNames = Object.keys(rowSources) as RowSource['kind'][];

function queryOffers(design: AppDesign, id: string): readonly Offer[] {
  const query = design.queries.find((each) => each.id === id);
  return (query?.columns ?? []).map((column) => ({
    id: column.id,
    name: column.name,
    expression: column.expression,
    kind: (query === undefined ? undefined : columnType(query, column, design)?.kind) ?? 'null',
    digits: column.digits,
    addsUp: column.summary === 'sum' || column.summary === 'count',
  }));
}

function fieldOffer({ field, name }: Extract<Member, { kind: 'field' }>, table: string, design: AppDesign): Offer {
  const type = typeOfField(design, table, field);
  const kind = field.kind === 'reference' ? 'record' : type?.kind === 'list' ? 'string' : (type?.kind ?? 'null');
  return {
    id: field.id,
    name: field.name,
    expression: shownExpression(field, name),
    kind,
    digits: kindOf(field).digits(field),
    addsUp: kindOf(field).traits.addsUp || (field.kind === 'formula' && type?.kind === 'number'),
  };
}

export const offersOf = ({ kind, id }: PickedRows, design: AppDesign): readonly Offer[] => rowSources[kind].offers(design, id);

/** A stored source as it was picked. */
export const pickedOf = (source: RowSource): PickedRows => ({ kind: source.kind, id: rowSourceId(source) });

/** What a builder calls a source: "Hives", "the query Hives not seen lately". */
export const pickedName = ({ kind, id }: PickedRows, design: AppDesign): string =>
  rowSources[kind].all(design).find((each) => each.id === id)?.name ?? 'rows that no longer exist';
