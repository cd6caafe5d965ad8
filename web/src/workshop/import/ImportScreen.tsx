import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import LinearProgress from '@mui/material/LinearProgress';
import { ArrowLeftIcon, FileArrowUpIcon } from '@phosphor-icons/react';
import { contract, type ImportAnswer, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useSearchParams } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { upload } from '../../state/upload.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { ComplaintRows, Complaints, settledWords, unitOf } from './Complaints.js';
import { ImportPreview } from './ImportPreview.js';
import { ImportPlanner } from './ImportPlanner.js';
import { useImport } from './use-import.js';
import { locale } from '../../state/locale.js';

/** Brings a spreadsheet in: choose the file, look at what it becomes, run it; whole or not at all. */
export default function ImportScreen() {
  const app = useApp();
  const [search, setSearch] = useSearchParams();
  const tableId = search.get('table');
  const table = app.design.tables.find((each) => each.id === tableId);
  const importId = search.get('import');
  const back = table === undefined ? `/workshop/${app.id}/tables` : `/workshop/${app.id}/tables/${table.id}`;
  const started = (answer: ImportAnswer): void => {
    const next = new URLSearchParams(search);
    next.set('import', answer.id);
    setSearch(next);
  };
  const another = (): void => {
    const next = new URLSearchParams(search);
    next.delete('import');
    setSearch(next);
  };
  return (
    <main className="sheet import-sheet" data-region="sheet">
      <div className="sheet-head">
        <Link to={back} className="back" aria-label="Back to the tables">
          <ArrowLeftIcon size={16} />
        </Link>
        <h1>{table === undefined ? 'A spreadsheet becomes a table' : `Rows for ${table.name}`}</h1>
      </div>
      {importId === null ? <ChooseFile onStarted={started} /> : <Running key={importId} id={importId} tableId={table?.id ?? null} onAnother={another} />}
    </main>
  );
}

function ChooseFile({ onStarted }: { readonly onStarted: (answer: ImportAnswer) => void }) {
  const app = useApp();
  const input = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState<{ readonly name: string; readonly part: number; readonly stop: () => void } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [isOver, setOver] = useState(false);
  const send = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    setProblem(null);
    if (file.size === 0) return setProblem(`${file.name} is empty. Choose a file with rows in it.`);
    const request = upload(contract.uploadImport, { params: { app: app.id }, query: { name: file.name } }, file, (part) =>
      setSending({ name: file.name, part, stop: request.stop }),
    );
    setSending({ name: file.name, part: 0, stop: request.stop });
    try {
      onStarted(await request.answer);
    } catch (error) {
      setProblem(error instanceof DOMException ? 'Stopped. Nothing was imported.' : messageOf(error));
    }
    setSending(null);
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    void send(event.dataTransfer.files[0]);
  };
  return (
    <div
      className={isOver ? 'drop over' : 'drop'}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      {sending === null ? (
        <Empty
          title="Drop a spreadsheet here, or choose one."
          action={
            <Button variant="contained" startIcon={<FileArrowUpIcon />} onClick={() => input.current?.click()}>
              Choose a file
            </Button>
          }
        >
          XLSX, CSV or JSON. What is in the file decides, not its name. You see the result before anything changes.
        </Empty>
      ) : (
        <div className="import-progress" role="status">
          <p>
            Sending {sending.name}, {Math.round(sending.part * 100)} %
          </p>
          <LinearProgress variant="determinate" value={sending.part * 100} aria-label="Sent" />
          <Button variant="outlined" onClick={sending.stop}>
            Stop
          </Button>
        </div>
      )}
      {sending === null && <PasteRows onRows={(text) => void send(new File([text], 'Pasted rows', { type: 'text/plain' }))} />}
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <input
        ref={input}
        type="file"
        accept=".xlsx,.csv,.tsv,.txt,.json,.jsonl,.ndjson,.geojson,text/csv,text/plain,text/tab-separated-values,application/json"
        className="vh"
        aria-label="Spreadsheet file"
        tabIndex={-1}
        onChange={(event) => void send(event.target.files?.[0])}
      />
    </div>
  );
}

