import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { fileFormatOf, type AppDesign, type FileSurvey, type Repeats } from '@bibliona/core';
import { lazy, Suspense, useId, useMemo, useState } from 'react';
import { locale } from '../../state/locale.js';
import { Waiting } from '../../ui/Waiting.js';
import { withCaptions } from '../tables/with-captions.js';
import { DifferingRows } from './DifferingRows.js';
import { homeOf, nounOf, ownerOf, type FileTables as Chosen } from './file-tables.js';

const DesignDiagram = lazy(async () => ({ default: (await import('../tables/Diagram.js')).DesignDiagram }));

/** In pixels, on a screen of usual width. */
const mapSize = { width: 1200, height: 240 };

type Thing = Repeats['things'][number];
type Repeated = Thing['columns'][number];

export interface FileTablesProps {
  readonly survey: FileSurvey;
  readonly tables: Chosen;
  /** What each thing is called as a table, by its key. */
  readonly names: ReadonlyMap<number, string>;
  /** The tables that the file becomes, and nothing else; null: they can't be made yet. */
  readonly design: AppDesign | null;
  /** How many records a table gets. */
  readonly countOf: (table: string) => string;
  readonly onTables: (tables: Chosen) => void;
}

/** What the rows of a file say again and again, and the tables that it can become so that each is said once. */
export function FileTables({ survey, tables, names, design, countOf, onTables }: FileTablesProps) {
  const { things, rows } = survey.repeats;
  const id = useId();
  const all = things.map((thing) => thing.key);
  const drawn = useMemo(() => (design === null ? null : withCaptions(design)), [design]);
  const choose = (keys: readonly number[]): void => onTables({ ...tables, keys });
  return (
    <section className="file-tables" aria-labelledby={id}>
      <div className="file-tables-head">
        <h2 id={id}>One table, or {things.length + 1}</h2>
        {tables.keys.length < things.length ? (
          <Button variant="outlined" onClick={() => choose(all)}>
            {things.length === 1 ? 'Make both tables' : `Make all ${things.length + 1} tables`}
          </Button>
        ) : (
          <Button onClick={() => choose([])}>Keep one table</Button>
        )}
      </div>
      <p className="q">
        The rows say the same things again and again. In a table of its own, each is written once and the rows refer to it.
        {rows < survey.rows && ` Found in the first ${locale().count(rows)} rows.`}
      </p>
      {drawn !== null && (
        <Suspense fallback={<Waiting />}>
          <div className="file-tables-map">
            <DesignDiagram design={drawn} countOf={countOf} sheet={mapSize} />
          </div>
        </Suspense>
      )}
      <ul className="things">
        {things.map((thing) => (
          <ThingChoice key={thing.key} thing={thing} survey={survey} tables={tables} name={names.get(thing.key) ?? ''} onTables={onTables} />
        ))}
      </ul>
    </section>
  );
}

interface ThingChoiceProps extends Pick<FileTablesProps, 'survey' | 'tables' | 'onTables'> {
  readonly thing: Thing;
  readonly name: string;
}

function ThingChoice({ thing, survey, tables, name, onTables }: ThingChoiceProps) {
  const { key, count, rows } = thing;
  const noun = nounOf(survey, key);
  const isChosen = tables.keys.includes(key);
  const owner = isChosen ? ownerOf(survey.repeats, key, tables.keys) : thing.within;
  // Those that are left in the rows can be taken back from there.
  const own = survey.columns.map((_, at) => at).filter((at) => at !== key && homeOf(survey.repeats, at, { ...tables, inRows: [] }) === key);
  const listed = thing.columns.map((column) => survey.columns[column.column]?.name ?? '');
  return (
    <li aria-label={noun}>
      <div className="thing-head">
        <FormControlLabel
          control={
            <Checkbox
              checked={isChosen}
              onChange={(_, checked) => onTables({ ...tables, keys: checked ? [...tables.keys, key] : tables.keys.filter((each) => each !== key) })}
            />
          }
          label={<b>{noun}</b>}
          slotProps={{ typography: { 'aria-label': `A table for ${noun}` } }}
        />
        {isChosen && (
          <TextField
            hiddenLabel
            value={name}
            error={name.trim() === ''}
            onChange={(event) => onTables({ ...tables, names: { ...tables.names, [key]: event.target.value } })}
            slotProps={{ htmlInput: { 'aria-label': `Name of the table for ${noun}`, maxLength: 60 } }}
          />
        )}
        <span className="q">
          {locale().count(count)} different in {locale().count(rows)} rows, each {owner === null ? 'row' : nounOf(survey, owner)} with one
          {!isChosen && listed.length > 0 && `. The same for each: ${listed.join(', ')}`}
        </span>
      </div>
      {isChosen && thing.follows !== null && thing.follows.differing > 0 && owner === thing.within && owner !== null && (
        <div className="thing-column">
          <Evidence of={thing.follows} thing={survey.repeats.things.find((each) => each.key === owner)} survey={survey} tables={tables} onTables={onTables}>
            {`Each ${nounOf(survey, owner)} has one ${noun}`}
          </Evidence>
        </div>
      )}
      {isChosen && own.map((at) => <ThingColumn key={at} at={at} thing={thing} survey={survey} tables={tables} onTables={onTables} />)}
    </li>
  );
}

