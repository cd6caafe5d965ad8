import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { PencilSimpleIcon, TrashIcon } from '@phosphor-icons/react';
import { contract, mostTold, type CommentsAnswer, type NamedPerson, type Table } from '@bibliona/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keep, letGo, readKept } from '../../state/kept.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { lookedAs } from '../../state/look-as.js';
import { initials, useSession } from '../../state/session.js';
import { Ask } from '../../ui/Ask.js';
import { Note } from '../../ui/Note.js';
import { pickerIcons } from '../../ui/picker-icons.js';

type Comment = CommentsAnswer['comments'][number];

/** What people say about the record, the newest last, with room for one more. */
export function Comments({ table, id }: { readonly table: Table; readonly id: number }) {
  const app = useApp();
  const client = useQueryClient();
  const params = { app: app.id, table: table.id, id };
  const key = [...keys.record(app.id, table.id, id), 'comments'];
  const { data, isError, error } = useQuery({ queryKey: key, queryFn: () => call(contract.readComments, { params }) });
  const again = (): Promise<void> => client.invalidateQueries({ queryKey: key });
  const mayWrite = lookedAs(app.id) === null;
  return (
    <section className="comments" aria-label="Comments">
      <h2>Comments</h2>
      {isError && <Note kind="bad">{messageOf(error)}</Note>}
      {data?.more === true && <p className="q sm">There are older ones. The newest {locale().count(data.comments.length)} are shown.</p>}
      {data !== undefined && data.comments.length > 0 && (
        <ul>
          {data.comments.map((comment) => (
            <Said
              key={comment.id}
              comment={comment}
              mayRemove={mayWrite && (comment.isOwn || app.role === 'builder')}
              mayChange={mayWrite && comment.isOwn}
              onChange={(text) => call(contract.changeComment, { params: { ...params, comment: comment.id }, body: { text } }).then(again)}
              onRemove={() => call(contract.removeComment, { params: { ...params, comment: comment.id } }).then(again)}
            />
          ))}
        </ul>
      )}
      {mayWrite && data !== undefined && <NewComment people={data.people} findsAnyone={data.findsAnyone} params={params} onAdded={again} />}
    </section>
  );
}

