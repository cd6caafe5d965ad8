/** What a table can show of the tables it is related to, as formulas that nobody has to write. */
import type { AppDesign, Field, Table } from '../design/design.js';
import { otherSide, tableOf } from '../design/read.js';
import { membersOf } from '../expression/names.js';
import type { ShownNumber } from '../fields/computed.js';
import { kindOf, shownExpression } from '../fields/kinds.js';
import { plainKind } from '../feel/types.js';
import { typeOfField } from './expressions.js';

export interface RelatedFormula extends ShownNumber {
  /** What it shows, and what the new field can be called. */
  readonly name: string;
  readonly expression: string;
}
/** The record itself, or a related table as it is called here: by the reference to a parent, or as a list of children. */
export interface RelatedTable {
  readonly name: string;
  readonly is: 'itself' | 'parent' | 'children';
  readonly formulas: readonly RelatedFormula[];
}

/** The fields of a table that hold values of their own, with their names as expressions write them. */
const namedFields = (design: AppDesign, id: string): readonly { readonly field: Field; readonly written: string }[] =>
  membersOf(design, id).flatMap((member) =>
    member.kind === 'field' && member.field.kind !== 'reference' ? [{ field: member.field, written: member.name }] : [],
  );

const asItIs: ShownNumber = { digits: null, unit: null };
const shownOf = (field: Field): ShownNumber => ({ digits: kindOf(field).digits(field), unit: kindOf(field).unit?.(field) ?? null });

const ordered: readonly string[] = ['date', 'date and time', 'time'];

/** The summaries of the children that make sense for one of their fields. */
function summariesOf(
  design: AppDesign,
  child: string,
  { field, written }: { readonly field: Field; readonly written: string },
  list: string,
): readonly RelatedFormula[] {
  const type = typeOfField(design, child, field);
  if (type === null) return [];
  const kind = plainKind(type);
  const path = `${list}.${written}`;
  const how = shownOf(field);
  if (kind === 'number')
    return [
      { name: `Sum of ${field.name}`, expression: `sum(${path})`, ...how },
      { name: `Average of ${field.name}`, expression: `mean(${path})`, ...how, digits: how.digits === null ? null : Math.max(how.digits, 1) },
      { name: `Smallest ${field.name}`, expression: `min(${path})`, ...how },
      { name: `Largest ${field.name}`, expression: `max(${path})`, ...how },
    ];
  if (ordered.includes(kind))
    return [
      { name: `Earliest ${field.name}`, expression: `min(${path})`, ...asItIs },
      { name: `Latest ${field.name}`, expression: `max(${path})`, ...asItIs },
    ];
  if (kind === 'boolean') return [{ name: `Number with ${field.name}`, expression: `count(${list}[${written} = true])`, ...asItIs, digits: 0 }];
  return kind === 'string' ? [{ name: `All ${field.name}`, expression: `string join(${path}, ", ")`, ...asItIs }] : [];
}

/** What is known of every record, whatever its fields are. */
const itself: RelatedTable = {
  name: 'This record',
  is: 'itself',
  formulas: [
    { name: 'Created at', expression: 'created at()', ...asItIs },
    { name: 'Created by', expression: 'created by()', ...asItIs },
    { name: 'Changed at', expression: 'changed at()', ...asItIs },
    { name: 'Changed by', expression: 'changed by()', ...asItIs },
    { name: 'Record number', expression: 'record number()', ...asItIs, digits: 0 },
  ],
};

/** The parents of a table, then its lists of children, each with what can be shown of it; the record itself comes last. */
export function relatedTables(design: AppDesign, table: Table): readonly RelatedTable[] {
  const related = membersOf(design, table.id).flatMap((member): RelatedTable[] => {
    if (member.kind === 'children') {
      const { child, childrenName } = member.relationship;
      // Behind a link are the records of the other table.
      const other = otherSide(design, member.relationship);
      const way = membersOf(design, child).find((each) => each.kind === 'field' && each.field.id === other?.field.id)?.name;
      const [of, list] = other === null || way === undefined ? [child, member.name] : [other.table.id, `${member.name}.${way}`];
      const summaries = namedFields(design, of).flatMap((field) => summariesOf(design, of, field, list));
      return [
        {
          name: childrenName,
          is: 'children',
          formulas: [{ name: `Number of ${childrenName}`, expression: `count(${member.name})`, ...asItIs, digits: 0 }, ...summaries],
        },
      ];
    }
    const { field } = member;
    const relationship = field.kind === 'reference' ? design.relationships.find(({ id }) => id === field.relationship) : undefined;
    if (relationship === undefined) return [];
    const formulas = namedFields(design, tableOf(design, relationship.parent).id).map((of): RelatedFormula => ({
      name: of.field.name,
      expression: shownExpression(of.field, `${member.name}.${of.written}`),
      ...shownOf(of.field),
    }));
    return [{ name: field.name, is: 'parent', formulas }];
  });
  return [...related.filter(({ is }) => is === 'parent'), ...related.filter(({ is }) => is === 'children'), itself];
}
