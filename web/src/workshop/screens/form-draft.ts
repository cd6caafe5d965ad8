/** A form while it is being designed: what is put on it, in which place, how wide it is. */
import { childrenOf, itemKey, kindOf, type AppDesign, type Field, type Form, type FormItem, type Table } from '@bibliona/core';

/** Columns of the grid in which items are placed. */
export const gridWidth = 12;

export const isSized = (item: FormItem): item is Extract<FormItem, { width: number }> => 'width' in item;
export const fieldsIn = (form: Form): ReadonlySet<string> => new Set(form.items.flatMap((item) => (item.kind === 'field' ? [item.field] : [])));

/** What could be put on a form: the fields and the lists of children that are not on it yet are `free`. */
export function offeredFor(
  design: AppDesign,
  table: Table,
  form: Form,
): readonly { readonly item: FormItem; readonly name: string; readonly kind?: Field['kind']; readonly isFree: boolean }[] {
  const keys = new Set(form.items.map(itemKey));
  return [
    ...table.fields.map((field) => ({
      item: { kind: 'field' as const, field: field.id, width: kindOf(field).traits.formWidth },
      name: field.name,
      kind: field.kind,
      isFree: !keys.has(field.id),
    })),
    ...childrenOf(design, table.id).map((relationship) => ({
      item: { kind: 'children' as const, relationship: relationship.id },
      name: relationship.childrenName,
      isFree: !keys.has(relationship.id),
    })),
  ];
}

/** The form with an item at a place; without one it is the last. */
export function withItem(form: Form, item: FormItem, at = form.items.length): Form {
  return { ...form, items: [...form.items.slice(0, at), item, ...form.items.slice(at)] };
}

export const withoutItems = (form: Form, keys: ReadonlySet<string>): Form => ({ ...form, items: form.items.filter((item) => !keys.has(itemKey(item))) });

/** The form with some items, which keep their order, moved before the item that is at `to` now. */
export function movedItems(form: Form, keys: ReadonlySet<string>, to: number): Form {
  const moved = form.items.filter((item) => keys.has(itemKey(item)));
  const before = form.items.slice(0, to).filter((item) => !keys.has(itemKey(item)));
  const after = form.items.slice(to).filter((item) => !keys.has(itemKey(item)));
  return { ...form, items: [...before, ...moved, ...after] };
}

/** One place on or back, as a key does it. */
export function steppedItem(form: Form, key: string, by: -1 | 1): Form {
  const at = form.items.findIndex((item) => itemKey(item) === key);
  const to = at + by;
  if (at < 0 || to < 0 || to >= form.items.length) return form;
  return movedItems(form, new Set([key]), by === 1 ? to + 1 : to);
}

const within = (width: number): number => Math.min(Math.max(Math.round(width), 1), gridWidth);
/** The form with another width of some items; what has none of its own is left alone. */
export const sizedItems = (form: Form, keys: ReadonlySet<string>, width: number): Form => ({
  ...form,
  items: form.items.map((item) => (keys.has(itemKey(item)) && isSized(item) ? { ...item, width: within(width) } : item)),
});

const isField = ({ kind }: FormItem): boolean => kind === 'field' || kind === 'parent';
/** How many fields of a form stand side by side; null: they are not of one width. */
export function sideBySide(form: Form): number | null {
  const widths = new Set(form.items.flatMap((item) => (isField(item) && isSized(item) ? [item.width] : [])));
  const [width = 0] = widths;
  return widths.size === 1 && gridWidth % width === 0 ? gridWidth / width : null;
}
/** The form with that many fields side by side. */
export const inColumns = (form: Form, columns: number): Form => sizedItems(form, new Set(form.items.filter(isField).map(itemKey)), gridWidth / columns);

export const editedItem = (form: Form, next: FormItem): Form => ({
  ...form,
  items: form.items.map((item) => (itemKey(item) === itemKey(next) ? next : item)),
});

/** The setting without which nothing is set: an empty text takes it away. */
export function withText<T extends object, K extends keyof T>(part: T, key: K, text: string): T {
  const { [key]: _, ...rest } = part;
  return (text.trim() === '' ? rest : { ...part, [key]: text }) as T;
}

/** A form that is complete before anything is dragged: the fields of the table, then its children. */
export function firstForm(design: AppDesign, table: Table, plan: Pick<Form, 'id' | 'name'>, withChildren: boolean): Form {
  const bare: Form = { ...plan, table: table.id, roles: [], isDefault: false, items: [] };
  return offeredFor(design, table, bare)
    .filter(({ item }) => withChildren || item.kind === 'field')
    .reduce((form, { item }) => withItem(form, item), bare);
}
