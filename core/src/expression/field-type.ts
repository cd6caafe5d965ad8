import type { Field, TableId } from '../design/design.js';
import { types, type Type } from './types.js';

/** The type of a stored field that is no reference. */
export function fieldType(field: Field, table: TableId): Type {
  switch (field.kind) {
    case 'text':
    case 'long_text':
      return types.string;
    case 'whole':
    case 'decimal':
      return types.number;
    case 'date':
      return types.date;
    case 'yes_no':
      return types.boolean;
    case 'choice':
      return { kind: 'choice', labels: field.choices.map((one) => one.label), table, field: field.id };
    case 'reference':
    case 'formula':
      return types.null;
    default:
      return field satisfies never;
  }
}
