import Button from '@mui/material/Button';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import TextField from '@mui/material/TextField';
import { ArrowRightIcon, ArrowsMergeIcon, EyeSlashIcon, FileArrowUpIcon, FunctionIcon, PlusIcon, RepeatIcon, TrashIcon } from '@phosphor-icons/react';
import { fieldKinds, isStored, otherSide, sidesOf, wants, type Relationship, type Table } from '@bibliona/core';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { WhereUsed } from '../parts/WhereUsed.js';
import { MergeTables, mergeTargets } from '../rearrange/MergeTables.js';
import { WhatRepeats } from '../rearrange/WhatRepeats.js';
import { FieldEditor } from './FieldEditor.js';
import { FieldList } from './FieldList.js';
import { LinkDetails } from './LinkDetails.js';
import { QuickFields } from './QuickFields.js';
import { RelatedFieldDialog } from './RelatedFieldDialog.js';
import { Several } from '../parts/Several.js';
import { TableRules } from './TableRules.js';

/** Beside what a record is called. */
const mostShownWith = 4;

type Part = 'fields' | 'relationships' | 'rules' | 'settings';

/** The selected table: its fields, its relationships and what it is called. */
export default function TableDetails({ table, fieldId }: { readonly table: Table; readonly fieldId: string | undefined }) {
  const app = useApp();
  const navigate = useNavigate();
  const [part, setPart] = useState<Part>('fields');
  const [isRelating, setRelating] = useState(false);
  const [isRepeating, setRepeating] = useState(false);
  const toTable = (): void => void navigate(`/workshop/${app.id}/tables/${table.id}`);
  const sides = sidesOf(app.design, table);
  if (sides !== null) return <LinkDetails link={table} sides={sides} />;
  const field = table.fields.find((each) => each.id === fieldId);
  if (field !== undefined || fieldId === 'new') return <FieldEditor key={`${fieldId} ${field?.kind ?? ''}`} table={table} field={field} onDone={toTable} />;
  const relationships = app.design.relationships.filter((relationship) => relationship.parent === table.id || relationship.child === table.id);
  return (
    <>
      <header>
        <div className="kind">
          Table
          <WhereUsed to="table" id={table.id} />
        </div>
        <h2>{table.name}</h2>
        {table.description !== '' && <p className="q sm">{table.description}</p>}
      </header>
      <Tabs value={part} onChange={(_, value: Part) => setPart(value)} className="details-tabs" aria-label={`Parts of ${table.name}`}>
        <Tab value="fields" label="Fields" />
        <Tab value="relationships" label="Relationships" />
        <Tab value="rules" label="Rules" />
        <Tab value="settings" label="Settings" />
      </Tabs>
      {part === 'fields' && (
        <div className="details-body">
          <FieldList table={table} />
          <QuickFields key={table.id} table={table} />
          <div className="details-foot">
            <Button className="go" startIcon={<PlusIcon />} component={Link} to={`/workshop/${app.id}/tables/${table.id}/fields/new`}>
              Field
            </Button>
            <Button startIcon={<FunctionIcon />} onClick={() => setRelating(true)}>
              Ready-made formula
            </Button>
            <Button startIcon={<FileArrowUpIcon />} component={Link} to={`/workshop/${app.id}/import?table=${table.id}`}>
              Rows from a file
            </Button>
            <Button startIcon={<RepeatIcon />} onClick={() => setRepeating(true)}>
              Find repeats
            </Button>
          </div>
        </div>
      )}
      {isRepeating && <WhatRepeats table={table} onClose={() => setRepeating(false)} />}
      {isRelating && <RelatedFieldDialog table={table} onClose={() => setRelating(false)} />}
      {part === 'relationships' && <Relationships table={table} all={relationships} />}
      {part === 'rules' && <TableRules key={app.version} table={table} />}
      {part === 'settings' && <Settings table={table} />}
    </>
  );
}

