import Button from '@mui/material/Button';
import { XIcon } from '@phosphor-icons/react';
import type { Value } from '@bibliona/core';
import { locale } from '../../state/locale.js';
import { chosenOf, type Chosen } from './values.js';

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

/** The margin beside rows by which they are narrowed. Chosen values come first where no row has them any more. */
export function FilterMargin({ filters }: { readonly filters: readonly Filter[] }) {
  return (
    <aside className="narrowing" aria-label="Quick filters">
      {filters.map(({ id, name, values, more, chosen, words, onChoose }) => {
        const most = Math.max(1, ...values.map((value) => value.count));
        const lost: readonly Value[] = chosen.filter((value) => !values.some((each) => chosenOf(each.value) === value));
        return (
          <section key={id} aria-label={name}>
            <h2>{name}</h2>
            <ul>
              {[...lost.map((value) => ({ value, count: 0 })), ...values].map(({ value, count }) => {
                const own = chosenOf(value);
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

/** What rows are narrowed by, in a line above them; each is removed by a press. */
export function ActiveFilters(props: {
  readonly filters: readonly { readonly id: string; readonly says: string; readonly onRemove: () => void }[];
  readonly onNone: () => void;
}) {
  if (props.filters.length === 0) return null;
  return (
    <div className="narrowed" role="group" aria-label="Active filters">
      {props.filters.map(({ id, says, onRemove }) => (
        <button key={id} type="button" className="chip" aria-label={`Remove the filter ${says}`} onClick={onRemove}>
          {says}
          <XIcon size={12} />
        </button>
      ))}
      <Button onClick={props.onNone}>Show all</Button>
    </div>
  );
}
