import { shownTables } from '@bibliona/core';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { exceptions, grantWords, grouped } from './grant-words.js';

/** Roles against tables: what each can do, and the way to change it. */
export function RoleMatrix({ role, table }: { readonly role: string | undefined; readonly table: string | undefined }) {
  const app = useApp();
  const { roles } = app.design;
  const tables = shownTables(app.design);
  return (
    <div className="matrix-scroll" tabIndex={0} role="group" aria-label="Roles and tables">
      <table className="rows matrix">
        <thead>
          <tr>
            <th scope="col">Table</th>
            {roles.map((each) => (
              <th key={each.id} scope="col" className={each.id === role ? 'opened' : ''}>
                <Link to={`/workshop/${app.id}/access/roles/${each.id}`}>{each.name}</Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {tables.map((each) => (
            <tr key={each.id}>
              <th scope="row">{each.name}</th>
              {roles.map((item) => {
                const words = grantWords(item, each.id);
                const but = exceptions(app.design, item, each);
                const isOn = item.id === role && each.id === table;
                return (
                  <td key={item.id} className={isOn ? 'on' : ''}>
                    <Link
                      to={`/workshop/${app.id}/access/roles/${item.id}/${each.id}`}
                      aria-label={`${item.name}, ${each.name}: ${words.length === 0 ? 'nothing' : [...words.map((word) => `${word.verb} ${word.reach}`), ...but].join(', ')}`}
                      aria-current={isOn ? 'true' : undefined}
                    >
                      {words.length === 0 ? (
                        <span className="q">nothing</span>
                      ) : (
                        grouped(words).map((group) => (
                          <span key={group.words} className="grant-word">
                            {group.words} {group.reach !== null && <i>{group.reach}</i>}
                          </span>
                        ))
                      )}
                      {words.length > 0 &&
                        but.map((exception) => (
                          <span key={exception} className="grant-word q">
                            {exception}
                          </span>
                        ))}
                    </Link>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
