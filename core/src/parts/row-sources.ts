/** Rows that reports and tiles are made of: one row of a table here for each kind of source. */
import type { AppDesign } from '../design/design.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';
import type { DesignIssue } from './issues.js';
import { narrowedIfOf, type ExpressionPlace, type Gone, type Reference, type Write } from './part.js';
import { columnIssues, writtenQuestion } from './question.js';

type Whereabouts = readonly [within: string, key: string, owner: ExpressionPlace['owner'], write: Write];

interface RowSourceKind<S extends RowSource> {
  /** The question that gives the rows; null when the app doesn't have what it names. */
  readonly question: (source: S, design: Pick<AppDesign, 'queries'>) => SavedQuery | null;
  readonly reference: (source: S) => Reference;
  /** Whether the rows go along with what is removed. */
  readonly gone: (source: S, gone: Gone) => 'stays' | 'goes' | 'refuses';
  /** What is wrong with the columns that it has itself. */
  readonly issues: (source: S, within: string) => readonly DesignIssue[];
  /** The same rows, as far as records of a table meet a further condition. */
  readonly narrowed: (source: S, table: string, further: string) => S;
  /** The expressions that it has itself. */
  readonly written: (source: S, ...where: Whereabouts) => S;
}

const rowSources: { readonly [Kind in RowSource['kind']]: RowSourceKind<Extract<RowSource, { kind: Kind }>> } = {
  table: {
    question: ({ table, condition, columns }) => ({
      id: 'rows',
      name: '',
      description: '',
      section: '',
      table,
      condition,
      columns,
      order: [],
      limit: null,
    }),
    reference: ({ table }) => ({ to: 'table', id: table }),
    gone: ({ table }, gone) => (gone.has('table', table) ? 'goes' : 'stays'),
    issues: columnIssues,
    narrowed: narrowedIfOf,
    written: writtenQuestion,
  },
  query: {
    question: ({ query }, design) => design.queries.find((saved) => saved.id === query) ?? null,
    reference: ({ query }) => ({ to: 'query', id: query }),
    // A query that the builder removes stays as long as rows are made of it.
    gone: ({ query }, gone) => (!gone.has('query', query) ? 'stays' : gone.isAsked('query', query) ? 'refuses' : 'goes'),
    issues: () => [],
    // Its query has the condition.
    narrowed: (source) => source,
    written: (source) => source,
  },
};
const kindOfSource = (source: RowSource): RowSourceKind<RowSource> => rowSources[source.kind] as unknown as RowSourceKind<RowSource>;

/** The rows of a page as a member's browser knows them: they come with the answer. */
export const noRows: RowSource = { kind: 'table', table: 'rows', condition: '', columns: [] };

/** The question that gives the rows; null when the app doesn't have its query. */
export const questionOf = (source: RowSource, design: Pick<AppDesign, 'queries'>): SavedQuery | null => kindOfSource(source).question(source, design);

export const sourceReference = (source: RowSource): Reference => kindOfSource(source).reference(source);
/** The id of what the rows are of. */
export const rowSourceId = (source: RowSource): string => sourceReference(source).id;
export const sourceGone = (source: RowSource, gone: Gone): 'stays' | 'goes' | 'refuses' => kindOfSource(source).gone(source, gone);
export const sourceIssues = (source: RowSource, within: string): readonly DesignIssue[] => kindOfSource(source).issues(source, within);
/** @param key tells the rows apart from others of the same part */
export const writtenSource = (source: RowSource, ...where: Whereabouts): RowSource => kindOfSource(source).written(source, ...where);

export const narrowedSource = (source: RowSource, table: string, further: string): RowSource => kindOfSource(source).narrowed(source, table, further);

/** What is wrong when a report or tile, called `label`, shows columns that its rows do not have. */
export function missingColumns(source: RowSource, columns: readonly string[], label: string, design: Pick<AppDesign, 'queries'>): readonly DesignIssue[] {
  const question = questionOf(source, design);
  if (question === null || columns.every((id) => question.columns.some((column) => column.id === id))) return [];
  return [{ code: 'broken', problem: `${label.charAt(0).toUpperCase()}${label.slice(1)} shows a column that its rows do not have. Take it out there first.` }];
}
