import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import { tableOf, type Automation, type Step } from '@bibliona/core';
import { newId, useApp } from '../../state/app.js';
import { conditionWords } from '../queries/query-draft.js';
import type { Spot } from './automation-draft.js';
import { stepKind, stepNames } from './step-kinds.js';
import { triggerWords } from './trigger-kinds.js';

/** The automation as a sentence, and below it what it does, step by step; each part is chosen by a press. */
export function AutomationSteps(props: {
  readonly automation: Automation;
  readonly spot: Spot;
  readonly onSpot: (spot: Spot) => void;
  readonly onChange: (automation: Automation) => void;
}) {
  const { automation, spot, onSpot, onChange } = props;
  const { design } = useApp();
  const word = (look: string, kind: 'trigger' | 'condition', words: string) => (
    <button type="button" className={`w ${look} ${spot.kind === kind ? 'on' : ''}`} aria-pressed={spot.kind === kind} onClick={() => onSpot({ kind })}>
      {words}
    </button>
  );
  const add = (kind: Step['kind']): void => {
    const step = stepKind(kind).begins(newId('st'), automation, design);
    onChange({ ...automation, steps: [...automation.steps, step] });
    onSpot({ kind: 'step', id: step.id });
  };
  return (
    <div className="automation">
      <p className="sentence">
        When a record of {word('tab', 'trigger', tableOf(design, automation.table).name)} {word('fie', 'trigger', triggerWords(automation, design))}
        {automation.condition.trim() === '' ? (
          <button type="button" className="w plus" aria-label="Add a condition" onClick={() => onSpot({ kind: 'condition' })}>
            <PlusIcon size={16} />
          </button>
        ) : (
          <>, and {word('cond', 'condition', conditionWords(automation, design))}</>
        )}
        {', do this:'}
      </p>
      {automation.steps.length === 0 ? (
        <p className="q automation-none">No steps yet. Add the first one.</p>
      ) : (
        <ol className="automation-steps">
          {automation.steps.map((step, i) => {
            const isOn = spot.kind === 'step' && spot.id === step.id;
            const { words, Lines } = stepKind(step.kind);
            return (
              <li key={step.id}>
                <button
                  type="button"
                  className={isOn ? 'automation-step on' : 'automation-step'}
                  aria-pressed={isOn}
                  onClick={() => onSpot({ kind: 'step', id: step.id })}
                >
                  <span className="automation-number">{i + 1}</span>
                  <span className="automation-words">
                    <b>{words(step, design)}</b>
                    <Lines automation={automation} step={step} />
                  </span>
                </button>
              </li>
            );
          })}
        </ol>
      )}
      <div className="automation-adds" role="group" aria-label="Add a step">
        {stepNames.map((kind) => (
          <Button key={kind} className="go" startIcon={<PlusIcon />} onClick={() => add(kind)}>
            {stepKind(kind).name}
          </Button>
        ))}
      </div>
    </div>
  );
}
