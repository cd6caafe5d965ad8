import Button from '@mui/material/Button';
import { changesRecords, fileFormatOf, type ImportAnswer, type ImportPlan, type ImportPreview as Preview, type Table } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { ComplaintRows, settledWords } from './Complaints.js';

const records = (count: number): string => `${locale().count(count)} ${count === 1 ? 'record' : 'records'}`;
const rows = (count: number): string => `${locale().count(count)} ${count === 1 ? 'row' : 'rows'}`;

/** The first names, and how many there are besides. */
const listed = ({ names, count }: { readonly names: readonly string[]; readonly count: number }): string =>
  `${names.join(', ')}${count > names.length ? ` and ${locale().count(count - names.length)} more` : ''}`;

export interface ImportPreviewProps {
  readonly answer: ImportAnswer;
  readonly preview: Preview;
  readonly plan: ImportPlan;
  readonly table: Table | undefined;
  readonly onRun: () => void;
  readonly onBack: () => void;
}

/** What an import would do, before it does it. */
export function ImportPreview({ answer, preview, plan, table, onRun, onBack }: ImportPreviewProps) {
  const { added, changed, unchanged, leftOut, removed, removedNames, fields, made } = preview;
  const { design } = useApp();
  const tableName = (id: string): string => plan.things.find((thing) => thing.table === id)?.name ?? design.tables.find((each) => each.id === id)?.name ?? '';
  const name = plan.target.kind === 'new' ? plan.target.name : (table?.name ?? 'the table');
  const nameOf = (id: string): string => table?.fields.find((field) => field.id === id)?.name ?? '';
  const isMatched = changesRecords(plan);
  const counts = [
    [added, 'to add', true],
    [changed, 'to change', isMatched],
    [removed, 'to delete', plan.matching.mode === 'replace'],
    [unchanged, 'unchanged', isMatched],
  ] as const;
  const does = added + changed + removed > 0;
  return (
    <section className="import-preview" aria-label="Preview of the import">
      <h2>
        What {answer.fileName} would do in {name}
      </h2>
      <dl className="import-counts">
        {counts.map(
          ([count, word, isAsked]) =>
            isAsked && (
              <div key={word}>
                <dt>{word}</dt>
                <dd>{locale().count(count)}</dd>
              </div>
            ),
        )}
      </dl>
      {!does && <Note kind="look">This file would change nothing: every row is already in {name} as it is.</Note>}
      {leftOut > 0 && (
        <Note kind="look">
          {rows(leftOut)} {leftOut === 1 ? 'matches' : 'match'} no record and would be left out.
        </Note>
      )}
      {made.map((each) => (
        <Note key={each.table} kind="look">
          {records(each.count)} would be added to {tableName(each.table)}, because rows refer to {each.count === 1 ? 'it' : 'them'}: {listed(each)}.
        </Note>
      ))}
      {removed > 0 && (
        <Note kind="bad">
          {records(removed)} {removed === 1 ? 'is' : 'are'} not in the file and would be deleted: {listed({ names: removedNames, count: removed })}.
        </Note>
      )}
      {fields.length > 0 && (
        <div className="complaints-scroll" tabIndex={0} role="group" aria-label="Changes by field">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th className="n" scope="col">
                  {fileFormatOf(plan.reading.format).unit}
                </th>
                <th scope="col">Before</th>
                <th scope="col">After</th>
              </tr>
            </thead>
            <tbody>
              {fields.flatMap(({ field, count, examples }) =>
                examples.map((example, i) => (
                  <tr key={`${field} ${example.line}`}>
                    {i === 0 && (
                      <th scope="rowgroup" rowSpan={examples.length}>
                        {nameOf(field)}
                        <span className="q"> in {records(count)}</span>
                      </th>
                    )}
                    <td className="n">{locale().count(example.line)}</td>
                    <td>{example.before === '' ? <span className="nil">empty</span> : example.before}</td>
                    <td>{example.after === '' ? <span className="nil">empty</span> : example.after}</td>
                  </tr>
                )),
              )}
            </tbody>
          </table>
        </div>
      )}
      {preview.emptiedCount > 0 && (
        <>
          <p>
            {preview.emptiedCount === 1 ? '1 cell has an error and would be' : `${locale().count(preview.emptiedCount)} cells have errors and would be`} left
            empty:
          </p>
          <ComplaintRows complaints={preview.emptied} count={preview.emptiedCount} unit={fileFormatOf(plan.reading.format).unit} />
        </>
      )}
      {preview.settledCount > 0 && (
        <>
          <p>{settledWords(preview.settledCount, 'would be')}</p>
          <ComplaintRows complaints={preview.settled} count={preview.settledCount} unit={fileFormatOf(plan.reading.format).unit} />
        </>
      )}
      <div className="import-foot">
        <Button variant="contained" onClick={onRun} disabled={!does}>
          Import
        </Button>
        <Button variant="outlined" onClick={onBack}>
          Back to the columns
        </Button>
        <span className="q">Nothing has been changed yet. The import can be undone as a whole.</span>
      </div>
    </section>
  );
}
