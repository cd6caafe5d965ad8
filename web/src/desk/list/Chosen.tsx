import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  contract,
  fieldIssue,
  isFillable,
  mostPicked,
  mostWrites,
  routeOf,
  tablesTouched,
  written,
  type Automation,
  type Field,
  type RecordAnswer,
  type Route,
  type Table,
  type Typed,
  type Write,
} from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { viewOf } from '../../fields/kinds.js';
import { tellTyped } from '../../fields/typed.js';
import { call, messageOf } from '../../state/api.js';
import { useApp, useCircumstances, useRights } from '../../state/app.js';
import { touched } from '../../state/live.js';
import { startableIn } from '../../state/moves.js';
import { locale } from '../../state/locale.js';
import { Ask } from '../../ui/Ask.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { ExportMenu } from '../../ui/ExportMenu.js';
import { valueOf } from '../record/draft.js';
import { canDuplicate, mostDuplicated, writesOfDuplicates } from './duplicates.js';
import type { filesOf } from './files.js';
import type { Done } from './JustDone.js';
import { calledIn } from './RecordCard.js';
import { goneIn, refusalOf } from './refusal-of.js';
import { namingFields } from './values.js';

interface Props {
  readonly table: Table;
  readonly chosen: readonly RecordAnswer[];
  /** Of the records in the list. */
  readonly count: number;
  readonly isAll: boolean;
  /** While records that are not in sight are read to be chosen. */
  readonly isReading: boolean;
  readonly onAll: () => void;
  readonly onClear: () => void;
  /** What records with these ids can be saved as. */
  readonly files: (only: readonly number[]) => ReturnType<typeof filesOf>;
}
type Asking = 'set' | 'remove' | 'move' | 'start' | 'duplicate' | null;

const counted = (n: number): string => `${locale().count(n)} ${n === 1 ? 'record' : 'records'}`;

/** Whether people write a field themselves, so that many records can be given one value of it. */
const canSet = (field: Field, locked: readonly string[], route: Route | undefined): boolean =>
  isFillable(field) && !field.unique && field.fixed !== true && !locked.includes(field.id) && field.id !== route?.field;

