import type { Relationship } from '../design/design.js';
import { itemKey, type Form, type FormItem } from '../design/form.js';
import { wants } from '../feel/wants.js';
import { indexedBy } from './repeated.js';
import { forMembers } from './screen.js';
import { mapped, staying, withParts, writtenUnlessEmpty, type Gone, type PartKind, type Reference, type Write } from './part.js';

const relationshipsById = indexedBy<Relationship>((one) => one.id);

/** What an item shows of the app; null: it shows nothing of it. */
function shows(item: FormItem, table: string): Reference | null {
  switch (item.kind) {
    case 'field':
      return { to: 'field', id: item.field, table };
    case 'children':
      return { to: 'relationship', id: item.relationship };
    case 'heading':
    case 'text':
    case 'tab':
      return null;
    default:
      return item satisfies never;
  }
}

const conditions = { shownIf: 'when', requiredIf: 'when it is required:', readOnlyIf: 'when it is read-only:' } as const;

/** The item with its conditions as they are to be written. */
function written(item: FormItem, form: Form, write: Write): FormItem {
  let next = item;
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

const isGone = (item: FormItem, table: string, gone: Gone): boolean => {
  const shown = shows(item, table);
  return shown !== null && gone.has(shown.to, shown.id);
};

/** The form without what makes it public; the same form if nothing does. */
export function forPeopleOnly(form: Form): Form {
  if (form.public === undefined) return form;
  const { public: _, ...rest } = form;
  return rest;
}

export const form: PartKind<Form> = {
  word: 'form',
  uniqueWithin: (part) => part.table,
  inner: (part) => part.items.flatMap((item) => ('id' in item ? [{ id: item.id }] : [])),
  innerIds: 'part',
  references: (part) => [
    { to: 'table', id: part.table },
    ...part.roles.map((id): Reference => ({ to: 'role', id })),
    ...(part.public === undefined ? [] : [{ to: 'role', id: part.public.role } as const]),
    ...part.items.flatMap((item) => shows(item, part.table) ?? []),
  ],
  issues: (part, design) => {
    const keys = part.items.map(itemKey);
    const twice = part.items.find((item, i) => keys.indexOf(itemKey(item)) !== i);
    if (twice !== undefined) return [{ code: 'broken', problem: `The form ${part.name} shows the same field or list twice.` }];
    return part.items.flatMap((item) =>
      item.kind === 'children' &&
      relationshipsById(design.relationships)
        .get(item.relationship)
        ?.some((one) => one.parent !== part.table) === true
        ? [{ code: 'unknown', what: 'relationship', id: item.relationship } as const]
        : [],
    );
  },
  without: (part, gone) => {
    if (gone.has('table', part.table)) return 'remove';
    // Without the role through which it adds records it is for people of the app again.
    const left = part.public !== undefined && gone.has('role', part.public.role) ? forPeopleOnly(part) : part;
    return withParts(left, {
      roles: staying(part.roles, (role) => !gone.has('role', role)),
      items: staying(part.items, (item) => !isGone(item, part.table, gone)),
    });
  },
  expressions: (part, _, write) => withParts(part, { items: mapped(part.items, (item) => written(item, part, write)) }),
  toMember: (part, member) => forMembers(forPeopleOnly(part), member),
  expressionsReadOthers: false,
};
