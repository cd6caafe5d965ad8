import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { contract, type Automation } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordPicker } from '../RecordPicker.js';
import { RunLog } from './RunLog.js';
import { StepsDone } from './StepsDone.js';

const pause = 350;

/** Half an automation is no mistake yet: the proof waits until it can be run. */
const isUnfinished = (error: Error): boolean => error instanceof ApiRefusal && error.code === 'invalid';

/** A dry run with a real record a moment after each edit, all of it undone; and the log of what it has really done. */
export function AutomationProof({ automation }: { readonly automation: Automation }) {
  const app = useApp();
  const [view, setView] = useState<'dry' | 'log'>('dry');
  const [record, setRecord] = useState<number | null>(null);
  const [asked, setAsked] = useState(automation);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(automation), pause);
    return () => clearTimeout(timer);
  }, [automation]);
  const tried = useQuery({
    queryKey: keys.dryRun(app.id, asked, record),
    queryFn: ({ signal }) =>
      call(contract.tryAutomation, { params: { app: app.id }, body: { automation: asked, ...(record === null ? {} : { id: record }) }, signal }),
    placeholderData: keepPreviousData,
    retry: false,
    enabled: view === 'dry',
  });
  const isStale = view === 'dry' && (tried.isFetching || asked !== automation);
  const data = tried.isError ? undefined : tried.data;
  return (
    <div className={isStale ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        {view === 'dry' && data?.record != null && (
          <>
            <span>{data.record.caption}</span>
            <span className="q el">dry run with a real record: nothing is saved, no mail is sent</span>
          </>
        )}
        {view === 'log' && <span className="q el">past runs, latest first</span>}
        <span className="end">
          {view === 'dry' && <RecordPicker table={automation.table} name="Another record" placeholder="Another record" onPick={setRecord} />}
          <Tabs value={view} onChange={(_, next: 'dry' | 'log') => setView(next)} aria-label="What the proof shows">
            <Tab value="dry" label="Dry run" />
            <Tab value="log" label="Runs" />
          </Tabs>
          <RegisterMark />
        </span>
      </div>
      <div className="trim run-proof" tabIndex={0} role="group" aria-label={view === 'dry' ? 'Dry run' : 'Runs'}>
        {view === 'log' ? (
          <RunLog automation={automation.id} />
        ) : (
          <>
            {tried.isError && <Note kind={isUnfinished(tried.error) ? 'look' : 'bad'}>{messageOf(tried.error)}</Note>}
            {tried.isPending && <Waiting />}
            {data?.record === null && <Empty title="No record to try it with.">Add a record to its table first.</Empty>}
            {data?.record != null && !data.isMet && (
              <p className="q">{data.record.caption} does not meet the condition, so the automation would not run. Pick another record to try.</p>
            )}
            {data?.record != null && data.isMet && (
              <>
                {data.steps.length === 0 && data.error === null && <p className="q">No steps yet. Add a step to see what would happen.</p>}
                <StepsDone steps={data.steps} isDry />
                {data.error !== null && (
                  <Note kind="bad">
                    Step {data.steps.length + 1} can't run: {data.error}. A save that triggers it would be refused.
                  </Note>
                )}
                {data.sets.length > 0 && <p className="q sm">Its changes trigger, if their conditions are met: {data.sets.join(', ')}.</p>}
              </>
            )}
          </>
        )}
      </div>
    </div>
  );
}
