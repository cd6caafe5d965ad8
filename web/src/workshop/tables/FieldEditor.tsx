import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowLeftIcon, FunctionIcon, PlusIcon, TrashIcon, XIcon } from '@phosphor-icons/react';
import {
  contract,
  fieldKinds,
  freeSlug,
  kinds,
  usesOf,
  wantedDefault,
  wants,
  type AppDesign,
  type Choice,
  type Field,
  type FieldKind,
  type Table,
} from '@bibliona/core';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { KindIcon } from '../../ui/KindIcon.js';
import { Note } from '../../ui/Note.js';
import { calculationExample } from '../expression/examples.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { choicesOf, draftOfField, planOfDraft, type FieldDraft } from './field-draft.js';

/** A field's own settings; for a new one the same, beginning with what it is called. */
export function FieldEditor({ table, field, onDone }: { readonly table: Table; readonly field: Field | undefined; readonly onDone: () => void }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [draft, setDraft] = useState<FieldDraft>(() => draftOfField(field));
  const [problem, setProblem] = useState<{ readonly at: string; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  const [found, setFound] = useState<{ readonly values: readonly string[]; readonly more: boolean } | null>(null);
  const relationship = app.design.relationships.find((one) => one.field === field?.id);
  const parent = app.design.tables.find((one) => one.id === relationship?.parent);
  const edit = (part: Partial<FieldDraft>): void => {
    setDraft({ ...draft, ...part });
    setProblem(null);
  };
  const isReference = field?.kind === 'reference';
  const send = async (): Promise<void> => {
    const plan = planOfDraft(draft, field?.id ?? newId('f'));
    if (!plan.ok) return setProblem(plan.problem);
    setSending(true);
    const changed = await change(
      field === undefined ? { kind: 'add_field', table: table.id, field: plan.plan } : { kind: 'change_field', table: table.id, field: plan.plan },
      ...(relationship === undefined
        ? []
        : [
            {
              kind: 'change_relationship' as const,
              relationship: relationship.id,
              childrenName: draft.childrenName || relationship.childrenName,
              whenParentRemoved: draft.whenParentRemoved ?? relationship.whenParentRemoved,
            },
          ]),
    );
    setSending(false);
    if (changed === true) onDone();
    else setProblem({ at: 'form', text: changed });
  };
  const remove = async (): Promise<void> => {
    if (field === undefined) return;
    const outcome = await change({ kind: 'remove_field', table: table.id, field: field.id });
    if (outcome === true) onDone();
    else setProblem({ at: 'form', text: outcome });
  };
  /** A text field that becomes a choice begins with the values that it holds. */
  const offerChoices = async (): Promise<void> => {
    if ((field?.kind !== 'text' && field?.kind !== 'long_text') || draft.choices.length > 0) return;
    try {
      const found = await call(contract.readFrequent, { params: { app: app.id, table: table.id, field: field.id } });
      setFound(found);
      setDraft((now) => (now.kind === 'choice' && now.choices.length === 0 ? { ...now, choices: choicesOf(found.values) } : now));
    } catch (error) {
      setProblem({ at: 'choices', text: messageOf(error) });
    }
  };
  const at = (place: string) => (problem?.at === place ? { error: true, helperText: problem.text } : {});
  return (
    <>
      <header>
        <div className="kind">
          <IconButton size="small" aria-label={`Back to ${table.name}`} onClick={onDone}>
            <ArrowLeftIcon size={14} />
          </IconButton>
          {field === undefined ? `New field of ${table.name}` : `Field of ${table.name}`}
        </div>
        {field !== undefined && <h2>{field.name}</h2>}
      </header>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
        noValidate
      >
        <TextField
          label="Name"
          value={draft.name}
          autoFocus={field === undefined}
          required
          onChange={(event) => edit({ name: event.target.value })}
          {...(field !== undefined && draft.name !== field.name ? { helperText: followersOf(app.design, field.id) } : {})}
          {...at('name')}
        />
        {isReference ? (
          <>
            <p className="q">
              Names one record of <b>{parent?.name}</b>.
            </p>
            <TextField
              label={`Its list on ${parent?.name ?? ''}`}
              value={draft.childrenName || (relationship?.childrenName ?? '')}
              onChange={(event) => edit({ childrenName: event.target.value })}
            />
            <TextField
              select
              label={`When a record of ${parent?.name ?? ''} is removed`}
              value={draft.whenParentRemoved ?? relationship?.whenParentRemoved ?? 'refuse'}
              onChange={(event) => edit({ whenParentRemoved: event.target.value as NonNullable<FieldDraft['whenParentRemoved']> })}
            >
              <MenuItem value="refuse">it is refused while it has any</MenuItem>
              {!draft.required && <MenuItem value="clear">they stay, without it</MenuItem>}
              <MenuItem value="remove">they are removed with it</MenuItem>
            </TextField>
          </>
        ) : (
          <TextField
            select
            label="Kind"
            value={draft.kind}
            disabled={field?.kind === 'formula'}
            onChange={(event) => {
              edit({ kind: event.target.value as FieldKind, default: '', computed: null, digits: event.target.value === 'formula' ? '' : '2' });
              if (event.target.value === 'choice') void offerChoices();
            }}
            slotProps={{ select: { renderValue: (kind) => kinds[kind as FieldKind].name } }}
          >
            {fieldKinds
              .filter((kind) => kind !== 'reference' && (kind !== 'formula' || field === undefined || field.kind === 'formula'))
              .map((kind) => (
                <MenuItem key={kind} value={kind} className="kind-item">
                  <KindIcon kind={kind} />
                  <span>{kinds[kind].name}</span>
                  <span className="k">{kinds[kind].says}</span>
                </MenuItem>
              ))}
          </TextField>
        )}
        {draft.kind === 'formula' && (
          <ExpressionEditor
            label="Worked out as"
            value={draft.expression}
            onChange={(expression) => edit({ expression })}
            scope={{ design: app.design, table: table.id }}
            wanted={wants.plain}
            hint={`Fields of ${table.name}, joined by signs and functions, such as ${calculationExample(app.design, table.id) ?? 'today()'}.`}
            problem={problem?.at === 'expression' ? problem.text : undefined}
          />
        )}
        {(draft.kind === 'decimal' || draft.kind === 'formula') && (
          <TextField
            label="Digits after the point"
            type="number"
            value={draft.digits}
            {...(draft.kind === 'formula' ? { helperText: 'Nothing: as many as there are.' } : {})}
            onChange={(event) => edit({ digits: event.target.value })}
            {...at('digits')}
          />
        )}
        {draft.kind === 'choice' && found !== null && found.values.length > 0 && (
          <p className="q sm">
            {found.more
              ? `${field?.name ?? ''} has more different values than these. A value that is no choice is emptied and kept.`
              : `These are the values in ${field?.name ?? ''}. Rename or remove them before you save.`}
          </p>
        )}
        {draft.kind === 'choice' && (
          <Choices choices={draft.choices} onChange={(choices) => edit({ choices })} problem={problem?.at === 'choices' ? problem.text : null} />
        )}
        {draft.kind !== 'formula' && (
          <div className="ticks">
            <FormControlLabel control={<Checkbox checked={draft.required} onChange={(_, required) => edit({ required })} />} label="Must be filled" />
            {!['long_text', 'yes_no', 'choice'].includes(draft.kind) && (
              <FormControlLabel control={<Checkbox checked={draft.unique} onChange={(_, unique) => edit({ unique })} />} label="No two records share a value" />
            )}
          </div>
        )}
        <Default draft={draft} onChange={edit} problem={problem?.at === 'default' ? problem.text : undefined} />
        <TextField
          label="Explanation"
          value={draft.description}
          onChange={(event) => edit({ description: event.target.value })}
          multiline
          helperText="Stands below the field in the form."
        />
        {problem?.at === 'form' && <Note kind="bad">{problem.text}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="contained" loading={isSending}>
            {field === undefined ? 'Add the field' : 'Save'}
          </Button>
          {field !== undefined && (
            <Button startIcon={<TrashIcon />} onClick={() => void remove()}>
              Remove field
            </Button>
          )}
        </div>
      </form>
    </>
  );
}

/** What is rewritten when a field gets another name. */
function followersOf(design: AppDesign, field: string): string | undefined {
  const places = usesOf(design, field).map((one) => one.says);
  return places.length === 0 ? undefined : `Its name is rewritten in ${places.join(', ')}.`;
}

/** What a new record starts with: a value, or something that is worked out. */
function Default({
  draft,
  onChange,
  problem,
}: {
  readonly draft: FieldDraft;
  readonly onChange: (part: Partial<FieldDraft>) => void;
  readonly problem: string | undefined;
}) {
  const { design } = useApp();
  if (draft.kind === 'reference' || draft.kind === 'formula') return null;
  if (draft.computed === null) {
    return (
      <div className="start">
        <DefaultInput
          draft={draft}
          onChange={(value) => onChange({ default: value })}
          {...(problem === undefined ? {} : { error: true, helperText: problem })}
        />
        <Button size="small" className="go" startIcon={<FunctionIcon />} onClick={() => onChange({ computed: draft.kind === 'date' ? 'today()' : '' })}>
          Work it out
        </Button>
      </div>
    );
  }
  return (
    <div className="start">
      <ExpressionEditor
        label="A new record starts with"
        value={draft.computed}
        onChange={(computed) => onChange({ computed })}
        scope={{ design, table: null }}
        wanted={wantedDefault(draft.kind)}
        hint="For example today() or me.Name."
        problem={problem}
        proof={false}
      />
      <Button size="small" className="go" onClick={() => onChange({ computed: null })}>
        A value instead
      </Button>
    </div>
  );
}

function DefaultInput(props: {
  readonly draft: FieldDraft;
  readonly onChange: (value: string) => void;
  readonly error?: boolean;
  readonly helperText?: string;
}) {
  const { draft, onChange, ...rest } = props;
  const shared = {
    label: 'A new record starts with',
    value: draft.default,
    onChange: (event: { target: { value: string } }) => onChange(event.target.value),
    ...rest,
  };
  switch (draft.kind) {
    case 'reference':
    case 'formula':
      return null;
    case 'yes_no':
      return (
        <TextField select {...shared}>
          <MenuItem value="">nothing</MenuItem>
          <MenuItem value="yes">yes</MenuItem>
          <MenuItem value="no">no</MenuItem>
        </TextField>
      );
    case 'choice':
      return (
        <TextField select {...shared}>
          <MenuItem value="">nothing</MenuItem>
          {draft.choices.map((choice) => (
            <MenuItem key={choice.id} value={choice.id}>
              {choice.label}
            </MenuItem>
          ))}
        </TextField>
      );
    case 'date':
      return <TextField {...shared} helperText={rest.helperText ?? 'A date, or the word today.'} />;
    case 'text':
    case 'long_text':
    case 'whole':
    case 'decimal':
      return <TextField {...shared} />;
    default:
      return draft.kind satisfies never;
  }
}

function Choices({
  choices,
  onChange,
  problem,
}: {
  readonly choices: readonly Choice[];
  readonly onChange: (choices: readonly Choice[]) => void;
  readonly problem: string | null;
}) {
  const add = (): void =>
    onChange([
      ...choices,
      {
        id: freeSlug(
          `choice ${choices.length + 1}`,
          choices.map((one) => one.id),
        ),
        label: '',
      },
    ]);
  return (
    <fieldset className="choices">
      <legend>Choices</legend>
      {choices.map((choice, i) => (
        <div className="row" key={choice.id}>
          <TextField
            hiddenLabel
            value={choice.label}
            autoFocus={choice.label === '' && i === choices.length - 1}
            onChange={(event) => onChange(choices.map((one) => (one.id === choice.id ? { ...one, label: event.target.value } : one)))}
            onKeyDown={(event) => {
              if (event.key !== 'Enter' || choice.label.trim() === '') return;
              event.preventDefault();
              add();
            }}
            slotProps={{ htmlInput: { 'aria-label': `Choice ${i + 1}` } }}
          />
          <IconButton aria-label={`Remove choice ${i + 1}`} onClick={() => onChange(choices.filter((one) => one.id !== choice.id))}>
            <XIcon size={14} />
          </IconButton>
        </div>
      ))}
      <Button className="go" startIcon={<PlusIcon />} onClick={add}>
        Choice
      </Button>
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </fieldset>
  );
}
