import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowDownIcon, ArrowUpIcon, TrashIcon } from '@phosphor-icons/react';
import { tableOf, triggers, type Automation, type Step } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { editStep, movedStep, withoutStep, type Spot } from './automation-draft.js';
import { stepKind } from './step-kinds.js';
import { triggerKinds } from './trigger-kinds.js';

interface PartProps {
  readonly automation: Automation;
  readonly onChange: (automation: Automation) => void;
  readonly onSpot: (spot: Spot) => void;
}

/** The settings of what is chosen on the sheet. */
export function AutomationDetails(props: PartProps & { readonly spot: Spot; readonly onRemove: () => void }) {
  const { automation, spot } = props;
  const step = spot.kind === 'step' ? automation.steps.find((each) => each.id === spot.id) : undefined;
  if (step !== undefined) return <StepPart key={step.id} {...props} step={step} />;
  if (spot.kind === 'trigger') return <TriggerPart {...props} />;
  if (spot.kind === 'condition') return <ConditionPart {...props} />;
  return <AutomationPart {...props} />;
}

function AutomationPart({ automation, onChange, onRemove }: PartProps & { readonly onRemove: () => void }) {
  const set = (part: Partial<Automation>): void => onChange({ ...automation, ...part });
  return (
    <>
      <DetailsHead kind="Automation" title={automation.name} of={{ to: 'automation', id: automation.id }} />
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

function TriggerPart({ automation, onChange }: PartProps) {
  const { design } = useApp();
  const table = tableOf(design, automation.table);
  const canMove = triggerKinds.moved.isOffered(table.id, design);
  const { narrowing } = triggerKinds[automation.on];
  return (
    <>
      <DetailsHead kind="Trigger" title={table.name} />
      <div className="details-body details-form">
        <TextField
          select
          label="When"
          value={automation.on}
          onChange={(event) => {
            const { startedBy: _, ...rest } = automation;
            onChange({ ...rest, on: event.target.value as Automation['on'], fields: [], moves: [] });
          }}
          helperText={canMove ? undefined : 'Add a route to the table to trigger it by a move.'}
        >
          {triggers
            .filter((trigger) => triggerKinds[trigger].isOffered(table.id, design))
            .map((trigger) => (
              <MenuItem key={trigger} value={trigger}>
                a record {triggerKinds[trigger].words}
              </MenuItem>
            ))}
        </TextField>
        {narrowing !== null && (
          <Autocomplete
            {...pickerIcons}
            multiple
            options={narrowing.options(table.id, design).map((option) => option.id)}
            getOptionLabel={(id) => narrowing.options(table.id, design).find((option) => option.id === id)?.name ?? ''}
            value={[...narrowing.chosen(automation)]}
            onChange={(_, ids) => onChange(narrowing.choose(automation, ids))}
            renderInput={(params) => (
              <TextField {...params} label={narrowing.label} helperText={narrowing.chosen(automation).length === 0 ? narrowing.none : undefined} />
            )}
          />
        )}
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
  const at = automation.steps.findIndex((each) => each.id === step.id);
  const { name, Settings } = stepKind(step.kind);
  return (
    <>
      <header>
        <div className="kind">
          Step {at + 1} of {automation.steps.length}
        </div>
        <div className="step-head">
          <h2 className="grow">{name}</h2>
          <IconButton size="small" aria-label="Earlier" disabled={at === 0} onClick={() => onChange(movedStep(automation, step.id, -1))}>
            <ArrowUpIcon size={14} />
          </IconButton>
          <IconButton size="small" aria-label="Later" disabled={at === automation.steps.length - 1} onClick={() => onChange(movedStep(automation, step.id, 1))}>
            <ArrowDownIcon size={14} />
          </IconButton>
        </div>
      </header>
      <div className="details-body details-form">
        <Settings automation={automation} step={step} onChange={(next) => onChange(editStep(automation, next))} />
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
