import { isFillable, type AppDesign, type Field, type Table } from '../design/design.js';

/** Why a field can't go, as a sentence; null: it can. */
export function cannotGo(design: AppDesign, table: Table, field: Field): string | null {
  const cannot = (because: string): string => `${field.name} can't move: ${because}.`;
  if (field.kind === 'reference') return cannot('it is a reference');
  if (!isFillable(field)) return cannot(field.kind === 'formula' ? 'it is calculated' : 'its values belong to their own records');
  if (design.routes.some((route) => route.field === field.id)) return cannot('a route moves it');
  if (field.unique) return cannot('no two records have the same');
  if (table.uniqueTogether.some((each) => each.fields.includes(field.id))) return cannot('it is part of what makes records differ');
  return null;
}

/** Whether a table can be made of a field: of a text, or of a choice that no route moves. */
export const canBeTable = (design: AppDesign, field: Field): boolean =>
  field.kind === 'text' || (field.kind === 'choice' && !design.routes.some((route) => route.field === field.id));
