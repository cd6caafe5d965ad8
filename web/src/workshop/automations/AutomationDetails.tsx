import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowDownIcon, ArrowUpIcon, TrashIcon } from '@phosphor-icons/react';
import { routeOf, tableOf, triggers, wants, type Automation, type Step } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { TableField } from '../parts/TableField.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { editStep, fieldsToFill, movedStep, stepKinds, withoutStep, withTable, type Spot } from './automation-draft.js';
import { MergeTextEditor } from './MergeTextEditor.js';
import { StepValues } from './StepValues.js';

interface PartProps {
  readonly automation: Automation;
  readonly onChange: (automation: Automation) => void;
  readonly onSpot: (spot: Spot) => void;
}

/** The settings of what is chosen on the sheet. */
export function AutomationDetails(props: PartProps & { readonly spot: Spot; readonly onRemove: () => void }) {
  const { automation, spot } = props;
  const step = spot.kind === 'step' ? automation.steps.find((one) => one.id === spot.id) : undefined;
  if (step !== undefined) return <StepPart key={step.id} {...props} step={step} />;
  if (spot.kind === 'trigger') return <TriggerPart {...props} />;
  if (spot.kind === 'condition') return <ConditionPart {...props} />;
  return <AutomationPart {...props} />;
}

function AutomationPart({ automation, onChange, onRemove }: PartProps & { readonly onRemove: () => void }) {
  const set = (part: Partial<Automation>): void => onChange({ ...automation, ...part });
  return (
    <>
      <DetailsHead kind="Automation" title={automation.name} />
      <div className="details-body details-form">
        <FormControlLabel
          control={<Checkbox checked={automation.isOn} onChange={(_, isOn) => set({ isOn })} />}
          label={automation.isOn ? 'On: it runs from the next save' : "Off: it doesn't run"}
        />
        <TextField label="Name" value={automation.name} onChange={(event) => set({ name: event.target.value })} required />
        <TextField label="What it is for" value={automation.description} onChange={(event) => set({ description: event.target.value })} multiline />
        <TextField label="Section of the shelf" value={automation.section} onChange={(event) => set({ section: event.target.value })} />
        <p className="q sm">
          Runs with full access, whoever saves the record. If a step fails, the whole save is cancelled and the person sees why. Imports don't trigger it.
        </p>
        <div className="details-foot">
          <Button startIcon={<TrashIcon />} onClick={onRemove}>
            Remove automation
          </Button>
        </div>
      </div>
    </>
  );
}

const triggerNames: Readonly<Record<Automation['on'], string>> = {
  added: 'a record is added',
  changed: 'a record is changed',
  moved: 'a record is moved on its route',
};

function TriggerPart({ automation, onChange }: PartProps) {
  const { design } = useApp();
  const table = tableOf(design, automation.table);
  const moves = routeOf(design, table.id)?.moves ?? [];
  const several = (
    label: string,
    none: string,
    options: readonly { readonly id: string; readonly name: string }[],
    chosen: readonly string[],
    set: (ids: string[]) => void,
  ) => (
    <Autocomplete
      {...pickerIcons}
      multiple
      options={options.map((one) => one.id)}
      getOptionLabel={(id) => options.find((one) => one.id === id)?.name ?? ''}
      value={[...chosen]}
      onChange={(_, ids) => set(ids)}
      renderInput={(params) => <TextField {...params} label={label} helperText={chosen.length === 0 ? none : undefined} />}
    />
  );
  return (
    <>
      <DetailsHead kind="Trigger" title={table.name} />
      <div className="details-body details-form">
        <TextField
          select
          label="When"
          value={automation.on}
          onChange={(event) => onChange({ ...automation, on: event.target.value as Automation['on'], fields: [], moves: [] })}
          helperText={moves.length === 0 ? 'Add a route to the table to trigger it by a move.' : undefined}
        >
          {triggers
            .filter((one) => one !== 'moved' || moves.length > 0)
            .map((one) => (
              <MenuItem key={one} value={one}>
                {triggerNames[one]}
              </MenuItem>
            ))}
        </TextField>
        {automation.on === 'changed' &&
          several(
            'Only when these fields change',
            'Empty: when any field changes.',
            [...table.fields.filter((field) => field.kind !== 'formula')],
            automation.fields,
            (fields) => onChange({ ...automation, fields }),
          )}
        {automation.on === 'moved' &&
          several('Only by these moves', 'Empty: every move of the route.', moves, automation.moves, (chosen) => onChange({ ...automation, moves: chosen }))}
      </div>
    </>
  );
}