/** What can be done with records that were chosen in a list: all of it in one save, which can be undone. */
export default function Chosen(props: Props & { readonly onDone: (done: Done) => void }) {
  const { table, chosen, count, isAll, isReading, files, onAll, onClear, onDone } = props;
  const app = useApp();
  const client = useQueryClient();
  const rights = useRights(table.id);
  const route = routeOf(app.design, table.id);
  const startable = startableIn(app.design, table.id);
  const mayDuplicate = rights.add && chosen.length <= mostDuplicated && canDuplicate(table);
  const around = useCircumstances();
  const [asking, setAsking] = useState<Asking>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const fields = table.fields.filter((field) => canSet(field, [...rights.locked, ...rights.hidden], route));
  /** @throws ApiRefusal */
  const save = async (writes: readonly Write[], message: string): Promise<void> => {
    const key = crypto.randomUUID();
    await call(contract.saveRecords, { params: { app: app.id }, body: { key, writes: [...writes] } });
    setProblem(null);
    setAsking(null);
    onDone({ save: key, message: message });
  };
  /** One save of all that are chosen. Records that others have removed since are left out, and it says how many. */
  const send = async (writeFor: (record: RecordAnswer) => Write, messageFor: (records: string, n: number) => string, left = chosen): Promise<void> => {
    setSending(true);
    const writes = left.map(writeFor);
    const gone = chosen.length - left.length;
    try {
      await save(writes, `${messageFor(counted(left.length), left.length)}${gone === 0 ? '' : ` ${counted(gone)} could no longer be found.`}`);
    } catch (error) {
      const missing = goneIn(error, writes, left);
      if (missing !== undefined && left.length > 1)
        return send(
          writeFor,
          messageFor,
          left.filter((record) => record !== missing),
        );
      setProblem(refusalOf(error, writes, chosen, (record) => calledIn(namingFields(app, table), record)));
      if (asking === 'remove') setAsking(null);
    }
    setSending(false);
    await touched(client, app, tablesTouched(app.design, writes));
  };
  const duplicate = async (): Promise<void> => {
    setAsking(null);
    setSending(true);
    try {
      const writes = await writesOfDuplicates(app, table, around, chosen);
      await save(writes, `${counted(chosen.length)} ${chosen.length === 1 ? 'was' : 'were'} duplicated.`);
      void touched(client, app, tablesTouched(app.design, writes));
    } catch (error) {
      setProblem(messageOf(error));
    }
    setSending(false);
  };
  const at = (record: RecordAnswer) => ({ table: table.id, id: record.id, rev: record.rev });
  const close = (): void => (setAsking(null), setProblem(null));
  return (
    <div className="chosen" role="group" aria-label="Chosen records">
      <b role="status">
        {counted(chosen.length)} chosen{chosen.length === mostWrites && count > mostWrites ? ', the most at once' : ''}
      </b>
      {!isAll && chosen.length < mostWrites && (
        <Button loading={isReading} onClick={onAll}>
          {count > mostWrites ? `Choose the first ${locale().count(mostWrites)}` : `Choose all ${locale().count(count)}`}
        </Button>
      )}
      {rights.change && fields.length > 0 && <Button onClick={() => (setProblem(null), setAsking('set'))}>Set a field</Button>}
      {route !== undefined && app.moves && <Button onClick={() => (setProblem(null), setAsking('move'))}>Move on</Button>}
      {startable.length > 0 && <Button onClick={() => (setProblem(null), setAsking('start'))}>Run</Button>}
      {mayDuplicate && <Button onClick={() => (setProblem(null), setAsking('duplicate'))}>Duplicate</Button>}
      {rights.remove && <Button onClick={() => (setProblem(null), setAsking('remove'))}>Remove</Button>}
      {rights.export && chosen.length <= mostPicked && (
        <>
          <ExportMenu look="text" files={() => files(chosen.map((record) => record.id))} />
        </>
      )}
      <Button onClick={onClear}>Choose none</Button>
      {problem !== null && asking === null && <Note kind="bad">{problem} Nothing was changed.</Note>}
      {asking === 'set' && (
        <SetField
          fields={fields}
          count={chosen.length}
          isSending={isSending}
          problem={problem}
          onClose={close}
          onSet={(field, value) =>
            void send(
              (record) => ({ kind: 'change', ...at(record), values: { [field.id]: written(value) } }),
              (records) => `${field.name} was set in ${records}.`,
            )
          }
        />
      )}
      {asking === 'move' && route !== undefined && (
        <MoveOn
          route={route}
          chosen={chosen}
          isSending={isSending}
          problem={problem}
          onClose={close}
          onMove={(move, name) =>
            void send(
              (record) => ({ kind: 'move', ...at(record), move }),
              (records) => `${name}: done with ${records}.`,
            )
          }
        />
      )}
      {asking === 'start' && (
        <RunAutomation
          automations={startable}
          count={chosen.length}
          isSending={isSending}
          problem={problem}
          onClose={close}
          onRun={({ id, name }) =>
            void send(
              (record) => ({ kind: 'start', ...at(record), automation: id }),
              (records) => `${name}: done with ${records}.`,
            )
          }
        />
      )}
      {asking === 'duplicate' && (
        <Ask
          title={`Duplicate ${counted(chosen.length)}?`}
          verb={`Duplicate ${counted(chosen.length)}`}
          keep="Cancel"
          onAnswer={(yes) => (yes ? void duplicate() : close())}
        >
          With their rows. What is unique, files and signatures stay with the first. You can undo this.
        </Ask>
      )}
      {asking === 'remove' && (
        <Ask
          title={`Remove ${counted(chosen.length)}?`}
          verb={`Remove ${counted(chosen.length)}`}
          keep="Cancel"
          onAnswer={(yes) =>
            yes
              ? void send(
                  (record) => ({ kind: 'remove', ...at(record) }),
                  (records, n) => `${records} ${n === 1 ? 'was' : 'were'} removed.`,
                )
              : close()
          }
        >
          What belongs to them alone goes with them. You can undo this.
        </Ask>
      )}
    </div>
  );
}

interface DialogProps {
  readonly isSending: boolean;
  readonly problem: string | null;
  readonly onClose: () => void;
}

