import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { itemKey, otherSide, relationshipOf, routeOf, type Field, type Form, type FormItem, type OpenRecord, type Table } from '@bibliona/core';
import { lazy, Suspense, useContext, useEffect, useState, type ReactNode } from 'react';
import { useFormState } from 'react-hook-form';
import { useApp, useRights, type AppInHand } from '../../state/app.js';
import { ChildRows } from './ChildRows.js';
import { FormField } from './FormField.js';
import { RequiredHere } from './required-here.js';
import { useLive } from './live.js';

// Few forms have any.
const LinkedRecords = lazy(() => import('./LinkedRecords.js'));

/** The items of a form that are there for the person at hand: without what they can't see, and without the status, which is shown over the form. */
export function itemsFor(app: AppInHand, table: Table, form: Form): readonly FormItem[] {
  const hidden = app.rights[table.id]?.hidden ?? [];
  const status = routeOf(app.design, table.id)?.field;
  return form.items.filter((item) => {
    if (item.kind === 'field') return !hidden.includes(item.field) && item.field !== status;
    return item.kind !== 'children' || app.rights[relationshipOf(app.design, item.relationship).child]?.see === true;
  });
}

interface Leaf {
  readonly id: string;
  readonly name: string;
  readonly items: readonly FormItem[];
}

/** What is shown on every tab, and the tabs with what is on each. */
function leavesOf(items: readonly FormItem[]): { readonly shared: readonly FormItem[]; readonly tabs: readonly Leaf[] } {
  const first = items.findIndex((item) => item.kind === 'tab');
  if (first < 0) return { shared: items, tabs: [] };
  const tabs: (Leaf & { items: FormItem[] })[] = [];
  for (const item of items.slice(first)) {
    if (item.kind === 'tab') tabs.push({ id: item.id, name: item.name, items: [] });
    else tabs.at(-1)?.items.push(item);
  }
  return { shared: items.slice(0, first), tabs };
}

interface FormBodyProps {
  readonly table: Table;
  readonly form: Form;
  readonly open: OpenRecord | null;
}

/** What is in a form, in its grid of twelve columns, on its tabs. */
export function FormBody({ table, form, open }: FormBodyProps) {
  const app = useApp();
  const { shared, tabs } = leavesOf(itemsFor(app, table, form));
  const [chosen, setChosen] = useState(0);
  const { errors } = useFormState();
  const faulty = tabs.map((tab) => tab.items.some((item) => hasError(errors, item)));
  const toShow = faulty.indexOf(true);
  const [seen, setSeen] = useState(errors);
  if (seen !== errors) {
    // What has to be corrected is brought into sight.
    setSeen(errors);
    if (toShow >= 0 && faulty[chosen] !== true) setChosen(toShow);
  }
  const drawn = (items: readonly FormItem[]): ReactNode => items.map((item) => <Item key={itemKey(item)} {...{ table, open, item }} />);
  const labels = form.labelsBeside === true ? 'fields-grid beside' : 'fields-grid';
  return (
    <>
      {shared.length > 0 && <div className={labels}>{drawn(shared)}</div>}
      {tabs.length > 0 && (
        <>
          <Tabs
            className="form-tabs"
            value={Math.min(chosen, tabs.length - 1)}
            onChange={(_, to: number) => setChosen(to)}
            variant="scrollable"
            scrollButtons={false}
          >
            {tabs.map((tab, i) => (
              <Tab key={tab.id} id={`tab-${tab.id}`} label={tab.name} className={faulty[i] === true ? 'faulty' : ''} aria-controls={`panel-${tab.id}`} />
            ))}
          </Tabs>
          {/* All of them stay in the form, so that nothing typed is lost when another is looked at. */}
          {tabs.map((tab, i) => (
            <div key={tab.id} id={`panel-${tab.id}`} role="tabpanel" aria-labelledby={`tab-${tab.id}`} hidden={i !== Math.min(chosen, tabs.length - 1)}>
              <div className={labels}>{drawn(tab.items)}</div>
            </div>
          ))}
        </>
      )}
    </>
  );
}

function hasError(errors: object, item: FormItem): boolean {
  const { own, children } = errors as { own?: Record<string, unknown>; children?: Record<string, unknown> };
  return item.kind === 'field' ? own?.[item.field] !== undefined : item.kind === 'children' && children?.[item.relationship] !== undefined;
}

function Item({ table, open, item }: { readonly table: Table; readonly open: OpenRecord | null; readonly item: FormItem }) {
  const { meets } = useLive();
  if ('shownIf' in item && item.shownIf !== undefined && item.shownIf !== '' && !meets(table.id, 'own', item.shownIf, true)) return null;
  switch (item.kind) {
    case 'heading':
      return <h2 className="form-heading">{item.text}</h2>;
    case 'text':
      return <p className={`form-text span-${item.width}`}>{item.text}</p>;
    case 'field':
      return <FieldItem table={table} item={item} />;
    case 'children':
      return <ChildrenItem open={open} relationship={item.relationship} />;
    case 'tab':
      return null;
    default:
      return item satisfies never;
  }
}

function FieldItem({ table, item }: { readonly table: Table; readonly item: Extract<FormItem, { kind: 'field' }> }) {
  const { meets } = useLive();
  const rights = useRights(table.id);
  const required = useContext(RequiredHere);
  const field = table.fields.find((one) => one.id === item.field);
  const isMet = (condition: string | undefined): boolean => condition !== undefined && condition !== '' && meets(table.id, 'own', condition, false);
  const isReadOnly = isMet(item.readOnlyIf);
  const isRequired = isMet(item.requiredIf) && !isReadOnly && !rights.locked.includes(item.field);
  useEffect(() => {
    if (!isRequired) return undefined;
    const now = required.current;
    now.add(item.field);
    return () => void now.delete(item.field);
  }, [isRequired, required, item.field]);
  if (field === undefined) return null;
  // What is computed can't be required, whatever a form says.
  const shown = { ...field, name: item.label ?? field.name, required: field.required || isRequired } as Field;
  return (
    <div className={`span-${item.width} ${item.width <= 3 ? 'half' : ''}`}>
      <FormField field={shown} name={`own.${field.id}`} table={table.id} of="own" isInRow={false} isReadOnly={isReadOnly} />
    </div>
  );
}

function ChildrenItem({ open, relationship }: { readonly open: OpenRecord | null; readonly relationship: string }) {
  const app = useApp();
  const one = relationshipOf(app.design, relationship);
  const hasMore = open?.children.find((each) => each.relationship === one.id)?.more ?? false;
  const other = otherSide(app.design, one);
  if (other === null) return <ChildRows relationship={one} hasMore={hasMore} parentId={open?.record.id ?? null} />;
  return (
    <div className="span-6">
      <Suspense>
        <LinkedRecords relationship={one} other={other} hasMore={hasMore} />
      </Suspense>
    </div>
  );
}