/** Rows that were copied from a spreadsheet or a page. */
function PasteRows({ onRows }: { readonly onRows: (text: string) => void }) {
  const [text, setText] = useState('');
  return (
    <div className="paste-rows">
      <TextField
        label="Or paste rows here"
        multiline
        minRows={3}
        maxRows={8}
        value={text}
        onChange={(event) => setText(event.target.value)}
        helperText="Copied from a spreadsheet, with the column names above them."
      />
      <Button variant="outlined" disabled={text.trim() === ''} onClick={() => onRows(text)}>
        Use these rows
      </Button>
    </div>
  );
}

function Running({ id, tableId, onAnother }: { readonly id: string; readonly tableId: string | null; readonly onAnother: () => void }) {
  const app = useApp();
  const client = useQueryClient();
  const { answer, problem, act } = useImport(id);
  // From a preview back to the plan that it is of.
  const [isBack, setBack] = useState(false);
  const undo = async (others: boolean): Promise<void> => {
    await act(contract.takeBackImport, { others });
    await client.invalidateQueries({ queryKey: keys.app(app.id), predicate: (query) => query.queryKey.length > 2 });
  };
  if (answer === undefined) return problem === null ? null : <Note kind="bad">{problem}</Note>;
  const anotherFile = (
    <Button variant="outlined" onClick={onAnother}>
      Choose another file
    </Button>
  );
  switch (answer.state) {
    case 'reading':
    case 'running':
      return (
        <div className="import-progress" role="status">
          <p>
            {answer.state === 'reading' ? 'Reading' : answer.isTrial ? 'Checking' : 'Importing'} {answer.fileName}, {progressWords(answer)}
          </p>
          <LinearProgress variant={answer.progress > 0 ? 'determinate' : 'indeterminate'} value={answer.progress * 100} aria-label="Progress" />
          <p className="q">
            {answer.state === 'reading'
              ? 'Every cell is checked to find the right kind of field.'
              : answer.isTrial
                ? 'You see what would change before anything does. You can keep working while it runs.'
                : 'Either all rows are imported or none. You can keep working while it runs.'}
          </p>
          <Button variant="outlined" onClick={() => void act(contract.cancelImport)}>
            Stop
          </Button>
        </div>
      );
    case 'read':
    case 'refused':
    case 'cancelled':
    case 'failed': {
      const { plan, preview } = answer;
      if (preview !== null && plan !== null && !isBack)
        return (
          <>
            {problem !== null && <Note kind="bad">{problem}</Note>}
            <ImportPreview
              answer={answer}
              preview={preview}
              plan={plan}
              table={app.design.tables.find((table) => table.id === plan.target.table)}
              onRun={() => void act(contract.runImport, { version: app.version, plan })}
              onBack={() => setBack(true)}
            />
          </>
        );
      const known = tableId === null && plan?.target.kind === 'table' ? app.design.tables.find((table) => table.id === plan.target.table) : undefined;
      return (
        <>
          {known !== undefined && (
            <Note kind="look">
              A file with these columns was imported into {known.name} before.{' '}
              <Link to={`?table=${known.id}&import=${id}`}>Import this one into {known.name} too</Link>
            </Note>
          )}
          {answer.state === 'cancelled' && <Note kind="look">Stopped. Nothing was imported.</Note>}
          {answer.message !== null && <Note kind="bad">{answer.message}</Note>}
          {problem !== null && <Note kind="bad">{problem}</Note>}
          {answer.state === 'refused' && <Complaints answer={answer} />}
          {answer.survey === null ? (
            <div className="import-foot">{anotherFile}</div>
          ) : (
            <ImportPlanner
              key={`${tableId} ${JSON.stringify(answer.survey.reading)}`}
              answer={answer}
              survey={answer.survey}
              tableId={tableId}
              onReading={(reading) => void act(contract.surveyImport, { reading })}
              onRun={(isTrial, plan) => {
                setBack(false);
                void act(contract.runImport, { version: app.version, plan, isTrial });
              }}
              another={anotherFile}
            />
          )}
        </>
      );
    }
    case 'done':
      return (
        <>
          <Empty
            title={doneWords(answer, app.design.tables)}
            action={
              <div className="row">
                <Button variant="contained" component={Link} to={`/desk/${app.id}/${answer.table ?? ''}`}>
                  Open the list
                </Button>
                <Button variant="outlined" component={Link} to={`/workshop/${app.id}/tables/${answer.table ?? ''}`}>
                  Look at the table
                </Button>
                <Button onClick={() => void undo(false)}>Undo the import</Button>
                {problem !== null && <Button onClick={() => void undo(true)}>Undo the others</Button>}
              </div>
            }
          >
            {answer.emptiedCount + answer.settledCount === 0 ? `All of ${answer.fileName} was imported.` : `All rows of ${answer.fileName} were imported.`}
          </Empty>
          {problem !== null && <Note kind="look">{problem} “Undo the others” leaves these as they are.</Note>}
          {answer.emptiedCount > 0 && (
            <section className="complaints" aria-label="Cells that were left empty">
              <p>
                {answer.emptiedCount === 1 ? '1 cell had an error and was' : `${locale().count(answer.emptiedCount)} cells had errors and were`} left empty:
              </p>
              <ComplaintRows complaints={answer.emptied} count={answer.emptiedCount} unit={unitOf(answer)} />
            </section>
          )}
          {answer.settledCount > 0 && (
            <section className="complaints" aria-label="Values that were left out">
              <p>{settledWords(answer.settledCount, 'were')}</p>
              <ComplaintRows complaints={answer.settled} count={answer.settledCount} unit={unitOf(answer)} />
            </section>
          )}
        </>
      );
    case 'taken_back':
      return (
        <Empty title="The import was undone." action={anotherFile}>
          {answer.stayed === 0
            ? undoneWords(answer)
            : `${answer.stayed === 1 ? '1 record was changed since the import and was' : `${locale().count(answer.stayed)} records were changed since the import and were`} left as they are. ${undoneWords(answer)}`}
        </Empty>
      );
    default:
      return answer.state satisfies never;
  }
}

