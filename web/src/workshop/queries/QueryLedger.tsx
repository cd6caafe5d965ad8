import { tableOf, type QueryResult, type SavedQuery } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { groupsOf } from './query-draft.js';
import { locale } from '../../state/locale.js';

const count = (n: number): string => locale().count(n);

/** Where the rows go: what each part of the condition leaves out, from the grain to the result. */
export function QueryLedger({ query, ledger, isOn }: { readonly query: SavedQuery; readonly ledger: QueryResult['ledger']; readonly isOn: boolean }) {
  const { design } = useApp();
  const all = ledger[0]?.left ?? 0;
  const { name } = tableOf(design, query.table);
  const groups = groupsOf(query).map((group) => group.name);
  const stepText = (step: QueryResult['ledger'][number]): React.ReactNode => {
    if (step.kind === 'condition') return step.condition;
    if (step.kind === 'limit') return `only the first ${count(step.left)}`;
    if (step.kind === 'groups') return groups.length === 0 ? 'summarised in one row' : `grouped by ${groups.join(' and ')}`;
    return (
      <>
        <b>{name}</b>, every one
      </>
    );
  };
  return (
    <table className="ledger" aria-label="Where the rows go">
      <thead>
        <tr>
          <th scope="col">Where the rows go</th>
          <th scope="col">left out</th>
          <th scope="col">kept</th>
          <td />
        </tr>
      </thead>
      <tbody>
        {ledger.map((step, i) => {
          const before = ledger[i - 1]?.left;
          const isLast = i === ledger.length - 1;
          return (
            <tr key={i} className={`${isOn && step.kind === 'condition' ? 'on' : ''} ${isLast ? 'end' : ''}`}>
              <th scope="row">{stepText(step)}</th>
              <td className="lo">{before === undefined || step.kind === 'groups' ? '' : count(before - step.left)}</td>
              <td className="kept">{count(step.left)}</td>
              <td className="bar-cell">{step.kind !== 'groups' && <i style={{ width: `${all === 0 ? 0 : (step.left / all) * 100}%` }} />}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
