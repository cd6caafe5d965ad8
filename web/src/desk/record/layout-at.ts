import { formFor, namedForm, namedList, type Form, type Table } from '@bibliona/core';
import { rolesInHand, type AppInHand } from '../../state/app.js';

/** The form in which a record opens at an address: the one that is named there, that of its list, or that of its table. */
export function layoutAt(app: AppInHand, table: Table, search: URLSearchParams): Form {
  const roles = rolesInHand(app);
  // A list that one comes from can say in which form its records open.
  const named = search.get('form') ?? namedList(app.design, table.id, search.get('list') ?? undefined, roles).form;
  return namedForm(app.design, table.id, named, roles);
}

/** The form to name when its record is read: none where the record opens in it by itself. */
export const formAsked = (app: AppInHand, form: Form): string | undefined =>
  formFor(app.design, form.table, rolesInHand(app)).id === form.id ? undefined : form.id;
