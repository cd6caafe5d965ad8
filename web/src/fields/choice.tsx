import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ListBulletsIcon, PlusIcon, XIcon } from '@phosphor-icons/react';
import { contract, freeSlug, Label, slugOf, type Choice } from '@bibliona/core';
import { useEffect, useState } from 'react';
import { call, messageOf } from '../state/api.js';
import { useApp } from '../state/app.js';
import { Note } from '../ui/Note.js';
import {
  anExpression,
  settingsOf,
  shared,
  textOf,
  type FieldInputProps,
  type FieldKindView,
  type FieldOf,
  type SettingsProps,
  type StartProps,
} from './kind.js';
import { PickCell } from './cells.js';
import { PickedStart } from './start.js';

function OneChoice(props: FieldInputProps<FieldOf<'choice'>>) {
  const { field, value, onChange } = props;
  const { choices } = field;
  const isKnown = choices.some((choice) => choice.id === value);
  return (
    <TextField
      {...shared(props)}
      select
      value={textOf(value)}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ select: { SelectDisplayProps: props.isInRow ? { 'aria-label': field.name } : {} } }}
    >
      <MenuItem value="">&nbsp;</MenuItem>
      {!isKnown && textOf(value) !== '' && <MenuItem value={textOf(value)}>{textOf(value)}</MenuItem>}
      {choices.map((choice) => (
        <MenuItem key={choice.id} value={choice.id}>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Choices for values that a field holds; what is too long for one, or has signs that no label has, is left out. */
export function choicesFrom(values: readonly string[]): readonly Choice[] {
  const choices: Choice[] = [];
  for (const label of values) {
    const id = freeSlug(
      label,
      choices.map((one) => one.id),
    );
    if (Label.safeParse(label).success) choices.push({ id, label });
  }
  return choices;
}

// The id of a choice whose label is being typed.
const draftId = /^choice_\d+(_\d+)?$/u;

/** New choices take the name that SQL sees from their label, once; renaming a choice later keeps it. */
function settled(choices: readonly Choice[]): Choice[] {
  const taken: string[] = [];
  return choices.map((choice) => {
    const id =
      draftId.test(choice.id) && slugOf(choice.label) !== choice.id
        ? freeSlug(choice.label, [...taken, ...choices.filter((one) => one !== choice).map((one) => one.id)])
        : choice.id;
    taken.push(id);
    return { id, label: choice.label };
  });
}

/** The choices of a field; a text field that becomes a choice begins with the values that it holds. */
function ChoiceSettings({ settings, onChange, table, field, problem }: SettingsProps<readonly Choice[]>) {
  const app = useApp();
  const [found, setFound] = useState<{ readonly values: readonly string[]; readonly more: boolean } | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const wasText = field?.kind === 'text' || field?.kind === 'long_text' ? field.id : null;
  useEffect(() => {
    if (wasText === null || settings.length > 0) return;
    let isHere = true;
    call(contract.readFrequent, { params: { app: app.id, table: table.id, field: wasText } }).then(
      (answer) => {
        if (!isHere) return;
        setFound(answer);
        onChange(choicesFrom(answer.values));
      },
      (error: unknown) => isHere && setFailure(messageOf(error)),
    );
    return () => {
      isHere = false;
    };
    // Asked once, when the field becomes a choice.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <>
      {found !== null && found.values.length > 0 && (
        <p className="q sm">
          {found.more
            ? `${field?.name ?? ''} has more more values. Values that are not a choice become empty, and undo restores them.`
            : `These are the values in ${field?.name ?? ''}. Rename or remove them before you save.`}
        </p>
      )}
      <Choices choices={settings} onChange={onChange} problem={problem?.at === 'choices' ? problem.text : failure} />
    </>
  );
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

export const choice: FieldKindView<FieldOf<'choice'>> = {
  Icon: ListBulletsIcon,
  Input: OneChoice,
  CellEditor: (props) => <PickCell {...props} options={props.field.choices.map((one) => ({ value: one.id, label: one.label }))} />,
  picture: 'parts',
  words: (field) => `${field.choices.length} ${field.choices.length === 1 ? 'choice' : 'choices'}`,
  settings: settingsOf<readonly Choice[]>({
    start: (field) => (field?.kind === 'choice' ? field.choices : []),
    Editor: ChoiceSettings,
    read: (drafts) => {
      const filled = drafts.filter((draft) => draft.label.trim() !== '');
      if (filled.length === 0) return { ok: false, problem: { at: 'choices', text: 'Add at least one choice.' } };
      const choices = settled(filled);
      return { ok: true, plan: { choices }, startOf: (id) => choices[filled.findIndex((one) => one.id === id)]?.id ?? '' };
    },
  }),
  start: {
    Input: (props: StartProps) => (
      <PickedStart {...props} options={(props.settings as readonly Choice[]).map((setting) => [setting.id, setting.label] as const)} />
    ),
    computed: '',
  },
  picks: (field) => field.choices.map((one) => ({ id: one.id, name: one.label, expression: JSON.stringify(one.label) })),
  hint: anExpression,
  canConvert: true,
};
