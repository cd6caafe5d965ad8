import { isStored, type Field, type Relationship, type Table } from '../design/design.js';
import type { Form } from '../design/form.js';
import type { List } from '../design/list.js';
import { kindOf } from '../fields/kinds.js';
import { feelName, key } from '../feel/names.js';
import { wants } from '../feel/wants.js';
import { systemColumns } from '../shapes/slug.js';
import type { DesignIssue } from './issues.js';
import { mapped, withParts, writtenUnlessEmpty, type PartKind } from './part.js';
import { folded, indexedBy, repeated } from './repeated.js';

/** The table without some of its fields. A caption of such a field alone gives way to the next text. */
function withoutFields(table: Table, isGone: (field: Field) => boolean): Table {
  const fields = table.fields.filter((field) => !isGone(field));
  if (fields.length === table.fields.length) return table;
  const isCaption = table.fields.some((field) => isGone(field) && key(table.caption) === key(feelName(field.name)));
  const next = fields.find((field) => kindOf(field).traits.caption);
  const uniqueTogether = table.uniqueTogether.filter((each) => each.fields.every((id) => fields.some((field) => field.id === id)));
  const shownWith = table.shownWith?.filter((id) => fields.some((field) => field.id === id));
  return {
    ...table,
    fields,
    uniqueTogether,
    ...(shownWith && { shownWith }),
    caption: !isCaption ? table.caption : next === undefined ? '' : feelName(next.name),
  };
}

const relationshipsById = indexedBy<Relationship>((each) => each.id);
const ofTable = indexedBy<Form | List>((each) => each.table);

const known = new WeakMap<Table, readonly DesignIssue[]>();
/** What can be wrong with a table by itself. It is the same as long as the table is the same object. */
function ownIssues(part: Table): readonly DesignIssue[] {
  const found = known.get(part);
  if (found !== undefined) return found;
  const issues: DesignIssue[] = [];
  for (const field of repeated(part.fields, (each) => folded(each.name)))
    issues.push({ code: 'name_taken', what: 'field', name: field.name, within: part.name });
  for (const field of repeated(part.fields, (each) => each.column))
    issues.push({ code: 'broken', problem: `Two fields of ${part.name} share the column ${field.column}` });
  for (const field of part.fields) {
    if ((systemColumns as readonly string[]).includes(field.column)) issues.push({ code: 'name_reserved', name: field.name });
    issues.push(...(kindOf(field).problems?.(field) ?? []));
  }
  for (const together of part.uniqueTogether) {
    for (const id of repeated(together.fields, (field) => field))
      issues.push({ code: 'broken', problem: `A field of ${part.name} is named twice as unique together: ${id}` });
    for (const id of together.fields) {
      const field = part.fields.find((each) => each.id === id);
      if (field === undefined) issues.push({ code: 'unknown', what: 'field', id });
      else if (!isStored(field) || !kindOf(field).traits.canBeUnique)
        issues.push({ code: 'broken', problem: `${field.name} can't be unique together with other fields` });
    }
  }
  for (const id of part.shownWith ?? []) if (!part.fields.some((field) => field.id === id)) issues.push({ code: 'unknown', what: 'field', id });
  known.set(part, issues);
  return issues;
}

/** Why a table can't be shown as a link: it would lose what it has besides its pairs. */
function linkIssues(part: Table, relationships: readonly Relationship[]): readonly DesignIssue[] {
  const refuse = (problem: string): readonly DesignIssue[] => [{ code: 'broken', problem: `${part.name} can't be hidden: ${problem}` }];
  const own = part.fields.find((field) => field.kind !== 'reference');
  if (own !== undefined) return refuse(`its field ${own.name} would be shown nowhere. Remove the field first.`);
  if (part.fields.length !== 2) return refuse('it needs exactly two fields, both references to a table.');
  if (part.checks.length > 0) return refuse('it has checks. Remove them first.');
  const open = part.fields.find((field) => !field.required);
  if (open !== undefined) return refuse(`${open.name} has to be required.`);
  if (!part.uniqueTogether.some((each) => each.fields.length === 2)) return refuse('its two fields have to be unique together.');
  if (relationships.some((relationship) => relationship.parent === part.id)) return refuse('records of another table belong to its records.');
  const stays = relationships.find((relationship) => relationship.child === part.id && relationship.whenParentRemoved !== 'remove');
  if (stays !== undefined) return refuse(`${stays.childrenName} have to be removed with the record that they belong to.`);
  return [];
}

