import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { DotsThreeIcon, ListBulletsIcon, PlusIcon } from '@phosphor-icons/react';
import { contract, freeSlug, Label, slugOf, tones, type Choice, type Tone } from '@bibliona/core';
import { useEffect, useState, type ClipboardEvent } from 'react';
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
  type KindSettings,
  type SettingsProps,
  type StartProps,
} from './kind.js';
import { PickCell } from './cells.js';
import { ChosenLine, ToneMark } from './ChoiceMark.js';
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
      {offered(choices, [textOf(value)]).map((choice) => (
        <MenuItem key={choice.id} value={choice.id}>
          <ToneMark tone={choice.tone} />
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The choices that can be chosen: those that are retired only where they are held already. */
export const offered = (choices: readonly Choice[], held: readonly string[]): readonly Choice[] =>
  choices.filter((choice) => choice.retired !== true || held.includes(choice.id));

/** Choices for values that a field holds; what is too long for one, or has signs that no label has, is left out. */
export function choicesFrom(values: readonly string[]): readonly Choice[] {
  const choices: Choice[] = [];
  for (const label of values) {
    const id = freeSlug(
      label,
      choices.map((each) => each.id),
    );
    if (Label.safeParse(label).success) choices.push({ id, label });
  }
  return choices;
}

// The id of a choice whose label is being typed.
const draftId = /^choice_\d+(_\d+)?$/u;

/** New choices take the name that SQL sees from their label, once; renaming a choice later keeps it. */
function settled(choices: readonly Choice[]): Choice[] {
  // A choice that was merged has left its id to the one that it is now.
  const taken = choices.flatMap((choice) => choice.merged ?? []);
  return choices.map((choice) => {
    const id =
      draftId.test(choice.id) && slugOf(choice.label) !== choice.id
        ? freeSlug(choice.label, [...taken, ...choices.filter((each) => each !== choice).map((each) => each.id)])
        : choice.id;
    taken.push(id);
    return { ...choice, id };
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
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <>
      {found !== null && found.values.length > 0 && (
        <p className="q sm">
          {found.more
            ? `${field?.name ?? ''} has more values. Values that are not a choice become empty, and undo restores them.`
            : `These are the values in ${field?.name ?? ''}. Rename or remove them before you save.`}
        </p>
      )}
      <Choices
        choices={settings}
        saved={field !== undefined && 'choices' in field ? field.choices : []}
        onChange={onChange}
        problem={problem?.at === 'choices' ? problem.text : failure}
      />
    </>
  );
}

const typing = (choices: readonly Choice[]): Choice => ({
  id: freeSlug(
    `choice ${choices.length + 1}`,
    choices.map((each) => each.id),
  ),
  label: '',
});

function Choices({
  choices,
  saved,
  onChange,
  problem,
}: {
  readonly choices: readonly Choice[];
  /** Those that records can have. */
  readonly saved: readonly Choice[];
  readonly onChange: (choices: readonly Choice[]) => void;
  readonly problem: string | null;
}) {
  const add = (): void => onChange([...choices, typing(choices)]);
  const edit = (id: string, part: Partial<Choice>): void => onChange(choices.map((each) => (each.id === id ? { ...each, ...part } : each)));
  const move = (from: number, to: number): void => {
    const moved = choices[from];
    if (moved === undefined || to < 0 || to >= choices.length) return;
    const others = choices.filter((each) => each !== moved);
    onChange([...others.slice(0, to), moved, ...others.slice(to)]);
  };
  /** Takes one away, and says what records that have it get. A choice that was never saved is on no record. */
  const merge = (from: Choice, into: string): void => {
    const gone = [...(saved.some((each) => each.id === from.id) ? [from.id] : []), ...(from.merged ?? [])];
    onChange(
      choices
        .filter((each) => each !== from)
        .map((each) => (each.id === into && gone.length > 0 ? { ...each, merged: [...(each.merged ?? []), ...gone] } : each)),
    );
  };
  /** Several lines that are pasted are a choice each, from the one on in which they are pasted. */
  const paste = (event: ClipboardEvent, at: number): void => {
    const labels = event.clipboardData
      .getData('text/plain')
      .split(/[\r\n\t]+/u)
      .map((label) => label.trim())
      .filter((label) => label !== '');
    if (labels.length < 2) return;
    event.preventDefault();
    let all = choices.filter((each, i) => i !== at || each.label.trim() !== '');
    for (const label of labels) if (!all.some((each) => each.label.toLowerCase() === label.toLowerCase())) all = [...all, { ...typing(all), label }];
    onChange(all);
  };
  return (
    <fieldset className="choices">
      <legend>Choices</legend>
      {choices.map((choice, i) => (
        <div className={choice.retired === true ? 'row retired' : 'row'} key={choice.id}>
          <ToneMenu
            name={`Choice ${i + 1}`}
            tone={choice.tone}
            onPick={(tone) => onChange(choices.map((each) => (each === choice ? toned(each, tone) : each)))}
          />
          <TextField
            hiddenLabel
            value={choice.label}
            autoFocus={choice.label === '' && i === choices.length - 1}
            onChange={(event) => edit(choice.id, { label: event.target.value })}
            onPaste={(event) => paste(event, i)}
            onKeyDown={(event) => {
              if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
                event.preventDefault();
                move(i, event.key === 'ArrowUp' ? i - 1 : i + 1);
              }
              if (event.key !== 'Enter' || choice.label.trim() === '') return;
              event.preventDefault();
              add();
            }}
            slotProps={{ htmlInput: { 'aria-label': `Choice ${i + 1}` } }}
          />
          <ChoiceMenu
            name={`Choice ${i + 1}`}
            isRetired={choice.retired === true}
            others={choices.filter((each) => each !== choice && each.label.trim() !== '')}
            onMerge={(into) => merge(choice, into)}
            onUp={i > 0 ? () => move(i, i - 1) : null}
            onDown={i < choices.length - 1 ? () => move(i, i + 1) : null}
            onRetire={() => onChange(choices.map((each) => (each === choice ? retired(each) : each)))}
            onRemove={() => onChange(choices.filter((each) => each.id !== choice.id))}
          />
        </div>
      ))}
      <Button className="go" startIcon={<PlusIcon />} onClick={add}>
        Choice
      </Button>
      <p className="q sm">Paste several lines to add them all. Alt with an arrow key moves a choice.</p>
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </fieldset>
  );
}

/** A choice that is retired, or back again. */
const retired = ({ retired: is, ...choice }: Choice): Choice => (is === true ? choice : { ...choice, retired: true });

const toned = ({ tone: _, ...choice }: Choice, tone: Tone | undefined): Choice => (tone === undefined ? choice : { ...choice, tone });
const toneWords: Readonly<Record<Tone, string>> = {
  green: 'Green',
  gold: 'Gold',
  red: 'Red',
  blue: 'Blue',
  teal: 'Teal',
  violet: 'Violet',
  olive: 'Olive',
  grey: 'Grey',
};

/** The colour of a choice, and the way to another. */
function ToneMenu({ name, tone, onPick }: { readonly name: string; readonly tone: Tone | undefined; readonly onPick: (tone: Tone | undefined) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const pick = (picked: Tone | undefined) => (): void => {
    setAnchor(null);
    onPick(picked);
  };
  return (
    <>
      <IconButton
        aria-label={`${name}: colour, ${tone === undefined ? 'none' : toneWords[tone]}`}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {tone === undefined ? <i className="choice-mark" /> : <ToneMark tone={tone} />}
      </IconButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem onClick={pick(undefined)} selected={tone === undefined}>
          <i className="choice-mark" aria-hidden="true" />
          No colour
        </MenuItem>
        {tones.map((each) => (
          <MenuItem key={each} onClick={pick(each)} selected={each === tone}>
            <ToneMark tone={each} />
            {toneWords[each]}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function ChoiceMenu(props: {
  readonly name: string;
  readonly isRetired: boolean;
  readonly others: readonly Choice[];
  readonly onMerge: (into: string) => void;
  readonly onUp: (() => void) | null;
  readonly onDown: (() => void) | null;
  readonly onRetire: () => void;
  readonly onRemove: () => void;
}) {
  const { name, isRetired, others, onMerge, onUp, onDown, onRetire, onRemove } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [isMerging, setMerging] = useState(false);
  const close = (): void => (setAnchor(null), setMerging(false));
  const item = (label: string, act: () => void, hint?: string) => (
    <MenuItem
      key={label}
      onClick={() => {
        close();
        act();
      }}
    >
      <span>
        {label}
        {hint !== undefined && <span className="q sm menu-hint">{hint}</span>}
      </span>
    </MenuItem>
  );
  return (
    <>
      <IconButton aria-label={`${name}: more`} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        <DotsThreeIcon size={16} />
      </IconButton>
      <Menu anchorEl={anchor} open={anchor !== null && isMerging} onClose={close} aria-label={`Merge ${name} into`}>
        {others.map((other) => item(other.label, () => onMerge(other.id)))}
      </Menu>
      <Menu anchorEl={anchor} open={anchor !== null && !isMerging} onClose={close}>
        {onUp !== null && item('Move up', onUp)}
        {onDown !== null && item('Move down', onDown)}
        {isRetired ? item('Offer it again', onRetire) : item('Retire', onRetire, 'Stays on records that have it, and is no longer offered.')}
        {others.length > 0 && (
          <MenuItem onClick={() => setMerging(true)}>
            <span>
              Merge into …<span className="q sm menu-hint">Records that have it get the other choice.</span>
            </span>
          </MenuItem>
        )}
        {item('Remove', onRemove, 'Records that have it lose it.')}
      </Menu>
    </>
  );
}

/** The settings of a kind that has choices. */
export const choiceSettings = (): KindSettings =>
  settingsOf<readonly Choice[]>({
    start: (field) => (field?.kind === 'choice' || field?.kind === 'several_choices' ? field.choices : []),
    Editor: ChoiceSettings,
    read: (drafts) => {
      const filled = drafts.filter((draft) => draft.label.trim() !== '');
      if (filled.length === 0) return { ok: false, problem: { at: 'choices', text: 'Add at least one choice.' } };
      const choices = settled(filled);
      const startOf = (id: string): string =>
        choices[filled.findIndex((each) => each.id === id)]?.id ?? choices.find((each) => each.merged?.includes(id))?.id ?? '';
      return { ok: true, plan: { choices }, startOf };
    },
  });

export const choice: FieldKindView<FieldOf<'choice'>> = {
  Icon: ListBulletsIcon,
  Input: OneChoice,
  Shown: ChosenLine,
  CellEditor: (props) => (
    <PickCell {...props} options={offered(props.field.choices, [textOf(props.value)]).map((each) => ({ value: each.id, label: each.label }))} />
  ),
  picture: 'parts',
  words: (field) => `${field.choices.length} ${field.choices.length === 1 ? 'choice' : 'choices'}`,
  settings: choiceSettings(),
  start: {
    Input: (props: StartProps) => (
      <PickedStart {...props} options={(props.settings as readonly Choice[]).map((setting) => [setting.id, setting.label] as const)} />
    ),
    computed: '',
  },
  picks: (field) => field.choices.map((each) => ({ id: each.id, name: each.label, expression: JSON.stringify(each.label) })),
  hint: anExpression,
  canConvert: true,
};