function SetField(
  props: DialogProps & {
    readonly fields: readonly Field[];
    readonly count: number;
    readonly onSet: (field: Field, value: Parameters<typeof written>[0]) => void;
  },
) {
  const { fields, count, isSending, problem, onClose, onSet } = props;
  const [id, setId] = useState(fields[0]?.id ?? '');
  const [typed, setTyped] = useState<Typed>(null);
  // What is typed last is told just before it is sent, and not drawn any more.
  const latest = useRef<Typed>(null);
  const take = (value: Typed): void => {
    latest.current = value;
    setTyped(value);
    setWrong(undefined);
  };
  const [wrong, setWrong] = useState<string | undefined>(undefined);
  const field = fields.find((each) => each.id === id);
  if (field === undefined) return null;
  const { Input } = viewOf(field);
  const send = (): void => {
    tellTyped();
    const parsed = valueOf(field, latest.current ?? '');
    if (!parsed.ok) return setWrong(parsed.problem);
    const issue = fieldIssue(field, written(parsed.value));
    if (issue !== null) return setWrong(issue);
    onSet(field, parsed.value);
  };
  return (
    <FormDialog
      title="Set a field"
      intro={`The same value for ${counted(count)}. An empty value empties the field.`}
      onClose={onClose}
      onSubmit={send}
      verb={`Set it in ${counted(count)}`}
      isSending={isSending}
      problem={problem === null ? undefined : `${problem} Nothing was changed.`}
    >
      <TextField select label="Field" value={id} onChange={(event) => (setId(event.target.value), take(null))}>
        {fields.map((each) => (
          <MenuItem key={each.id} value={each.id}>
            {each.name}
          </MenuItem>
        ))}
      </TextField>
      <Input
        key={field.id}
        field={field}
        name={`set.${field.id}`}
        value={typed}
        onChange={take}
        onBlur={() => undefined}
        problem={wrong}
        isInRow={false}
        inputRef={() => undefined}
      />
    </FormDialog>
  );
}

function RunAutomation(
  props: DialogProps & { readonly automations: readonly Automation[]; readonly count: number; readonly onRun: (automation: Automation) => void },
) {
  const { automations, count, isSending, problem, onClose, onRun } = props;
  const [id, setId] = useState(automations[0]?.id ?? '');
  const automation = automations.find((each) => each.id === id);
  return (
    <FormDialog
      title="Run"
      intro={`For ${counted(count)}: all of them, or none if it can't be done for one.`}
      onClose={onClose}
      onSubmit={() => automation !== undefined && onRun(automation)}
      verb={`Run it for ${counted(count)}`}
      isSending={isSending}
      problem={problem === null ? undefined : `${problem} Nothing was changed.`}
    >
      <TextField select label="What to run" value={id} onChange={(event) => setId(event.target.value)}>
        {automations.map((each) => (
          <MenuItem key={each.id} value={each.id}>
            {each.name}
          </MenuItem>
        ))}
      </TextField>
    </FormDialog>
  );
}

function MoveOn(
  props: DialogProps & { readonly route: Route; readonly chosen: readonly RecordAnswer[]; readonly onMove: (move: string, name: string) => void },
) {
  const { route, chosen, isSending, problem, onClose, onMove } = props;
  const statuses = new Set(chosen.map((record) => record.values[route.field] ?? null));
  const moves = route.moves.filter((move) => statuses.size === 1 && statuses.has(move.from));
  const [id, setId] = useState(moves[0]?.id ?? '');
  const move = moves.find((each) => each.id === id);
  return (
    <FormDialog
      title="Move on"
      intro={
        statuses.size > 1
          ? 'The chosen records have different statuses. Choose records of one status to move them together.'
          : moves.length === 0
            ? 'No move leads on from their status.'
            : `The same move for ${counted(chosen.length)}.`
      }
      onClose={onClose}
      onSubmit={() => move !== undefined && onMove(move.id, move.name)}
      verb={move?.name ?? 'Move'}
      isSending={isSending}
      problem={problem === null ? undefined : `${problem} Nothing was changed.`}
    >
      {moves.length > 0 && (
        <TextField select label="Move" value={id} onChange={(event) => setId(event.target.value)}>
          {moves.map((each) => (
            <MenuItem key={each.id} value={each.id}>
              {each.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </FormDialog>
  );
}