function ConditionPart({ automation, onChange }: PartProps) {
  const { design } = useApp();
  return (
    <>
      <DetailsHead kind="Condition" title="Only when" />
      <div className="details-body details-form">
        <ConditionEditor
          label="Only when"
          value={automation.condition}
          onChange={(condition) => onChange({ ...automation, condition })}
          scope={{ design, table: automation.table }}
          hint="Empty: for every record. It is checked after the save."
        />
      </div>
    </>
  );
}

function StepPart(props: PartProps & { readonly step: Step }) {
  const { automation, onChange, onSpot, step } = props;
  const { design } = useApp();
  const at = automation.steps.findIndex((one) => one.id === step.id);
  const edit = (next: Step): void => onChange(editStep(automation, next));
  return (
    <>
      <header>
        <div className="kind">
          Step {at + 1} of {automation.steps.length}
        </div>
        <div className="step-head">
          <h2 className="grow">{stepKinds[step.kind]}</h2>
          <IconButton size="small" aria-label="Earlier" disabled={at === 0} onClick={() => onChange(movedStep(automation, step.id, -1))}>
            <ArrowUpIcon size={14} />
          </IconButton>
          <IconButton size="small" aria-label="Later" disabled={at === automation.steps.length - 1} onClick={() => onChange(movedStep(automation, step.id, 1))}>
            <ArrowDownIcon size={14} />
          </IconButton>
        </div>
      </header>
      <div className="details-body details-form">
        {step.kind === 'add' && (
          <TableField
            label="To the table"
            value={design.tables.some((one) => one.id === step.table) ? step.table : ''}
            tables={design.tables.filter((one) => fieldsToFill(one, design).length > 0)}
            onChange={(id) => edit(withTable({ ...step, table: id }, automation, design))}
          />
        )}
        {step.kind === 'mail' ? (
          <MailPart automation={automation} step={step} onChange={edit} />
        ) : (
          design.tables.some((one) => one.id === (step.kind === 'add' ? step.table : automation.table)) && (
            <StepValues
              automation={automation}
              table={step.kind === 'add' ? step.table : automation.table}
              values={step.values}
              onChange={(values) => edit({ ...step, values })}
            />
          )
        )}
        <div className="details-foot">
          <Button
            startIcon={<TrashIcon />}
            onClick={() => {
              onChange(withoutStep(automation, step.id));
              onSpot({ kind: 'automation' });
            }}
          >
            Remove step
          </Button>
        </div>
      </div>
    </>
  );
}

const toAddress = 'address';

function MailPart(props: { readonly automation: Automation; readonly step: Extract<Step, { kind: 'mail' }>; readonly onChange: (step: Step) => void }) {
  const { automation, step, onChange } = props;
  const { design, me } = useApp();
  const scope = { design, table: automation.table };
  return (
    <>
      <TextField
        select
        label="To"
        value={step.to.kind === 'role' ? step.to.role : toAddress}
        onChange={(event) =>
          onChange({ ...step, to: event.target.value === toAddress ? { kind: 'address', expression: '' } : { kind: 'role', role: event.target.value } })
        }
      >
        {design.roles.map((role) => (
          <MenuItem key={role.id} value={role.id}>
            everyone who is {role.name}
          </MenuItem>
        ))}
        <MenuItem value={toAddress}>an address of the record, or a written one</MenuItem>
      </TextField>
      {step.to.kind === 'address' && (
        <ExpressionEditor
          label="Address"
          value={step.to.expression}
          onChange={(expression) => onChange({ ...step, to: { kind: 'address', expression } })}
          scope={scope}
          wanted={wants.text}
          hint={`A field with an address, or an address in quotes: "${me.Mail}"`}
        />
      )}
      <MergeTextEditor label="Subject" value={step.subject} onChange={(subject) => onChange({ ...step, subject })} scope={scope} />
      <MergeTextEditor label="Text" value={step.body} onChange={(body) => onChange({ ...step, body })} scope={scope} isLong />
      <p className="q sm">
        People of the app see only what they have access to, and get no mail about records they can't see. Any other address gets the full text.
      </p>
    </>
  );
}
