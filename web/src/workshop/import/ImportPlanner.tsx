import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { FunctionIcon, TrashIcon } from '@phosphor-icons/react';
import {
  applyChanges,
  changesOf,
  changesRecords,
  thingsProblem,
  type AppDesign,
  plainMatching,
  suggestField,
  suggestPlan,
  type ColumnPlan,
  type ComputedColumn,
  type FileReading,
  type FileSurvey,
  type ImportAnswer,
  type ImportPlan,
  type Matching,
  type ReadingChoice,
} from '@bibliona/core';
import { useMemo, useState, type ReactNode } from 'react';
import { newId, useApp, useCircumstances } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { ComputedDialog } from './ComputedDialog.js';
import { ColumnTarget, targetOf } from './ColumnTarget.js';
import { FileFields } from './FileFields.js';
import { FileTables } from './FileTables.js';
import { chosenBefore, columnsFor, tableNames, thingPlans, type FileTables as FileTablesChoice, type ThingIds } from './file-tables.js';
import { RowMatching } from './RowMatching.js';
import { RowStepper } from './RowStepper.js';
import { locale } from '../../state/locale.js';
import { withComputed } from './with-computed.js';

export interface ImportPlannerProps {
  readonly answer: ImportAnswer;
  readonly survey: FileSurvey;
  readonly tableId: string | null;
  readonly onReading: (reading: ReadingChoice) => void;
  /** @param isTrial whether to show first what the plan would do */
  readonly onRun: (isTrial: boolean, plan: ImportPlan) => void;
  readonly another: ReactNode;
}

