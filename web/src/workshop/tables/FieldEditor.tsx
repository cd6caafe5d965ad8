import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowLeftIcon, FunctionIcon, TrashIcon } from '@phosphor-icons/react';
import { fieldKindNames, fieldKinds, formFor, usesOf, type AppDesign, type Field, type FieldKind, type NamedRecord, type Table } from '@bibliona/core';
import { Suspense, useState } from 'react';
import { fieldViews } from '../../fields/kinds.js';
import type { DraftProblem } from '../../fields/kind.js';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { KindIcon } from '../../fields/KindIcon.js';
import { Note } from '../../ui/Note.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { WhereUsed } from '../parts/WhereUsed.js';
import { FieldRearrange } from '../rearrange/FieldRearrange.js';
import { RecordLinks } from '../RecordLinks.js';
import { canStartWithLast, draftOfField, isEntered, planOfDraft, takesPlaceholder, type FieldDraft } from './field-draft.js';

/** Parts of a line of the form, in twelfths. */
const widths: Readonly<Record<number, string>> = {
  2: 'a sixth',
  3: 'a quarter',
  4: 'a third',
  6: 'half a line',
  8: 'two thirds',
  9: 'three quarters',
  12: 'a whole line',
};

/** A field's own settings; for a new one the same, beginning with what it is called. */
export function FieldEditor({ table, field, onDone }: { readonly table: Table; readonly field: Field | undefined; readonly onDone: () => void }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [draft, setDraft] = useState<FieldDraft>(() => draftOfField(field));
  const [problem, setProblem] = useState<(DraftProblem & { readonly records?: readonly NamedRecord[] }) | null>(null);
  const [isSending, setSending] = useState(false);
  const relationship = app.design.relationships.find((each) => each.field === field?.id);
  const parent = app.design.tables.find((each) => each.id === relationship?.parent);
  const edit = (part: Partial<FieldDraft>): void => {
    setDraft({ ...draft, ...part });
    setProblem(null);
  };
  const isReference = field?.kind === 'reference';
  const form = formFor(app.design, table.id);
  const [item] = form.items.flatMap((each) => (each.kind === 'field' && each.field === field?.id ? [each] : []));
  const width = draft.formWidth;
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
              ...(draft.neverOwn === null ? {} : { neverOwn: draft.neverOwn }),
            },
          ]),
      ...(item === undefined || width === null || width === item.width
        ? []
        : [{ kind: 'put' as const, part: 'form' as const, value: { ...form, items: form.items.map((each) => (each === item ? { ...item, width } : each)) } }]),
    );
    setSending(false);
    if (changed === true) onDone();
    else setProblem({ at: 'form', text: changed.text, records: changed.records });
  };
  const remove = async (): Promise<void> => {
    if (field === undefined) return;
    const outcome = await change({ kind: 'remove_field', table: table.id, field: field.id });
    if (outcome === true) onDone();
    else setProblem({ at: 'form', text: outcome.text, records: outcome.records });
  };
  const { Editor: Settings } = fieldViews[draft.kind].settings;
  const at = (place: string) => (problem?.at === place ? { error: true, helperText: problem.text } : {});
  return (
    <>
      <header>
        <div className="kind">
          <IconButton size="small" aria-label={`Back to ${table.name}`} onClick={onDone}>
            <ArrowLeftIcon size={14} />
          </IconButton>
          {field === undefined ? `New field of ${table.name}` : `Field of ${table.name}`}
          {field !== undefined && <WhereUsed to="field" id={field.id} />}
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
              {!draft.required && <MenuItem value="clear">they stay, without the link</MenuItem>}
              <MenuItem value="remove">they are removed with it</MenuItem>
            </TextField>
          </>
        ) : (
          <TextField
            select
            label="Kind"
            value={draft.kind}
            disabled={field !== undefined && !fieldViews[field.kind].canConvert}
            onChange={(event) => {
              const kind = event.target.value as FieldKind;
              edit({ kind, default: '', computed: null, settings: fieldViews[kind].settings.start(field) });
            }}
            slotProps={{ select: { renderValue: (kind) => fieldKinds[kind as FieldKind].word } }}
          >
            {fieldKindNames
              .filter((kind) => kind !== 'reference' && (fieldViews[kind].canConvert || field === undefined || field.kind === kind))
              .map((kind) => (
                <MenuItem key={kind} value={kind} className="kind-item">
                  <KindIcon kind={kind} />
                  <span>{fieldKinds[kind].word}</span>
                  <span className="k">{fieldKinds[kind].description}</span>
                </MenuItem>
              ))}
          </TextField>
        )}
        {Settings !== null && (
          <Suspense>
            <Settings key={draft.kind} settings={draft.settings} onChange={(settings) => edit({ settings })} table={table} field={field} problem={problem} />
          </Suspense>
        )}
        {isEntered(draft.kind) && (
          <div className="ticks">
            <FormControlLabel control={<Checkbox checked={draft.required} onChange={(_, required) => edit({ required })} />} label="Required" />
            {fieldKinds[draft.kind].traits.canBeUnique && (
              <FormControlLabel control={<Checkbox checked={draft.unique} onChange={(_, unique) => edit({ unique })} />} label="Unique" />
            )}
            {draft.kind === 'text' && draft.unique && (
              <FormControlLabel
                control={<Checkbox checked={draft.anyCase} onChange={(_, anyCase) => edit({ anyCase })} />}
                label="“Oak” and “OAK” are the same"
              />
            )}
            <FormControlLabel control={<Checkbox checked={draft.fixed} onChange={(_, fixed) => edit({ fixed })} />} label="Can't be changed after saving" />
            {canStartWithLast(draft) && (
              <FormControlLabel
                control={<Checkbox checked={draft.startsWithLast} onChange={(_, startsWithLast) => edit({ startsWithLast })} />}
                label="Begins with what the person entered last"
              />
            )}
            {fieldKinds[draft.kind].traits.canBeIndexed && !draft.unique && (
              <FormControlLabel
                control={<Checkbox checked={draft.indexed} onChange={(_, indexed) => edit({ indexed })} />}
                label="Quick to filter and sort by (indexed)"
              />
            )}
            {relationship !== undefined && relationship.parent === relationship.child && (
              <FormControlLabel
                control={<Checkbox checked={!(draft.neverOwn ?? relationship.neverOwn ?? false)} onChange={(_, mayBeOwn) => edit({ neverOwn: !mayBeOwn })} />}
                label="A record can be its own"
              />
            )}
          </div>
        )}
        <Default draft={draft} onChange={edit} problem={problem?.at === 'default' ? problem.text : undefined} />
        {takesPlaceholder(draft.kind) && (
          <TextField
            label="Placeholder"
            value={draft.placeholder}
            onChange={(event) => edit({ placeholder: event.target.value })}
            helperText="Shown in grey until something is typed."
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
        )}
        <TextField
          label="Help text"
          value={draft.description}
          onChange={(event) => edit({ description: event.target.value })}
          multiline
          helperText="Shown below the field in the form."
        />
        <div className="beside">
          {item !== undefined && (
            <TextField
              select
              label="Width in the form"
              value={draft.formWidth ?? item.width}
              onChange={(event) => edit({ formWidth: Number(event.target.value) })}
            >
              {Object.entries(widths).map(([width, words]) => (
                <MenuItem key={width} value={Number(width)}>
                  {words}
                </MenuItem>
              ))}
              {!(item.width in widths) && <MenuItem value={item.width}>{item.width} twelfths</MenuItem>}
            </TextField>
          )}
          <TextField
            label="Width in lists"
            type="number"
            value={draft.listWidth}
            onChange={(event) => edit({ listWidth: event.target.value })}
            helperText="In pixels. Empty: as wide as what is in it."
            {...at('listWidth')}
          />
        </div>
        {problem?.at === 'form' && (
          <div ref={(note) => note?.scrollIntoView({ block: 'nearest' })}>
            <Note kind="bad">
              {problem.text}
              <RecordLinks records={problem.records ?? []} />
            </Note>
          </div>
        )}
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
      {field !== undefined && <FieldRearrange table={table} field={field} />}
    </>
  );
}

