import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { FunnelIcon, XIcon } from '@phosphor-icons/react';
import { written, type Value } from '@bibliona/core';
import { useState } from 'react';
import { locale } from '../../state/locale.js';
import { useRemembered } from '../../state/remembered.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { type Chosen } from './values.js';

/** What rows are narrowed by: its values with how many rows have each, and those that are chosen. */
export interface Filter {
  readonly id: string;
  readonly name: string;
  readonly values: readonly { readonly value: Value; readonly count: number }[];
  /** Whether there are other values than these. */
  readonly more: boolean;
  readonly chosen: readonly Chosen[];
  readonly words: (value: Value) => string;
  readonly onChoose: (chosen: readonly Chosen[]) => void;
}

/** The margin beside rows by which they are narrowed. Chosen values that no row has come first. */
export function FilterMargin({ filters }: { readonly filters: readonly Filter[] }) {
  return (
    <aside className="narrowing" aria-label="Quick filters">
      {filters.map(({ id, name, values, more, chosen, words, onChoose }) => {
        const most = Math.max(1, ...values.map((value) => value.count));
        const lost: readonly Value[] = chosen.filter((value) => !values.some((each) => written(each.value) === value));
        return (
          <section key={id} aria-label={name}>
            <h2>{name}</h2>
            <ul>
              {[...lost.map((value) => ({ value, count: 0 })), ...values].map(({ value, count }) => {
                const own = written(value);
                const isChosen = chosen.includes(own);
                return (
                  <li key={JSON.stringify(own)}>
                    <button
                      type="button"
                      aria-pressed={isChosen}
                      className={isChosen ? 'on' : ''}
                      onClick={() => onChoose(isChosen ? chosen.filter((each) => each !== own) : [...chosen, own])}
                    >
                      <span className={value === null ? 'nil el' : 'el'}>{words(value)}</span>
                      <i style={{ width: `${(count / most) * 40}px` }} aria-hidden="true" />
                      <span className="k">{locale().count(count)}</span>
                    </button>
                  </li>
                );
              })}
            </ul>
            {more && <p className="q sm">The most frequent values. Search to find others.</p>}
          </section>
        );
      })}
    </aside>
  );
}

/** Whether the margin is shown beside the rows of a list or query; that is remembered, by its id. */
export function useFiltersShown(id: string): { readonly isShown: boolean; readonly toggle: () => void } {
  const isNarrow = useIsNarrow();
  const [remembered, remember] = useRemembered<'yes' | 'no'>(`filters ${id}`, 'yes');
  // On a phone the filters cover the rows: there they open when they are asked for.
  const [isOpen, setOpen] = useState(false);
  const isShown = isNarrow ? isOpen : remembered === 'yes';
  return { isShown, toggle: () => (isNarrow ? setOpen(!isOpen) : remember(isShown ? 'no' : 'yes')) };
}

/** Shows and hides the margin. `isActive`: something is filtered. */
export function FilterButton({ isShown, isActive, onToggle }: { readonly isShown: boolean; readonly isActive: boolean; readonly onToggle: () => void }) {
  return (
    <Tooltip title={isShown ? 'Hide the quick filters' : 'Show the quick filters'}>
      <IconButton aria-label="Quick filters" aria-expanded={isShown} onClick={onToggle}>
        <FunnelIcon size={18} weight={isActive ? 'fill' : 'regular'} />
      </IconButton>
    </Tooltip>
  );
}

/** What rows are narrowed by, in a line above them; each is removed by a press. */
export function ActiveFilters(props: {
  readonly filters: readonly { readonly id: string; readonly label: string; readonly onRemove: () => void }[];
  readonly onNone: () => void;
}) {
  if (props.filters.length === 0) return null;
  return (
    <div className="narrowed" role="group" aria-label="Active filters">
      {props.filters.map(({ id, label, onRemove }) => (
        <button key={id} type="button" className="chip" aria-label={`Remove the filter ${label}`} onClick={onRemove}>
          {label}
          <XIcon size={12} />
        </button>
      ))}
      <Button onClick={props.onNone}>Show all</Button>
    </div>
  );
}
