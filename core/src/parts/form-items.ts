/** What can be put on a form: one row here for each kind of item. */
import { largestFormImage, type BelowRow, type Form, type FormItem, type FormItemOf } from '../design/form.js';
import { canOrderRows, isFillable, isOpenInPlace, type Field } from '../design/design.js';
import { isImage } from '../fields/files.js';
import type { DesignIssue } from './issues.js';
import { targetOf } from './page.js';
import { staying, type Gone, type Reference, type UncheckedDesign } from './part.js';
import { repeated } from './repeated.js';

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
  const field = design.tables.find((each) => each.id === table)?.fields.find((each) => each.id === id);
  return field?.kind === 'reference' ? (design.relationships.find((relationship) => relationship.id === field.relationship)?.parent ?? null) : null;
}

const listOf = (design: UncheckedDesign, id: string): UncheckedDesign['lists'][number] | undefined => design.lists.find((each) => each.id === id);

/** Whether there is such a list, but the field doesn't lead from its records to those of `table`. */
function isApart(design: UncheckedDesign, { list: id, by }: BelowRow, table: string): boolean {
  const list = listOf(design, id);
  return list !== undefined && referred(design, list.table, by) !== table;
}

/** What stays of a setting that is absent rather than empty. */
function itsRest<T>(values: readonly T[] | undefined, stays: (value: T) => boolean): readonly T[] | undefined {
  const left = values === undefined ? [] : staying(values, stays);
  return left.length === 0 ? undefined : left;
}

const broken = (form: Form, what: string): readonly DesignIssue[] => [
  { code: 'broken', problem: `The form ${form.name} ${what}. Take that off the form first.` },
];

/** What a form can't fill: what people don't fill either. */
const unfillable = (form: Form, field: Field | undefined): readonly DesignIssue[] =>
  field === undefined || isFillable(field) ? [] : broken(form, `fills ${field.name}, which can't be filled by a formula`);

const itemKinds: { readonly [K in FormItem['kind']]: ItemKind<FormItemOf<K>> } = {
  field: {
    references: (item, table) => [{ to: 'field', id: item.field, table }],
    issues: (item, form, design) =>
      item.fill === undefined || item.fill === ''
        ? []
        : unfillable(
            form,
            design.tables.find((table) => table.id === form.table)?.fields.find((field) => field.id === item.field),
          ),
    isForVisitors: true,
  },
  heading: showsNothing,
  text: showsNothing,
  tab: showsNothing,
  image: {
    references: () => [],
    issues: ({ file }, form) =>
      file === undefined || (isImage(file) && file.size <= largestFormImage * 1_000_000)
        ? []
        : broken(form, `shows ${file.name}, which is no image that browsers show, or larger than ${largestFormImage} MB`),
    isForVisitors: true,
  },
  children: {
    references: (item) => [
      { to: 'relationship', id: item.relationship },
      ...[...(item.columns ?? []), ...(item.fills ?? []).map((fill) => fill.field)].map((id): Reference => ({ to: 'field', id })),
      ...(item.orderedBy === undefined ? [] : [{ to: 'field', id: item.orderedBy } as const]),
      ...(item.below ?? []).flatMap(({ list, by }): Reference[] => [
        { to: 'list', id: list },
        { to: 'field', id: by },
      ]),
    ],
    without: (item, gone) => {
      const stays = (id: string): boolean => !gone.has('field', id);
      const left = {
        columns: itsRest(item.columns, stays),
        fills: itsRest(item.fills, (fill) => stays(fill.field)),
        below: itsRest(item.below, ({ list, by }) => stays(by) && !gone.has('list', list)),
        orderedBy: item.orderedBy !== undefined && stays(item.orderedBy) ? item.orderedBy : undefined,
      };
      if ((Object.keys(left) as (keyof typeof left)[]).every((name) => left[name] === item[name])) return item;
      return Object.fromEntries(Object.entries({ ...item, ...left }).filter(([, value]) => value !== undefined)) as typeof item;
    },
    issues: (item, form, design) => {
      const relationship = design.relationships.find((each) => each.id === item.relationship);
      if (relationship !== undefined && relationship.parent !== form.table) return [{ code: 'unknown', what: 'relationship', id: item.relationship }];
      const child = design.tables.find((table) => table.id === relationship?.child);
      const isStranger = (id: string): boolean => child?.fields.some((field) => field.id === id) === false;
      const stranger = [...(item.columns ?? []), ...(item.fills ?? []).map((fill) => fill.field)].find(isStranger);
      if (stranger !== undefined) return [{ code: 'unknown', what: 'field', id: stranger }];
      for (const each of repeated(item.fills ?? [], (fill) => fill.field))
        return broken(form, `fills ${child?.fields.find((field) => field.id === each.field)?.name ?? each.field} of its rows twice`);
      const order = item.orderedBy === undefined ? undefined : child?.fields.find((field) => field.id === item.orderedBy);
      if (child !== undefined && item.orderedBy !== undefined && (order === undefined || !canOrderRows(child, order)))
        return broken(form, `orders its rows by ${order?.name ?? item.orderedBy}, which is no whole number that rows can share`);
      for (const each of repeated(item.below ?? [], ({ list, by }) => `${list} ${by}`))
        return broken(form, `shows the list ${listOf(design, each.list)?.name ?? each.list} twice below its rows`);
      const apart = (item.below ?? []).find((each) => isApart(design, each, relationship?.child ?? ''));
      if (apart !== undefined) return broken(form, `shows the list ${listOf(design, apart.list)?.name} below its rows, whose records no longer refer to them`);
      return (item.fills ?? []).flatMap((fill) => {
        const field = child?.fields.find((each) => each.id === fill.field);
        return field?.id === relationship?.field ? broken(form, 'fills the field by which its rows belong to it') : unfillable(form, field);
      });
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
      const field = design.tables.find((table) => table.id === end)?.fields.find((each) => each.id === item.field);
      if (field === undefined) return broken(form, 'shows a field of a record that its own no longer leads to');
      const isOpen = item.inPlace !== true || isOpenInPlace(design, field);
      return isOpen ? [] : broken(form, `changes ${field.name}, which can't be changed there`);
    },
    isForVisitors: false,
  },
  list: {
    references: (item) => [
      { to: 'list', id: item.list },
      { to: 'field', id: item.by },
    ],
    issues: (item, form, design) => {
      return isApart(design, item, form.table)
        ? broken(form, `shows the list ${listOf(design, item.list)?.name}, whose records no longer refer to its own`)
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
        const relationship = design.relationships.find((each) => each.id === does.relationship);
        return relationship !== undefined && relationship.parent !== form.table ? broken(form, `adds other records by its button ${name}`) : [];
      }
      if (does.kind !== 'run') return [];
      const automation = design.automations.find((each) => each.id === does.automation);
      return automation !== undefined && (automation.table !== form.table || automation.on !== 'started')
        ? broken(form, `runs ${automation.name} by its button ${name}, which has no button for these records`)
        : [];
    },
    isForVisitors: false,
  },
};

/** The row of the table for an item. */
export const itemKind = (item: FormItem): ItemKind<FormItem> => itemKinds[item.kind] as unknown as ItemKind<FormItem>;
