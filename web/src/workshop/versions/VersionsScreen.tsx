import Button from '@mui/material/Button';
import { ArrowLeftIcon } from '@phosphor-icons/react';
import { contract, type LogEntry } from '@bibliona/core';
import { useSuspenseQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { RestoreVersion } from './RestoreVersion.js';

/** Every version of the app: what was changed, by whom and when; an earlier one can be restored. */
export default function VersionsScreen() {
  const app = useApp();
  const { data } = useSuspenseQuery({
    // A change made here or elsewhere adds to it.
    queryKey: [...keys.log(app.id), app.version],
    queryFn: () => call(contract.designLog, { params: { app: app.id } }),
  });
  const [chosen, setChosen] = useState<LogEntry | null>(null);
  const days = Map.groupBy(data.entries, (entry) => locale().day(entry.at));
  return (
    <main className="sheet import-sheet" data-region="sheet">
      <div className="sheet-head">
        <Link to={`/workshop/${app.id}/tables`} className="back" aria-label="Back to the tables">
          <ArrowLeftIcon size={16} />
        </Link>
        <h1>Versions of {app.design.name}</h1>
      </div>
      <div className="versions-of-app">
        {[...days].map(([day, entries]) => (
          <section key={day} aria-label={day}>
            <h2>{day}</h2>
            <table className="rows">
              <thead className="vh">
                <tr>
                  <th scope="col">Version</th>
                  <th scope="col">Time</th>
                  <th scope="col">What was changed</th>
                  <th scope="col">By</th>
                  <th scope="col">Restore</th>
                </tr>
              </thead>
              <tbody>
                {entries.map((entry) => (
                  <tr key={entry.version}>
                    <td className="n">{locale().count(entry.version)}</td>
                    <td>{locale().time(entry.at)}</td>
                    <td>{entry.says}</td>
                    <td>{entry.person}</td>
                    <td>
                      {entry.version === app.version ? (
                        <span className="q">this is what you see</span>
                      ) : (
                        <Button aria-label={`Restore version ${entry.version}`} onClick={() => setChosen(entry)}>
                          Restore
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        ))}
      </div>
      {chosen !== null && <RestoreVersion key={chosen.version} entry={chosen} onClose={() => setChosen(null)} />}
    </main>
  );
}
