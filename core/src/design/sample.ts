/** Designs for tests, in as few words as they need. */
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { FieldPlan, type AppDesign } from './design.js';
import { designMessage } from './issues.js';
import { emptyDesign } from './parse.js';

export const field = (more: object): FieldPlan => FieldPlan.parse(more);

export const table = (id: string, name: string, fields: readonly FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [...fields],
});

/** One `parent` has many `child`; the reference field is called `<child>_up`, the relationship `r_<child>`. */
export const related = (parent: string, child: string, fieldName: string, childrenName: string, required = false): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName,
  childrenName,
  required,
  whenParentRemoved: 'refuse',
});

/** @throws Error with what is wrong, in words */
export function designOf(changes: readonly DesignChange[]): AppDesign {
  const made = applyChanges(emptyDesign('Honey'), changes);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
}
