/** What the expressions of a design have to give, each in its place. */
import { wants, type Wanted } from '../expression/scope.js';
import { isOrdered } from '../expression/types.js';
import type { AppDesign, Field, FieldKind } from './design.js';
import { parentOf } from './read.js';
import type { Summary } from './saved-query.js';

const wantedNumber: Wanted = { fits: (type) => type.kind === 'number' || type.kind === 'null', says: 'a number' };
const wantedDate: Wanted = { fits: (type) => type.kind === 'date' || type.kind === 'null', says: 'a date, such as today()' };
const wantedTruth: Wanted = { fits: (type) => type.kind === 'boolean' || type.kind === 'null', says: 'true or false' };

const wantedOrdered: Wanted = { fits: isOrdered, says: 'something that has a smallest: a number, a text, a date' };

/** What a column of a query has to be. */
export const wantedColumn = (summary: Summary | null): Wanted =>
  summary === 'sum' || summary === 'average' ? wantedNumber : summary === 'smallest' || summary === 'largest' ? wantedOrdered : wants.shown;

/** What the default of a field has to be. */
export function wantedDefault(kind: FieldKind): Wanted {
  switch (kind) {
    case 'whole':
    case 'decimal':
      return wantedNumber;
    case 'date':
      return wantedDate;
    case 'yes_no':
      return wantedTruth;
    case 'choice':
    case 'text':
    case 'long_text':
    case 'reference':
    case 'formula':
      return wants.text;
    default:
      return kind satisfies never;
  }
}

/** What an expression has to give that a step puts into a field. */
export function wantedValue(design: AppDesign, field: Field): Wanted {
  if (field.kind !== 'reference') return wantedDefault(field.kind);
  const parent = parentOf(design, field);
  return { fits: (type) => (type.kind === 'record' && type.table === parent.id) || type.kind === 'null', says: `a record of ${parent.name}` };
}
