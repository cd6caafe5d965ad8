/** What can be put on a form: one row here for each kind of item. */
import type { Form, FormItem, FormItemOf } from '../design/form.js';
import type { DesignIssue } from './issues.js';
import { targetOf } from './page.js';
import { staying, type Gone, type Reference, type UncheckedDesign } from './part.js';

interface ItemKind<I> {
  /** What it shows of the app, or leads to; `table` is that of the form. */
  readonly references: (item: I, table: string) => readonly Reference[];
  /** The item without what it can do without of what goes; absent: it needs all that it names. */
  readonly without?: (item: I, gone: Gone) => I;
  /** What can be wrong with it, besides missing targets and expressions. */
  readonly issues: (item: I, form: Form, design: UncheckedDesign) => readonly DesignIssue[];
  /** Whether it is on a form that anyone can fill in, who can see nothing of the app. */
  readonly isForVisitors: boolean;
}

const unchecked = () => [];
const showsNothing = { references: () => [], issues: unchecked, isForVisitors: true } as const;

/** The table of the records that a field of `table` refers to; null: it is no reference of that table. */
function referred(design: UncheckedDesign, table: string | null, id: string): string | null {
  const field = design.tables.find((one) => one.id === table)?.fields.find((one) => one.id === id);
  return field?.kind === 'reference' ? (design.relationships.find((one) => one.id === field.relationship)?.parent ?? null) : null;
}

const broken = (form: Form, what: string): readonly DesignIssue[] => [
  { code: 'broken', problem: `The form ${form.name} ${what}. Take that off the form first.` },
];

const itemKinds: { readonly [K in FormItem['kind']]: ItemKind<FormItemOf<K>> } = {
  field: { references: (item, table) => [{ to: 'field', id: item.field, table }], issues: unchecked, isForVisitors: true },
  heading: showsNothing,
  text: showsNothing,
  tab: showsNothing,
  children: {
    references: (item) => [{ to: 'relationship', id: item.relationship }, ...(item.columns ?? []).map((id): Reference => ({ to: 'field', id }))],
    without: (item, gone) => {
      const left = staying(item.columns ?? [], (id) => !gone.has('field', id));
      if (left.length === (item.columns ?? []).length) return item;
      const { columns: _, ...rest } = item;
      return left.length === 0 ? rest : { ...rest, columns: left };
    },
    issues: (item, form, design) => {
      const relationship = design.relationships.find((one) => one.id === item.relationship);
      if (relationship !== undefined && relationship.parent !== form.table) return [{ code: 'unknown', what: 'relationship', id: item.relationship }];
      const child = design.tables.find((one) => one.id === relationship?.child);
      const stranger = item.columns?.find((id) => child?.fields.some((field) => field.id === id) === false);
      return stranger === undefined ? [] : [{ code: 'unknown', what: 'field', id: stranger }];
    },
    isForVisitors: false,
  },
  parent: {
    references: (item, table) => [
      ...item.through.map((id, i): Reference => (i === 0 ? { to: 'field', id, table } : { to: 'field', id })),
      { to: 'field', id: item.field },
    ],
    issues: (item, form, design) => {
      const end = item.through.reduce<string | null>((table, id) => referred(design, table, id), form.table);
      const isThere = design.tables.find((one) => one.id === end)?.fields.some((field) => field.id === item.field) === true;
      return isThere ? [] : broken(form, 'shows a field of a record that its own no longer leads to');
    },
    isForVisitors: false,
  },
  list: {
    references: (item) => [
      { to: 'list', id: item.list },
      { to: 'field', id: item.by },
    ],
    issues: (item, form, design) => {
      const list = design.lists.find((one) => one.id === item.list);
      return list !== undefined && referred(design, list.table, item.by) !== form.table
        ? broken(form, `shows the list ${list.name}, whose records no longer refer to its own`)
        : [];
    },
    isForVisitors: false,
  },
  button: {
    references: ({ does }) => {
      switch (does.kind) {
        case 'page':
          return [targetOf(does.page)];
        case 'add':
          return [{ to: 'relationship', id: does.relationship }];
        case 'run':
          return [{ to: 'automation', id: does.automation }];
        case 'address':
          return [];
        default:
          return does satisfies never;
      }
    },
    issues: ({ name, does }, form, design) => {
      if (does.kind === 'add') {
        const relationship = design.relationships.find((one) => one.id === does.relationship);
        return relationship !== undefined && relationship.parent !== form.table ? broken(form, `adds other records by its button ${name}`) : [];
      }
      if (does.kind !== 'run') return [];
      const automation = design.automations.find((one) => one.id === does.automation);
      return automation !== undefined && (automation.table !== form.table || automation.on !== 'started')
        ? broken(form, `runs ${automation.name} by its button ${name}, which has no button for these records`)
        : [];
    },
    isForVisitors: false,
  },
};

/** The row of the table for an item. */
export const itemKind = (item: FormItem): ItemKind<FormItem> => itemKinds[item.kind] as unknown as ItemKind<FormItem>;