/** What is rewritten when a field gets another name. */
function followersOf(design: AppDesign, field: string): string | undefined {
  const places = usesOf(design, field).map((use) => use.label);
  return places.length === 0 ? undefined : `Its name is rewritten in ${places.join(', ')}.`;
}

/** What a new record starts with: a value, or something that is computed. */
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
  const { start } = fieldViews[draft.kind];
  if (start === null) return null;
  const label = 'Default value';
  if (draft.computed === null) {
    return (
      <div className="start">
        <start.Input
          label={label}
          value={draft.default}
          settings={draft.settings}
          onChange={(value) => onChange({ default: value })}
          {...(problem === undefined ? {} : { error: true, helperText: problem })}
        />
        <Button size="small" className="go" startIcon={<FunctionIcon />} onClick={() => onChange({ computed: start.computed })}>
          Use an expression
        </Button>
      </div>
    );
  }
  return (
    <div className="start">
      <ExpressionEditor
        label={label}
        value={draft.computed}
        onChange={(computed) => onChange({ computed })}
        scope={{ design, table: null }}
        wanted={fieldKinds[draft.kind].feel.wanted}
        hint="For example today() or me.Name."
        problem={problem}
        proof={false}
      />
      <Button size="small" className="go" onClick={() => onChange({ computed: null })}>
        Use a value
      </Button>
    </div>
  );
}
