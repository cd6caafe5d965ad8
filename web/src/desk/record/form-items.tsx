/** What is on a form, as it is filled in: one row here for each kind of item. */
import { otherSide, relationshipOf, routeOf, type Field, type FormItem, type FormItemOf, type OpenRecord, type Table } from '@bibliona/core';
import { lazy, Suspense, useContext, useEffect, type ComponentType } from 'react';
import { rightsIn, useApp, useAppId, useRights, type AppInHand } from '../../state/app.js';
import { menuEntries } from '../../state/pages.js';
import { ImageAddress } from '../../ui/files/held.js';
import { ChildRows } from './ChildRows.js';
import { FormField } from './FormField.js';
import { RequiredHere } from './required-here.js';
import { useLive } from './live.js';

// Few forms have any.
const LinkedRecords = lazy(() => import('./LinkedRecords.js'));
const ParentValue = lazy(() => import('./ParentValue.js'));
const RelatedList = lazy(() => import('./RelatedList.js'));
const FormButton = lazy(() => import('./FormButton.js'));

export interface ItemProps<I> {
  readonly item: I;
  readonly table: Table;
  /** Null: a new record. */
  readonly open: OpenRecord | null;
}

interface ItemView<I> {
  readonly Draw: ComponentType<ItemProps<I>>;
  /** Whether it is there for the person at hand, who might not see what it shows. */
  readonly isThere: (item: I, app: AppInHand, table: Table) => boolean;
}

const always = (): boolean => true;

const itemViews: { readonly [K in FormItem['kind']]: ItemView<FormItemOf<K>> } = {
  field: {
    Draw: FieldItem,
    // The status is shown over the form, with the moves that change it.
    isThere: ({ field }, app, table) => app.rights[table.id]?.hidden.includes(field) !== true && field !== routeOf(app.design, table.id)?.field,
  },
  heading: { Draw: ({ item }) => <h2 className="form-heading">{item.text}</h2>, isThere: always },
  text: { Draw: ({ item }) => <p className={`form-text span-${item.width}`}>{item.text}</p>, isThere: always },
  image: { Draw: ImageItem, isThere: ({ file }) => file !== undefined },
  // It is drawn with what is on it.
  tab: { Draw: () => null, isThere: always },
  children: {
    Draw: ChildrenItem,
    isThere: ({ relationship }, app) => app.rights[relationshipOf(app.design, relationship).child]?.see === true,
  },
  parent: {
    Draw: (props) => (
      <div className={`span-${props.item.width} ${props.item.width <= 3 ? 'half' : ''}`}>
        <Suspense>
          <ParentValue {...props} />
        </Suspense>
      </div>
    ),
    isThere: always,
  },
  list: {
    Draw: ({ item, open }) => <Suspense>{open !== null && <RelatedList item={item} record={open.record.id} />}</Suspense>,
    isThere: ({ list: id }, app) => {
      const list = app.design.lists.find((each) => each.id === id);
      return list !== undefined && app.rights[list.table]?.see === true;
    },
  },
  button: {
    Draw: ({ item, ...props }) => (
      <div className={`span-${item.width} form-button`}>
        <Suspense>
          <FormButton item={item} {...props} />
        </Suspense>
      </div>
    ),
    isThere: ({ does }, app) => {
      switch (does.kind) {
        case 'page':
          return menuEntries(app.design, app.id, [does.page]).length > 0;
        case 'add':
          return app.rights[relationshipOf(app.design, does.relationship).child]?.add === true;
        case 'run':
          return app.design.automations.some((automation) => automation.id === does.automation && automation.isOn);
        case 'address':
          return true;
        default:
          return does satisfies never;
      }
    },
  },
};
export const viewOfItem = (item: FormItem): ItemView<FormItem> => itemViews[item.kind] as unknown as ItemView<FormItem>;

function FieldItem({ table, open, item }: ItemProps<FormItemOf<'field'>>) {
  const { meets } = useLive();
  const rights = rightsIn(useRights(table.id), open);
  const required = useContext(RequiredHere);
  const field = table.fields.find((each) => each.id === item.field);
  const isMet = (condition: string | undefined): boolean => condition !== undefined && condition !== '' && meets(table.id, 'own', condition, false);
  const isReadOnly = (open !== null && !rights.change) || isMet(item.readOnlyIf);
  const isRequired = isMet(item.requiredIf) && !isReadOnly && !rights.locked.includes(item.field);
  useEffect(() => {
    if (!isRequired) return undefined;
    const now = required.current;
    now.add(item.field);
    return () => void now.delete(item.field);
  }, [isRequired, required, item.field]);
  if (field === undefined) return null;
  // What is computed can't be required, whatever a form says.
  const shown = {
    ...field,
    name: item.label ?? field.name,
    required: (field.required || isRequired) && !isReadOnly && !rights.locked.includes(field.id),
  } as Field;
  return (
    <div className={`span-${item.width} ${item.width <= 3 ? 'half' : ''}`}>
      <FormField field={shown} name={`own.${field.id}`} table={table.id} of="own" isInRow={false} isReadOnly={isReadOnly} />
    </div>
  );
}

function ImageItem({ item }: ItemProps<FormItemOf<'image'>>) {
  const app = useAppId();
  const addressOf = useContext(ImageAddress);
  return item.file === undefined ? null : (
    <p className={`form-image span-${item.width}`}>
      <img src={addressOf(app, item.file.hash)} alt={item.alt} />
    </p>
  );
}

function ChildrenItem({ item, open }: ItemProps<FormItemOf<'children'>>) {
  const app = useApp();
  const relationship = relationshipOf(app.design, item.relationship);
  const hasMore = open?.children.find((each) => each.relationship === relationship.id)?.more ?? false;
  const other = otherSide(app.design, relationship);
  if (other === null) return <ChildRows relationship={relationship} item={item} hasMore={hasMore} parentId={open?.record.id ?? null} />;
  return (
    <div className="span-6">
      <Suspense>
        <LinkedRecords relationship={relationship} other={other} hasMore={hasMore} />
      </Suspense>
    </div>
  );
}