function Relationships({ table, all }: { readonly table: Table; readonly all: readonly Relationship[] }) {
  const app = useApp();
  const [, setSearch] = useSearchParams();
  const nameOf = (id: string): string => app.design.tables.find((each) => each.id === id)?.name ?? '';
  const wayTo = (relationship: Relationship): string =>
    `/workshop/${app.id}/tables/${relationship.child}${otherSide(app.design, relationship) === null ? `/fields/${relationship.field}` : ''}`;
  /** What the children are called on their own, where that is another name, and who else has them. */
  const ofWhat = (relationship: Relationship): string => {
    const other = otherSide(app.design, relationship);
    const name = other?.table.name ?? nameOf(relationship.child);
    return `${name === relationship.childrenName ? '' : `of ${name}`}${other === null ? '' : `, shared with others of ${table.name}`}`;
  };
  return (
    <div className="details-body">
      {all.length === 0 && <p className="q details-none">{table.name} has no relationships yet.</p>}
      <ul className="relationships">
        {all.map((each) => (
          <li key={each.id}>
            <Link to={wayTo(each)}>
              {each.parent === table.id ? (
                <>
                  has many <b>{each.childrenName}</b> <span className="q">{ofWhat(each)}</span>
                </>
              ) : (
                <>
                  belongs to one of <b>{nameOf(each.parent)}</b>
                </>
              )}
              <ArrowRightIcon size={14} />
            </Link>
          </li>
        ))}
      </ul>
      <div className="details-foot">
        <Button className="go" startIcon={<PlusIcon />} onClick={() => setSearch({ add: 'relationship' })}>
          Relationship
        </Button>
      </div>
    </div>
  );
}

/** Whether a table ties two others together and says no more: then it can be a relationship of theirs instead. */
const isOnlyPairs = (table: Table): boolean => table.fields.length === 2 && table.fields.every((field) => field.kind === 'reference');

function Settings({ table }: { readonly table: Table }) {
  const { change } = useDesignChange();
  const app = useApp();
  const navigate = useNavigate();
  const [name, setName] = useState(table.name);
  const [section, setSection] = useState(table.section);
  const [description, setDescription] = useState(table.description);
  const [caption, setCaption] = useState(table.caption);
  const [shownWith, setShownWith] = useState<readonly string[]>(table.shownWith ?? []);
  const [problem, setProblem] = useState<string | null>(null);
  const [isMerging, setMerging] = useState(false);
  const isChanged =
    name !== table.name ||
    section !== table.section ||
    description !== table.description ||
    caption !== table.caption ||
    String(shownWith) !== String(table.shownWith ?? []);
  const save = async (): Promise<void> => {
    const outcome = await change({ kind: 'change_table', table: table.id, name, section, description, caption, shownWith: [...shownWith] });
    setProblem(outcome === true ? null : outcome.text);
  };
  const hide = async (): Promise<void> => {
    const outcome = await change({ kind: 'change_table', table: table.id, isLink: true });
    if (outcome !== true) setProblem(outcome.text);
  };
  const remove = async (): Promise<void> => {
    const outcome = await change({ kind: 'remove', part: 'table', id: table.id });
    if (outcome === true) await navigate(`/workshop/${app.id}/tables`);
    else setProblem(outcome.text);
  };
  return (
    <>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <TextField label="Name" value={name} onChange={(event) => setName(event.target.value)} required />
        <TextField label="What one record is" value={description} onChange={(event) => setDescription(event.target.value)} multiline />
        <TextField
          label="Section of the shelf"
          value={section}
          onChange={(event) => setSection(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 60 } }}
        />
        <ExpressionEditor
          label="A record is called"
          value={caption}
          onChange={setCaption}
          scope={{ design: app.design, table: table.id }}
          wanted={wants.plain}
          optional
          hint="By its number. Write a field, or several joined by +."
        />
        <Several
          label="Pickers also show"
          options={table.fields.filter((field) => isStored(field) && fieldKinds[field.kind].cells.reader !== null && field.kind !== 'reference')}
          chosen={shownWith}
          most={mostShownWith}
          onChange={setShownWith}
          hint="Beside what a record is called, to tell two of one name apart. Texts are searched too."
          none="No such field."
        />
        {problem !== null && <Note kind="bad">{problem}</Note>}
        {isOnlyPairs(table) && (
          <p className="q sm">
            {table.name} only says which records belong together. Hidden, they are picked in the forms of both tables, by everyone who sees both records and can
            change one of them.
          </p>
        )}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={!isChanged}>
            Save settings
          </Button>
          {isOnlyPairs(table) && (
            <Button startIcon={<EyeSlashIcon />} onClick={() => void hide()}>
              Hide the table
            </Button>
          )}
          {mergeTargets(app.design, table).length > 0 && (
            <Button startIcon={<ArrowsMergeIcon />} onClick={() => setMerging(true)}>
              Merge into another table
            </Button>
          )}
          <Button startIcon={<TrashIcon />} onClick={() => void remove()}>
            Remove table
          </Button>
        </div>
      </form>
      {isMerging && <MergeTables table={table} onClose={() => setMerging(false)} />}
    </>
  );
}