function Said(props: {
  readonly comment: Comment;
  readonly mayChange: boolean;
  readonly mayRemove: boolean;
  readonly onChange: (text: string) => Promise<void>;
  readonly onRemove: () => Promise<void>;
}) {
  const { comment, mayChange, mayRemove, onChange, onRemove } = props;
  const [edited, setEdited] = useState<string | null>(null);
  const [isAsking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const attempt = (work: Promise<void>, done: () => void): void =>
    void work.then(
      () => {
        setProblem(null);
        done();
      },
      (error: unknown) => setProblem(messageOf(error)),
    );
  const by = comment.by ?? 'Someone who left';
  return (
    <li>
      <span className="face s" aria-hidden="true">
        {initials(by)}
      </span>
      <div className="grow">
        <b>{by}</b>
        {edited === null ? (
          <p className="said">{comment.text}</p>
        ) : (
          <>
            <TextField
              label="Comment"
              value={edited}
              onChange={(event) => setEdited(event.target.value)}
              multiline
              autoFocus
              onKeyDown={(event) => event.key === 'Escape' && setEdited(null)}
            />
            <div className="row">
              <Button disabled={edited.trim() === ''} variant="outlined" onClick={() => attempt(onChange(edited), () => setEdited(null))}>
                Save comment
              </Button>
              <Button onClick={() => setEdited(null)}>Cancel</Button>
            </div>
          </>
        )}
        <p className="q sm">
          <time dateTime={comment.at}>{locale().moment(comment.at)}</time>
          {comment.told.length > 0 && ` · told ${comment.told.join(', ')}`}
          {comment.changedAt !== null && ' · changed later'}
        </p>
        {problem !== null && <Note kind="bad">{problem}</Note>}
      </div>
      {edited === null && (mayChange || mayRemove) && (
        <span className="said-tools">
          {mayChange && (
            <Tooltip title="Change this comment">
              <IconButton size="small" aria-label={`Change the comment of ${locale().moment(comment.at)}`} onClick={() => setEdited(comment.text)}>
                <PencilSimpleIcon size={14} />
              </IconButton>
            </Tooltip>
          )}
          {mayRemove && (
            <Tooltip title="Remove this comment">
              <IconButton size="small" aria-label={`Remove the comment of ${by}, ${locale().moment(comment.at)}`} onClick={() => setAsking(true)}>
                <TrashIcon size={14} />
              </IconButton>
            </Tooltip>
          )}
        </span>
      )}
      {isAsking && (
        <Ask
          title="Remove this comment?"
          verb="Remove comment"
          keep="Cancel"
          onAnswer={(yes) => {
            setAsking(false);
            if (yes) attempt(onRemove(), () => undefined);
          }}
        >
          It can’t be restored.
        </Ask>
      )}
    </li>
  );
}

interface KeptText {
  readonly at: number;
  readonly text: string;
}

interface NewCommentProps extends Pick<CommentsAnswer, 'people' | 'findsAnyone'> {
  readonly params: { readonly app: string; readonly table: string; readonly id: number };
  readonly onAdded: () => Promise<void>;
}

function NewComment({ people, findsAnyone, params, onAdded }: NewCommentProps) {
  const { person } = useSession();
  // What is written and not sent yet is there again when one comes back.
  const name = `comment ${person?.id ?? ''} ${params.app} ${params.table} ${params.id}`;
  const [text, setWritten] = useState(() => readKept<KeptText>(name)?.text ?? '');
  const setText = (next: string): void => {
    setWritten(next);
    if (next.trim() === '') letGo(name);
    else keep<KeptText>(name, { at: Date.now(), text: next });
  };
  const [tell, setTell] = useState<NamedPerson[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  // One key for one comment: sent again after a lost answer it is still one.
  const [key, setKey] = useState(() => crypto.randomUUID());
  const add = async (): Promise<void> => {
    if (text.trim() === '' || isSending) return;
    setSending(true);
    setProblem(null);
    try {
      await call(contract.addComment, { params, body: { key, text, tell: tell.map((namedPerson) => namedPerson.mail) } });
      setText('');
      setTell([]);
      setKey(crypto.randomUUID());
      await onAdded();
    } catch (error) {
      setProblem(messageOf(error));
    }
    setSending(false);
  };
  return (
    <div className="new-comment">
      <TextField
        label="New comment"
        value={text}
        onChange={(event) => setText(event.target.value)}
        multiline
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
          // It is not the form beside it that is saved.
          event.preventDefault();
          event.stopPropagation();
          void add();
        }}
      />
      {text.trim() !== '' && (
        <>
          {(findsAnyone || people.length > 0) && <Told {...{ people, findsAnyone, tell }} app={params.app} onTell={setTell} />}
          <div>
            <Button variant="outlined" loading={isSending} onClick={() => void add()}>
              Add comment
            </Button>
          </div>
        </>
      )}
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </div>
  );
}

interface ToldProps extends Pick<CommentsAnswer, 'people' | 'findsAnyone'> {
  readonly app: string;
  readonly tell: NamedPerson[];
  readonly onTell: (tell: NamedPerson[]) => void;
}

/** Whom a mail tells of the comment: people of the app, or those who have said something here. */
function Told({ people, findsAnyone, app, tell, onTell }: ToldProps) {
  const [typed, setTyped] = useState('');
  const sought = useDeferredValue(typed);
  const found = useQuery({
    queryKey: keys.namedPeople(app, sought),
    queryFn: ({ signal }) => call(contract.lookUpPeople, { params: { app }, query: { text: sought }, signal }),
    enabled: findsAnyone,
    placeholderData: (before) => before,
  });
  const isSought = ({ name, mail }: NamedPerson): boolean => `${name} ${mail}`.toLowerCase().includes(typed.trim().toLowerCase());
  return (
    <Autocomplete<NamedPerson, true>
      {...pickerIcons}
      multiple
      options={findsAnyone ? (found.data?.people ?? []) : people.filter(isSought)}
      filterOptions={(all) => all}
      filterSelectedOptions
      // The same list as long as it is the same: another one would empty what is typed.
      value={tell}
      inputValue={typed}
      onInputChange={(_, input) => setTyped(input)}
      getOptionLabel={(person) => person.name}
      getOptionKey={(person) => person.mail}
      isOptionEqualToValue={(namedPerson, other) => namedPerson.mail === other.mail}
      getOptionDisabled={() => tell.length >= mostTold}
      onChange={(_, chosen) => onTell(chosen)}
      noOptionsText="Nobody of this app has such a name."
      renderInput={(input) => <TextField {...input} label="Tell by mail" />}
    />
  );
}
