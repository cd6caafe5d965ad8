import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ArrowLeftIcon, CaretLeftIcon, CaretRightIcon, XIcon } from '@phosphor-icons/react';
import { contract, relationshipOf, routeOf, tableOf, type Form, type OpenRecord, type Selection, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useContext, useEffect, useMemo, useRef } from 'react';
import { FormProvider } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { Favourite } from '../Favourite.js';
import { call } from '../../state/api.js';
import { OnlyRead, useApp, rightsIn, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { startableIn } from '../../state/moves.js';
import { lookedAs } from '../../state/look-as.js';
import { useRemembered } from '../../state/remembered.js';
import { useSession } from '../../state/session.js';
import { keysOf, useShortcut } from '../../state/shortcuts.js';
import { Unsaved } from '../../ui/Unsaved.js';
import { RecordAt } from '../../ui/files/held.js';
import { asked, withSelection } from '../list/selection.js';
import { ChangedMeanwhile } from './ChangedMeanwhile.js';
import { ConflictChoice } from './ConflictChoice.js';
import { FormBody, itemsFor } from './FormBody.js';
import { FormNotes } from './FormNotes.js';
import { ReferredHere } from './referred.js';
import { RequiredHere } from './required-here.js';
import { History } from './History.js';
import { InWindow } from './in-window.js';
import { LiveForm } from './live.js';
import { tablesOn } from './through.js';
import { RecordPath } from './RecordPath.js';
import { RecordTools } from './RecordTools.js';
import { Fills } from './Fills.js';
import { hasFills } from './fills.js';
import { useReading } from './use-reading.js';
import { useRecordForm } from './use-record-form.js';
import type { RecordDraft } from './draft.js';

// Few tables have automations that are run by hand.
const StartBar = lazy(() => import('./StartBar.js'));

export interface RecordFormProps {
  readonly table: Table;
  readonly layout: Form;
  readonly selection: Selection;
  /** Null: a new record. */
  readonly open: OpenRecord | null;
  /** The record as it is now, where it was saved elsewhere since it was opened. */
  readonly newer?: OpenRecord;
  readonly start: RecordDraft;
  /** Called when a new record was added, in place of opening it. */
  readonly onAdded?: (id: number) => void;
  readonly onGivenUp?: () => void;
  /** Called when what others saved can take the place of what is shown. */
  readonly onFree?: () => void;
}

/** In milliseconds; so long a press takes at most. */
const pressTime = 500;

/** The form of a table: its fields, its child rows, saved together. */
export function RecordForm({ table, layout, selection, open, newer, start, onAdded, onGivenUp, onFree }: RecordFormProps) {
  const app = useApp();
  const { person } = useSession();
  const required = useRef(new Set<string>());
  const referredHere = useRef(new Map<string, string>());
  const { form, state, save, giveUp, settle, leaveAside, isLeavingAllowed, kept, bringBack, forget } = useRecordForm({
    table,
    layout,
    open,
    start,
    selection,
    required,
    referredHere,
    keptAs: person === null || lookedAs(app.id) !== null ? null : [person.id, app.id, table.id, open?.record.id ?? 'new', layout.id].join(' '),
    onAdded,
    onGivenUp,
  });
  const { isDirty } = form.formState;
  // What waited for the typing to end is shown once nothing is changed, and no input has the focus.
  useEffect(() => {
    if (newer === undefined || isDirty || onFree === undefined) return undefined;
    onFree();
    // Not between the two halves of the press that left it.
    let timer: ReturnType<typeof setTimeout> | undefined;
    const afterLeaving = (): void => {
      clearTimeout(timer);
      timer = setTimeout(onFree, pressTime);
    };
    document.addEventListener('focusout', afterLeaving);
    return () => {
      clearTimeout(timer);
      document.removeEventListener('focusout', afterLeaving);
    };
  }, [newer, isDirty, onFree]);
  const rights = rightsIn(useRights(table.id), open);
  // The status stands over the form, with the moves that change it.
  const route = routeOf(app.design, table.id);
  const items = itemsFor(app, table, layout);
  const hasButton = (id: string): boolean => items.some((item) => item.kind === 'button' && item.does.kind === 'run' && item.does.automation === id);
  const startable = startableIn(app.design, table.id).filter((each) => !hasButton(each.id));
  const at = useMemo(() => ({ table: table.id, record: open?.record.id ?? null }), [table, open]);
  // Who can't change the record itself can still change what belongs to it, or what it belongs to.
  const mayChangeOthers = items.some((item) => {
    if (item.kind === 'parent') return item.inPlace === true && app.rights[tablesOn(app.design, table, item.through).at(-1)?.id ?? '']?.change === true;
    const rows = item.kind === 'children' ? app.rights[relationshipOf(app.design, item.relationship).child] : undefined;
    return rows !== undefined && (rows.add || rows.change || rows.remove);
  });
  const maySave = open === null ? rights.add : rights.change || mayChangeOthers;
  const canRead = layout.readFirst === true && open !== null && maySave;
  const { isReading, isChanging, setChanging, main } = useReading({ canRead, isDirty, isSaved: state.kind === 'saved' });
  const cancel = (): void => {
    if (isDirty) giveUp();
    setChanging(false);
  };
  // In a form of its own each record makes room for the next anyway.
  const mayAddNext = maySave && !isReading && rights.add && onAdded === undefined && (open === null || isDirty);
  const navigate = useNavigate();
  const duplicate = (): void => void navigate(withSelection(`/desk/${app.id}/${table.id}/new`, selection), { state: { copy: open?.record.id } });
  useShortcut('saveAndAdd', mayAddNext ? () => void save('add') : null);
  useShortcut('duplicate', open !== null && rights.add ? duplicate : null);
  const list = withSelection(`/desk/${app.id}/${table.id}`, selection);
  const closeWindow = useContext(InWindow);
  // A window has less room than a page, so there they are shown when they are asked for.
  const [history, setHistory] = useRemembered<'shown' | 'hidden'>(
    closeWindow === null ? 'history' : 'history in window',
    closeWindow === null ? 'shown' : 'hidden',
  );
  const showsHistory = open !== null && history === 'shown';
  const isRequired = table.fields.some((field) => field.required);
  return (
    <FormProvider {...form}>
      <RequiredHere value={required}>
        <ReferredHere value={referredHere}>
          <RecordAt value={at}>
            <LiveForm table={table} open={open}>
              <div className={showsHistory ? 'record' : 'record without-history'}>
                <form
                  className={layout.size === undefined ? 'record-main' : `record-main size-${layout.size}`}
                  noValidate
                  ref={main}
                  onSubmit={(event) => {
                    event.preventDefault();
                    void save().then(() => setChanging(false));
                  }}
                >
                  <div className="record-back">
                    {closeWindow !== null && <span>{table.name}</span>}
                    {closeWindow === null && rights.see && (
                      <Link to={list}>
                        <ArrowLeftIcon size={14} />
                        {app.design.lists.find((each) => each.id === selection.list)?.name ?? table.name}
                      </Link>
                    )}
                    {open !== null && <Neighbours table={table} id={open.record.id} selection={selection} />}
                    {onAdded === undefined && (
                      <Favourite
                        link={
                          open === null ? { kind: 'page', page: { kind: 'form', form: layout.id } } : { kind: 'record', table: table.id, id: open.record.id }
                        }
                      />
                    )}
                    {closeWindow !== null && (
                      <Tooltip title="Close (Esc)">
                        <IconButton className="end" aria-label="Close" onClick={closeWindow}>
                          <XIcon size={18} />
                        </IconButton>
                      </Tooltip>
                    )}
                  </div>
                  <header className="record-head">
                    <h1>
                      {open?.caption ?? (!layout.isDefault ? layout.name : onAdded === undefined ? `New record in ${table.name}` : `Add to ${table.name}`)}
                    </h1>
                    <div className="end">
                      <div className="record-state">
                        {state.kind === 'saved' && !isDirty && (
                          <span className="q" role="status">
                            Saved {state.at}
                          </span>
                        )}
                        {(isDirty || isChanging) && <Button onClick={cancel}>{isDirty ? 'Discard changes' : 'Cancel'}</Button>}
                      </div>
                      <RecordTools
                        {...{ table, layout, open, list, duplicate, showsHistory }}
                        onHistory={() => setHistory(showsHistory ? 'hidden' : 'shown')}
                        onGone={() => (isLeavingAllowed.current = true)}
                      />
                      {mayAddNext && (
                        <Tooltip title={keysOf('saveAndAdd')} describeChild>
                          <Button variant="outlined" onClick={() => void save('add')}>
                            Save and new
                          </Button>
                        </Tooltip>
                      )}
                      {isReading ? (
                        // Of a key of its own: one button that became the other would save by the press that opens the form.
                        <Tooltip key="change" title={keysOf('change')} describeChild>
                          <Button className="change" variant="contained" onClick={() => setChanging(true)}>
                            Change
                          </Button>
                        </Tooltip>
                      ) : maySave ? (
                        <Tooltip key="save" title={keysOf('save')} describeChild>
                          <Button type="submit" variant="contained" loading={state.kind === 'saving'}>
                            Save
                          </Button>
                        </Tooltip>
                      ) : (
                        <span className="q">Read-only</span>
                      )}
                    </div>
                  </header>
                  {open !== null && route !== undefined && <RecordPath route={route} open={open} isDirty={isDirty} />}
                  {open !== null && startable.length > 0 && (
                    <Suspense>
                      <StartBar table={table.id} open={open} automations={startable} />
                    </Suspense>
                  )}
                  <FormNotes {...{ table, kept, bringBack, forget, state }} />
                  {open !== null && newer !== undefined && isDirty && <ChangedMeanwhile {...{ table, open, newer }} />}
                  {state.kind === 'conflict' && (
                    <ConflictChoice
                      table={tableOf(app.design, state.table)}
                      conflict={state.conflict}
                      of={state.path === 'own' ? 'this' : state.path?.startsWith('referred.') === true ? 'record' : 'row'}
                      mine={state.mine}
                      base={state.base}
                      onChoose={(values) => void settle(values)}
                      onClose={leaveAside}
                    />
                  )}
                  {hasFills(layout) && <Fills form={layout} open={open} start={start} />}
                  <OnlyRead value={isReading}>
                    <FormBody table={table} form={layout} open={open} />
                  </OnlyRead>
                  {isRequired && !isReading && (
                    <p className="q sm needs">
                      <span className="need">*</span> required
                    </p>
                  )}
                </form>
                {showsHistory && open !== null && <History table={table} id={open.record.id} isDirty={isDirty} />}
                <Unsaved isDirty={isDirty} mayLeave={() => isLeavingAllowed.current} onSave={() => void save()}>
                  What you changed in this form has not been saved yet.
                </Unsaved>
              </div>
            </LiveForm>
          </RecordAt>
        </ReferredHere>
      </RequiredHere>
    </FormProvider>
  );
}

function Neighbours({ table, id, selection }: { readonly table: Table; readonly id: number; readonly selection: Selection }) {
  const app = useApp();
  const { data } = useQuery({
    queryKey: keys.neighbours(app.id, table.id, id, selection),
    queryFn: () => call(contract.readNeighbours, { params: { app: app.id, table: table.id, id }, query: asked(selection) }),
  });
  const navigate = useNavigate();
  const go = (to: number | null | undefined) => (to == null ? null : () => void navigate(withSelection(`/desk/${app.id}/${table.id}/${to}`, selection)));
  useShortcut('previous', go(data?.previous));
  useShortcut('next', go(data?.next));
  const step = (to: number | null | undefined, way: 'previous' | 'next', icon: React.ReactNode) => {
    const name = way === 'previous' ? 'Previous record' : 'Next record';
    if (to === null || to === undefined) {
      return (
        <IconButton disabled aria-label={name}>
          {icon}
        </IconButton>
      );
    }
    return (
      <Tooltip title={`${name} (${keysOf(way)})`}>
        <IconButton component={Link} to={withSelection(`/desk/${app.id}/${table.id}/${to}`, selection)} aria-label={name}>
          {icon}
        </IconButton>
      </Tooltip>
    );
  };
  return (
    <span className="neighbours">
      {step(data?.previous, 'previous', <CaretLeftIcon size={16} />)}
      {step(data?.next, 'next', <CaretRightIcon size={16} />)}
    </span>
  );
}
