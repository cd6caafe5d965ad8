/** What the expressions of a design have to give, each in its place. */
import { kindOf } from '../fields/kinds.js';
import { wants, type Wanted } from '../feel/wants.js';
import type { AppDesign, Field } from '../design/design.js';
import type { Summary } from '../design/saved-query.js';

/** What a column of a query has to be. */
export const wantedColumn = (summary: Summary | null): Wanted =>
  summary === 'sum' || summary === 'average' ? wants.number : summary === 'smallest' || summary === 'largest' ? wants.ordered : wants.shown;

/** What an expression has to give that a step puts into a field. */
export function wantedValue(design: Pick<AppDesign, 'tables' | 'relationships'>, field: Field): Wanted {
  if (field.kind !== 'reference') return kindOf(field).feel.wanted;
  const relationship = design.relationships.find((each) => each.id === field.relationship);
  const parent = design.tables.find((table) => table.id === relationship?.parent);
  if (parent === undefined) return wants.shown;
  return { fits: (type) => (type.kind === 'record' && type.table === parent.id) || type.kind === 'null', description: `a record of ${parent.name}` };
}
