import Button from '@mui/material/Button';
import { ArrowLeftIcon, DownloadSimpleIcon, FileArrowUpIcon } from '@phosphor-icons/react';
import { contract, designSql, slugOf, type DesignTarget, type LogEntry } from '@bibliona/core';
import { useSuspenseInfiniteQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { call, saveText } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { CompareVersions } from './CompareVersions.js';
import { RestoreVersion } from './RestoreVersion.js';

interface Chosen {
  readonly to: DesignTarget;
  readonly title: string;
  readonly from: string;
}

/** Every version of the app: what was changed, by whom and when; an earlier one can be restored. */
export default function VersionsScreen() {
  const app = useApp();
  const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = useSuspenseInfiniteQuery({
    // A change made here or elsewhere adds to it.
    queryKey: [...keys.log(app.id), app.version],
    queryFn: ({ pageParam: before }) => call(contract.designLog, { params: { app: app.id }, query: before === null ? {} : { before } }),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => (last.more ? last.entries.at(-1)?.version : undefined),
  });
  const log = data.pages.flatMap((page) => page.entries);
  const [isComparing, setComparing] = useState(false);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const restore = ({ version, description, person, at }: LogEntry): void =>
    setChosen({
      to: { kind: 'version', version },
      title: `Restore version ${locale().count(version)}?`,
      from: `${description}. ${person}, ${locale().moment(at)}`,
    });
  const take = async (file: File | undefined): Promise<void> => {
    setProblem(null);
    if (file === undefined) return;
    try {
      setChosen({ to: { kind: 'file', design: JSON.parse(await file.text()), name: file.name }, title: 'Use the design of this file?', from: file.name });
    } catch {
      setProblem(`${file.name} is not the design of an app. Choose a file that was saved here.`);
    }
  };
  const days = Map.groupBy(log, (entry) => locale().day(entry.at));
  return (
    <main className="sheet import-sheet" data-region="sheet">
      <div className="sheet-head">
        <Link to={`/workshop/${app.id}/tables`} className="back" aria-label="Back to the tables">
          <ArrowLeftIcon size={16} />
        </Link>
        <h1>Versions of {app.design.name}</h1>
        <div className="end">
          {log.length > 1 && <Button onClick={() => setComparing(true)}>Compare</Button>}
          <Button
            variant="outlined"
            startIcon={<DownloadSimpleIcon />}
            onClick={() => saveText(`${app.design.name}.json`, JSON.stringify(app.design, null, 2))}
          >
            Save the design
          </Button>
          <Button
            startIcon={<DownloadSimpleIcon />}
            onClick={() => saveText(`${app.design.name}.sql`, designSql(app.design, slugOf(app.design.name)), 'application/sql')}
          >
            Save as SQL
          </Button>
          <Button variant="outlined" startIcon={<FileArrowUpIcon />} onClick={() => input.current?.click()}>
            Use a saved design
          </Button>
        </div>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          className="vh"
          aria-label="Design file"
          tabIndex={-1}
          onChange={(event) => {
            void take(event.target.files?.[0]);
            // The same file can be chosen again.
            event.target.value = '';
          }}
        />
      </div>
      {problem !== null && <Note kind="bad">{problem}</Note>}
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
                    <td>{entry.description}</td>
                    <td>{entry.person}</td>
                    <td>
                      {entry.version === app.version ? (
                        <span className="q">this is what you see</span>
                      ) : (
                        <Button aria-label={`Restore version ${entry.version}`} onClick={() => restore(entry)}>
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
      {hasNextPage && (
        <div className="import-foot">
          <Button variant="outlined" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Earlier versions
          </Button>
        </div>
      )}
      {isComparing && <CompareVersions entries={log} onClose={() => setComparing(false)} />}
      {chosen !== null && <RestoreVersion key={chosen.from} {...chosen} onClose={() => setChosen(null)} />}
    </main>
  );
}
