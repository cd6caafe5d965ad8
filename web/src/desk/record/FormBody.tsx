import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { itemKey, type Form, type FormItem, type OpenRecord, type Table } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { useFormState } from 'react-hook-form';
import { useApp, type AppInHand } from '../../state/app.js';
import { viewOfItem } from './form-items.js';
import { useLive } from './live.js';
import { useMarked } from './mark.js';

/** The items of a form that are there for the person at hand: without what they can't see, and without the status, which is shown over the form. */
export const itemsFor = (app: AppInHand, table: Table, form: Form): readonly FormItem[] =>
  form.items.filter((item) => viewOfItem(item).isThere(item, app, table));

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
  const marked = useMarked();
  const [seen, setSeen] = useState(marked);
  if (seen !== marked) {
    // What has to be corrected is brought into sight.
    setSeen(marked);
    if (marked !== undefined && toShow >= 0) setChosen(toShow);
  }
  const drawn = (items: readonly FormItem[]): ReactNode => items.map((item) => <Item key={itemKey(item)} {...{ table, open, item }} />);
  const grid = ['fields-grid', ...(form.labelsBeside === true ? ['beside'] : []), ...(form.size === undefined ? [] : [`size-${form.size}`])].join(' ');
  return (
    <>
      {shared.length > 0 && <div className={grid}>{drawn(shared)}</div>}
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
            <div
              key={tab.id}
              id={`panel-${tab.id}`}
              data-name={tab.name}
              role="tabpanel"
              aria-labelledby={`tab-${tab.id}`}
              hidden={i !== Math.min(chosen, tabs.length - 1)}
            >
              <div className={grid}>{drawn(tab.items)}</div>
            </div>
          ))}
        </>
      )}
    </>
  );
}

function hasError(errors: object, item: FormItem): boolean {
  const { own, children, referred } = errors as { readonly [part: string]: Record<string, unknown> | undefined };
  if (item.kind === 'parent')
    return Object.values(referred ?? {}).some((each) => (each as { values?: Record<string, unknown> } | undefined)?.values?.[item.field] !== undefined);
  return item.kind === 'field' ? own?.[item.field] !== undefined : item.kind === 'children' && children?.[item.relationship] !== undefined;
}

function Item({ item, ...props }: { readonly table: Table; readonly open: OpenRecord | null; readonly item: FormItem }) {
  const { meets } = useLive();
  if ('shownIf' in item && item.shownIf !== undefined && item.shownIf !== '' && !meets(props.table.id, 'own', item.shownIf, true)) return null;
  const { Draw } = viewOfItem(item);
  return <Draw item={item} {...props} />;
}