const tableNameOf = (fileName: string): string => {
  const plain = fileName
    .replace(/\.[^.]*$/u, '')
    .replace(/[_-]+/gu, ' ')
    .replace(/["\p{C}]/gu, '')
    .trim()
    .slice(0, 60);
  return plain === '' ? 'Imported' : plain[0]?.toUpperCase() + plain.slice(1);
};

const isSameReading = (fileReading: FileReading, other: FileReading): boolean =>
  (Object.keys(fileReading) as (keyof FileReading)[]).every((key) => fileReading[key] === other[key]);

const thingIds = (): ThingIds => ({ table: newId('t'), form: newId('fm'), list: newId('l'), relationship: newId('r'), field: newId('f') });

/** The tables that a plan makes, without those of the app. Null: it makes none yet. */
function tablesAlone(design: AppDesign, plan: ImportPlan): AppDesign | null {
  const made = applyChanges(design, changesOf(plan));
  if (!made.ok) return null;
  const isNew = (id: string): boolean => !design.tables.some((table) => table.id === id);
  return {
    ...made.design,
    tables: made.design.tables.filter((table) => isNew(table.id)),
    relationships: made.design.relationships.filter((relationship) => isNew(relationship.child)),
  };
}

/** What becomes of the rows and records that no rule above is about. */
const restWords: Readonly<Record<Matching['mode'], string>> = {
  add: '',
  both: 'Other rows add records. Nothing is deleted.',
  update: 'Other rows are left out. Nothing is deleted.',
  replace: 'Other rows add records. Records that are not in the file are deleted.',
};

/** What the file is and what each of its columns becomes, before anything happens. */
export function ImportPlanner({ answer, survey, tableId, onReading, onRun, another }: ImportPlannerProps) {
  const { design } = useApp();
  const table = design.tables.find((each) => each.id === tableId);
  const [name, setName] = useState(() => (answer.plan?.target.kind === 'new' ? answer.plan.target.name : tableNameOf(answer.fileName)));
  const [target] = useState(() => ({ table: newId('t'), form: newId('fm'), list: newId('l') }));
  // Keep the choices that were made before a refusal or for an earlier file with these columns, unless the file is now read differently.
  const isSameFile = answer.plan !== null && isSameReading(answer.plan.reading, survey.reading);
  const isSameTarget = answer.plan?.target.kind === 'new' ? table === undefined : answer.plan?.target.table === tableId;
  const before = isSameFile && isSameTarget ? answer.plan : null;
  const [columns, setColumns] = useState<readonly ColumnPlan[]>(() => before?.columns ?? suggestPlan(survey.columns, design, tableId, () => newId('f')));
  const [badCells, setBadCells] = useState<ImportPlan['badCells']>(before?.badCells ?? 'refuse');
  const [matching, setMatching] = useState<Matching>(before?.matching ?? plainMatching);
  const [emptyCells, setEmptyCells] = useState<ImportPlan['emptyCells']>(before?.emptyCells ?? 'empty');
  const [computed, setComputed] = useState<readonly ComputedColumn[]>(before?.computed ?? []);
  const [editing, setEditing] = useState<number | null>(null);
  const around = useCircumstances();
  const { timeZone, region } = design;
  const all = useMemo(() => withComputed(survey, computed, { timeZone, region }, around), [survey, computed, timeZone, region, around]);
  const [tables, setTables] = useState<FileTablesChoice>(() => chosenBefore(survey, before));
  const [ids] = useState(() => new Map(survey.repeats.things.map(({ key }) => [key, thingIds()] as const)));
  const [at, setAt] = useState(0);
  const isByNumber = columns.some((column) => column.kind === 'record');
  const changeColumns = (next: readonly ColumnPlan[]): void => {
    setColumns(next);
    const isNumbered = next.some((column) => column.kind === 'record');
    // Rows can't be matched by a field that no column goes into any longer, nor by fields beside a number.
    const by = isNumbered ? [] : matching.by.filter((id) => next.some((column) => column.kind === 'field' && column.field === id));
    if (by.length < matching.by.length || (isNumbered && !isByNumber)) setMatching(by.length === 0 ? plainMatching : { ...matching, by });
  };
  const taken = columns.filter((column) => column.kind === 'field' || column.kind === 'new' || column.kind === 'link').length;
  const changes = table !== undefined && changesRecords({ columns, matching });
  const asleep = design.automations.filter(
    (automation) => automation.isOn && automation.table === tableId && (automation.on === 'added' || (changes && automation.on === 'changed')),
  );
  const rowTable = { table: target.table, name };
  const plan: ImportPlan = {
    reading: survey.reading,
    target: table === undefined ? { kind: 'new', name, ...target } : { kind: 'table', table: table.id },
    columns: columns.map((column) => (column.kind === 'new' ? { ...column, field: { ...column.field, name: column.field.name.trim() } } : column)),
    badCells,
    matching: table === undefined ? plainMatching : matching,
    emptyCells,
    computed: [...computed],
    things: table === undefined ? [...thingPlans(survey, tables, columns, rowTable, design, (key) => ids.get(key) ?? thingIds())] : [],
  };
  /** The table that a column goes into, where the file becomes several. */
  const homeName = (index: number): string | null =>
    plan.things.length === 0 ? null : (plan.things.find((thing) => thing.key === index || thing.columns.includes(index))?.name ?? name);
  const run = (isTrial: boolean): void => onRun(isTrial, plan);
  const changeTables = (next: FileTablesChoice): void => {
    setColumns(columnsFor(survey, columns, tables, next, design.region));
    setTables(next);
  };
  /** @param place among the computed columns */
  const putComputed = (place: number, column: ComputedColumn): void => {
    const next = computed.toSpliced(place, 1, column);
    const behind = survey.columns.length + place;
    const found = withComputed(survey, next, design, around).columns[behind];
    const before = columns[behind];
    setEditing(null);
    setComputed(next);
    // Where it goes stays; what kind it is follows from what it gives now.
    if (found !== undefined && (before === undefined || before.kind === 'new')) {
      const id = before?.field.id ?? newId('f');
      changeColumns(columns.toSpliced(behind, 1, { kind: 'new', field: suggestField(found, () => id, region), reading: found.reading }));
    }
  };
  const dropComputed = (index: number): void => {
    setComputed(computed.toSpliced(index, 1));
    changeColumns(columns.toSpliced(survey.columns.length + index, 1));
  };
  const problem =
    table === undefined && (name.trim() === '' || plan.things.some((thing) => thing.name === ''))
      ? 'Enter a name for each table.'
      : plan.things.length > 0 && thingsProblem(plan) !== null
        ? thingsProblem(plan)
        : columns.some((column) => column.kind === 'new' && column.field.name.trim() === '')
          ? 'Every new field needs a name.'
          : taken === 0
            ? 'Choose a field for at least one column.'
            : null;
  return (
    <>
      <form
        className="planner"
        onSubmit={(event) => {
          event.preventDefault();
          if (problem === null) run(changes);
        }}
      >
        <div className="planner-file">
          <p>
            <b>{answer.fileName}</b> has {locale().count(survey.rows)} {survey.rows === 1 ? 'row' : 'rows'} and {survey.columns.length}{' '}
            {survey.columns.length === 1 ? 'column' : 'columns'}.
          </p>
          {table === undefined && (
            <TextField label="Name of the new table" value={name} onChange={(event) => setName(event.target.value)} required error={name.trim() === ''} />
          )}
          <FileFields survey={survey} onReading={onReading} />
        </div>
        {table === undefined && survey.repeats.things.length > 0 && (
          <FileTables
            survey={survey}
            tables={tables}
            names={tableNames(survey, tables, rowTable, design)}
            design={tables.keys.length === 0 ? null : tablesAlone(design, plan)}
            countOf={(id) => {
              const thing = survey.repeats.things.find(({ key }) => ids.get(key)?.table === id);
              return locale().count(thing?.count ?? survey.rows);
            }}
            onTables={changeTables}
          />
        )}
        {table !== undefined && (
          <RowMatching
            table={table}
            matching={matching}
            filled={columns.flatMap((column) => (column.kind === 'field' ? [column.field] : []))}
            isNumbered={isByNumber}
            keepsEmpty={emptyCells === 'keep'}
            onMatching={setMatching}
            onKeepsEmpty={(keeps) => setEmptyCells(keeps ? 'keep' : 'empty')}
          />
        )}
        <div className="planner-columns" tabIndex={0} role="group" aria-label="Columns of the file">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Column of the file</th>
                <th scope="col">
                  <RowStepper at={at} count={survey.sample.length} rows={survey.rows} onAt={setAt} />
                </th>
                <th scope="col" className="n">
                  Filled
                </th>
                <th scope="col">Goes into</th>
                <th scope="col">As</th>
                <th scope="col">Read as</th>
              </tr>
            </thead>
            <tbody>
              {all.columns.map((column, place) => (
                <tr key={column.name}>
                  <th scope="row" className="el">
                    {column.name}
                    {place >= survey.columns.length && (
                      <span className="computed-by">
                        <IconButton size="small" aria-label={`Change ${column.name}`} onClick={() => setEditing(place - survey.columns.length)}>
                          <FunctionIcon size={14} />
                        </IconButton>
                        <IconButton size="small" aria-label={`Remove ${column.name}`} onClick={() => dropComputed(place - survey.columns.length)}>
                          <TrashIcon size={14} />
                        </IconButton>
                      </span>
                    )}
                  </th>
                  <td className="samples el" title={column.samples.join(' | ')}>
                    {(all.sample[at]?.[place] ?? '') === '' ? <span className="nil">empty</span> : all.sample[at]?.[place]}
                    {column.note !== null && <span className="column-note">{column.note}</span>}
                  </td>
                  <td className="n">{column.rows === 0 ? '' : `${Math.floor((column.filled / column.rows) * 100)} %`}</td>
                  <ColumnTarget
                    column={column}
                    plan={columns[place] ?? { kind: 'skip' }}
                    tableId={tableId}
                    home={homeName(place)}
                    used={columns.flatMap((each, i) => (i === place ? [] : targetOf(each)))}
                    onChange={(plan) => changeColumns(columns.with(place, plan))}
                  />
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {problem !== null && <Note kind="bad">{problem}</Note>}
        {changes && (
          <Note kind="look">
            {isByNumber
              ? 'A row with a record number changes that record where its values differ.'
              : 'A row changes the record that it matches where its values differ.'}
            {emptyCells === 'empty' && ' An empty cell empties its field.'} {restWords[matching.mode]}
          </Note>
        )}
        {asleep.length > 0 && (
          <Note kind="look">Imports don't trigger automations: {asleep.map((each) => `“${each.name}”`).join(', ')} won't run for these rows.</Note>
        )}
        <div className="import-foot">
          <Button type="submit" variant="contained">
            {changes ? 'Preview' : 'Import'} {locale().count(survey.rows)} {survey.rows === 1 ? 'row' : 'rows'}
          </Button>
          {!changes && (
            <Button variant="outlined" disabled={problem !== null} onClick={() => run(true)}>
              Preview
            </Button>
          )}
          {another}
          <Button startIcon={<FunctionIcon />} onClick={() => setEditing(computed.length)}>
            Computed column
          </Button>
          <FormControlLabel
            control={<Checkbox checked={badCells === 'empty'} onChange={(_, checked) => setBadCells(checked ? 'empty' : 'refuse')} />}
            label="Leave cells with errors empty"
          />
        </div>
      </form>
      {editing !== null && (
        <ComputedDialog
          column={computed[editing] ?? null}
          columns={survey.columns}
          over={all.over}
          sample={survey.sample}
          isGuarded={all.isGuarded}
          taken={all.columns.flatMap((column, place) => (place === survey.columns.length + editing ? [] : [column.name]))}
          onDone={(column) => putComputed(editing, column)}
          onClose={() => setEditing(null)}
        />
      )}
    </>
  );
}