export const table: PartKind<Table> = {
  word: 'table',
  uniqueWithin: () => '',
  inner: (part) => [...part.fields.map(({ id }) => ({ id, is: 'field' as const })), ...part.checks, ...part.uniqueTogether],
  innerIds: 'design',
  references: (part) => part.fields.flatMap((field) => (field.kind === 'reference' ? [{ to: 'relationship', id: field.relationship }] : [])),
  issues: (part, design) => {
    const issues: DesignIssue[] = [...ownIssues(part)];
    for (const field of part.fields) {
      const related = field.kind === 'reference' ? relationshipsById(design.relationships).get(field.relationship) : undefined;
      if (field.kind === 'reference' && related?.some((each) => each.field === field.id && each.child === part.id) !== true)
        issues.push({ code: 'unknown', what: 'relationship', id: field.relationship });
    }
    if (part.isLink) issues.push(...linkIssues(part, design.relationships));
    for (const [what, parts] of [
      ['form', design.forms],
      ['list', design.lists],
    ] as const) {
      const defaults =
        ofTable(parts)
          .get(part.id)
          ?.filter((each) => each.isDefault) ?? [];
      const has = defaults.filter((each) => each.roles.length === 0).length;
      if (has !== 1) issues.push({ code: 'default', what, table: part.name, has });
      const [twice] = defaults.flatMap((each) => each.roles).filter((role, i, roles) => roles.indexOf(role) !== i);
      const role = design.roles.find((each) => each.id === twice);
      if (role !== undefined) issues.push({ code: 'default_twice', what, table: part.name, role: role.name });
    }
    return issues;
  },
  without: (part, gone) => {
    const isGone = (field: Field): boolean => gone.has('field', field.id) || (field.kind === 'reference' && gone.has('relationship', field.relationship));
    return part.isLink && part.fields.some(isGone) ? 'remove' : withoutFields(part, isGone);
  },
  expressions: (part, _, write) => {
    const owner = { kind: 'table', id: part.id } as const;
    const fields = mapped(part.fields, (field): Field => {
      const of = { table: null, owner: { kind: 'field', id: field.id } } as const;
      const start = field.default;
      const next =
        start === null
          ? field
          : withParts(field, {
              default: write({
                ...of,
                key: `default ${field.id}`,
                label: `the default of ${field.name} in ${part.name}`,
                text: start,
                wanted: kindOf(field).feel.wanted,
              }),
            });
      if (next.kind !== 'formula') return next;
      const label = `the formula ${field.name} of ${part.name}`;
      return withParts(next, {
        expression: write({ ...of, key: `formula ${field.id}`, label, text: next.expression, table: part.id, wanted: wants.plain }),
      });
    });
    const caption = writtenUnlessEmpty(write, {
      key: 'caption',
      label: `the caption of ${part.name}`,
      text: part.caption,
      table: part.id,
      wanted: wants.plain,
      owner,
    });
    const checks = mapped(part.checks, (check) =>
      withParts(check, {
        condition: write({
          key: `check ${check.id}`,
          label: `the check “${check.message}” of ${part.name}`,
          text: check.condition,
          table: part.id,
          wanted: wants.truth,
          owner,
        }),
      }),
    );
    return withParts(part, { fields, caption, checks });
  },
  // What is unique is asked by the server, and answers with its sentence.
  toMember: (part, member) => (member.reaches(part.id) ? withParts(part, { uniqueTogether: [] }) : null),
  expressionsReadOthers: false,
};
