import { itemKey, type Form, type FormItem } from '../design/form.js';
import { wants } from '../feel/wants.js';
import { itemKind } from './form-items.js';
import { forPeopleOnly, visitorRole, withoutVisitors } from './published.js';
import { wantedValue } from './wanted.js';
import { forMembers } from './screen.js';
import {
  mapped,
  staying,
  withParts,
  writtenUnlessEmpty,
  type Gone,
  type Onlooker,
  type PartKind,
  type Reference,
  type UncheckedDesign,
  type Write,
} from './part.js';

const conditions = { shownIf: 'when', requiredIf: 'when it is required:', readOnlyIf: 'when it is read-only:' } as const;

/** The item with its conditions, and with what it fills fields with, as they are to be written. */
function written(item: FormItem, form: Form, design: UncheckedDesign, write: Write): FormItem {
  let next = withFills(item, form, design, write);
  for (const key of Object.keys(conditions) as (keyof typeof conditions)[]) {
    const text = (next as Partial<Record<keyof typeof conditions, string>>)[key];
    if (text === undefined) continue;
    next = withParts(next, {
      [key]: writtenUnlessEmpty(write, {
        key: `${itemKey(item)} ${key}`,
        label: `a condition of the form ${form.name}`,
        text,
        table: form.table,
        wanted: wants.truth,
        owner: { kind: 'form', id: form.id },
      }),
    });
  }
  return next;
}

/** The item with what it fills fields with as that is to be written. */
function withFills(item: FormItem, form: Form, design: UncheckedDesign, write: Write): FormItem {
  const value = (table: string | undefined, id: string, text: string): string => {
    const field = design.tables.find((each) => each.id === table)?.fields.find((each) => each.id === id);
    if (table === undefined || field === undefined || text === '') return text;
    return write({
      key: `${itemKey(item)} fill ${id}`,
      label: `what the form ${form.name} fills ${field.name} with`,
      text,
      table,
      wanted: wantedValue(design, field),
      owner: { kind: 'form', id: form.id },
      fills: { table, field: id },
    });
  };
  if (item.kind === 'field' && item.fill !== undefined) return withParts(item, { fill: value(form.table, item.field, item.fill) });
  if (item.kind !== 'children' || item.fills === undefined) return item;
  const child = design.relationships.find((relationship) => relationship.id === item.relationship)?.child;
  return withParts(item, { fills: mapped(item.fills, (fill) => withParts(fill, { value: value(child, fill.field, fill.value) })) });
}

const isGone = (item: FormItem, table: string, gone: Gone): boolean =>
  itemKind(item)
    .references(item, table)
    .some(({ to, id }) => gone.has(to, id));

/** Whether a button leads a member somewhere; where the list or form that it opens is not theirs, their browser leaves it out. */
const opensFor = (item: FormItem, member: Onlooker): boolean =>
  item.kind !== 'button' || item.does.kind !== 'page' || item.does.page.kind === 'list' || item.does.page.kind === 'form' || member.opens(item.does.page);

export const form: PartKind<Form> = {
  word: 'form',
  uniqueWithin: (part) => part.table,
  inner: (part) => part.items.flatMap((item) => ('id' in item ? [{ id: item.id }] : [])),
  innerIds: 'part',
  references: (part) => [
    { to: 'table', id: part.table },
    ...part.roles.map((id): Reference => ({ to: 'role', id })),
    ...visitorRole(part),
    ...part.items.flatMap((item) => itemKind(item).references(item, part.table)),
  ],
  issues: (part, design) => {
    const keys = part.items.map(itemKey);
    const twice = part.items.find((item, i) => keys.indexOf(itemKey(item)) !== i);
    if (twice !== undefined) return [{ code: 'broken', problem: `The form ${part.name} shows the same field or list twice.` }];
    return part.items.flatMap((item) => itemKind(item).issues(item, part, design));
  },
  without: (part, gone) => {
    if (gone.has('table', part.table)) return 'remove';
    const left = withoutVisitors(part, gone);
    return withParts(left, {
      roles: staying(part.roles, (role) => !gone.has('role', role)),
      items: staying(
        mapped(left.items, (item) => itemKind(item).without?.(item, gone) ?? item),
        (item) => !isGone(item, part.table, gone),
      ),
    });
  },
  expressions: (part, design, write) => withParts(part, { items: mapped(part.items, (item) => written(item, part, design, write)) }),
  toMember: (part, member) => forMembers(withParts(forPeopleOnly(part), { items: staying(part.items, (item) => opensFor(item, member)) }), member),
  expressionsReadOthers: false,
};