const records = (count: number): string => `${locale().count(count)} ${count === 1 ? 'record' : 'records'}`;

/** How far it is: in rows where the file has been counted. */
function progressWords({ progress, survey, state }: ImportAnswer): string {
  const percent = `${Math.round(progress * 100)} %`;
  if (state === 'reading' || survey === null || survey.rows === 0) return percent;
  return `${locale().count(Math.round(progress * survey.rows))} of ${locale().count(survey.rows)} rows, ${percent}`;
}

function doneWords({ added, changed, unchanged, leftOut, removed, made, table: id }: ImportAnswer, tables: readonly Pick<Table, 'id' | 'name'>[]): string {
  const nameOf = (each: string | null): string => tables.find((table) => table.id === each)?.name ?? 'the table';
  const table = nameOf(id);
  const besides = made.map((each) => ` ${records(each.count)} added to ${nameOf(each.table)}.`).join('');
  if (changed + unchanged + removed + leftOut === 0) return `${records(added ?? 0)} added to ${table}.${besides}`;
  const counts = [
    [added ?? 0, 'added'],
    [changed, 'changed'],
    [removed, 'deleted'],
  ] as const;
  const parts = counts.flatMap(([count, word]) => (count === 0 && word !== 'changed' ? [] : [`${locale().count(count)} ${word}`]));
  const left =
    leftOut === 0 ? '' : ` ${leftOut === 1 ? '1 row matched no record and was' : `${locale().count(leftOut)} rows matched no record and were`} left out.`;
  return `${table}: ${[...parts, `${locale().count(unchanged)} unchanged`].join(', ')}.${left}${besides}`;
}

function undoneWords({ added, changed, removed }: ImportAnswer): string {
  const words = [
    ...((added ?? 0) > 0 ? ['The added records are deleted.'] : []),
    ...(changed > 0 ? ['The changed records have their earlier values again.'] : []),
    ...(removed > 0 ? ['The deleted records are back.'] : []),
  ];
  return words.length === 0 ? 'It had changed nothing.' : words.join(' ');
}
