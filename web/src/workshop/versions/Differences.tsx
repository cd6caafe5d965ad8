import type { DesignDifference } from '@bibliona/core';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { pathOfDifference } from '../parts/part-paths.js';
import { differenceWords } from './difference-words.js';

/** What differs, each with the way to it: beside what is being decided here, which stays open. */
export function Differences({ of, label }: { readonly of: readonly DesignDifference[]; readonly label: string }) {
  const app = useApp();
  return (
    <ul className="touches" aria-label={label}>
      {of.map((difference, i) => {
        const path = pathOfDifference(difference, app.design);
        const words = differenceWords(difference, 'would');
        return (
          <li key={i}>
            {path === null ? (
              words
            ) : (
              <Link className="lk" to={`/workshop/${app.id}/${path}`} target="_blank">
                {words}
              </Link>
            )}
          </li>
        );
      })}
    </ul>
  );
}