interface ThingColumnProps extends Pick<FileTablesProps, 'survey' | 'tables' | 'onTables'> {
  readonly at: number;
  readonly thing: Thing;
}

/** A column that can be in the table of a thing, and why. */
function ThingColumn({ at, thing, survey, tables, onTables }: ThingColumnProps) {
  const noun = nounOf(survey, thing.key);
  const called = survey.columns[at]?.name ?? '';
  const inRows = tables.inRows.includes(at);
  // Others are here because a thing that it belongs to has no table of its own.
  const repeated = thing.columns.find((column) => column.column === at);
  return (
    <div className="thing-column">
      <FormControlLabel
        control={
          <Checkbox
            checked={!inRows}
            onChange={(_, checked) => onTables({ ...tables, inRows: checked ? tables.inRows.filter((row) => row !== at) : [...tables.inRows, at] })}
          />
        }
        label={called}
        slotProps={{ typography: { 'aria-label': `${called} is in the table for ${noun}` } }}
      />
      {inRows ? (
        <span className="q">stays in the rows</span>
      ) : repeated === undefined ? (
        <span className="q">follows from what each {noun} belongs to</span>
      ) : (
        <Evidence of={repeated} thing={thing} survey={survey} tables={tables} onTables={onTables}>
          {`the same for one ${noun}`}
        </Evidence>
      )}
    </div>
  );
}

interface EvidenceProps extends Pick<FileTablesProps, 'survey' | 'tables' | 'onTables'> {
  readonly of: Repeated;
  readonly thing: Thing | undefined;
  readonly children: string;
}

/** How surely something is the same, and the rows that differ. */
function Evidence({ of, thing, survey, tables, onTables, children }: EvidenceProps) {
  const [isOpen, setOpen] = useState(false);
  const id = useId();
  if (thing === undefined) return null;
  if (of.differing === 0) return <span className="q">{children} in all rows</span>;
  const { rows } = survey.repeats;
  return (
    <>
      <span className="q">
        {children} in {locale().count(rows - of.differing)} of {locale().count(rows)} rows
      </span>
      <Button size="small" aria-expanded={isOpen} aria-controls={id} onClick={() => setOpen(!isOpen)}>
        {of.differing === 1 ? '1 row differs' : `${locale().count(of.differing)} rows differ`}
      </Button>
      <div id={id} className="thing-differing" hidden={!isOpen}>
        {isOpen && (
          <DifferingRows
            of={of}
            noun={nounOf(survey, thing.key)}
            column={survey.columns[of.column]?.name ?? ''}
            unit={fileFormatOf(survey.reading.format).unit}
            right={tables.right.filter((rightValue) => rightValue.key === thing.key && rightValue.column === of.column)}
            onRight={(name, value) =>
              onTables({
                ...tables,
                right: [
                  ...tables.right.filter((rightValue) => rightValue.key !== thing.key || rightValue.column !== of.column || rightValue.name !== name),
                  { key: thing.key, column: of.column, name, value },
                ],
              })
            }
          />
        )}
      </div>
    </>
  );
}
