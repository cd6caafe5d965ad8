import Button from '@mui/material/Button';
import { contract, type Automation } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import type { Spot } from './automation-draft.js';

/** What is doubtful about an automation, each with its mend. */
export function AutomationFindings(props: {
  readonly automation: Automation;
  readonly onChange: (automation: Automation) => void;
  readonly onSpot: (spot: Spot) => void;
}) {
  const { automation, onChange, onSpot } = props;
  const app = useApp();
  const people = useQuery({ queryKey: keys.people(app.id), queryFn: () => call(contract.readPeople, { params: { app: app.id } }) }).data?.people;
  const hasSteps = automation.steps.length > 0;
  const isIdle = automation.isOn !== hasSteps;
  // Roles that a step writes to and that nobody has.
  const empty = automation.steps.flatMap((step, i) => {
    const id = step.kind === 'mail' && step.to.kind === 'role' ? step.to.role : null;
    const role = app.design.roles.find((one) => one.id === id);
    return role === undefined || people === undefined || people.some((one) => one.roles.includes(role.id)) ? [] : [{ step: step.id, nth: i + 1, role }];
  });
  if (!isIdle && empty.length === 0) return null;
  return (
    <section className="findings" aria-label="Findings">
      <h2>
        Findings <span className="q sm">{empty.length + (isIdle ? 1 : 0)} on this automation</span>
      </h2>
      <ul>
        {isIdle && (
          <li>
            <i className="loz-mark" aria-hidden="true" />
            <span className="grow">{hasSteps ? 'It is off, so nothing of this happens.' : 'It is on and has nothing to do.'}</span>
            <Button variant="outlined" onClick={() => onChange({ ...automation, isOn: hasSteps })}>
              {hasSteps ? 'Switch it on' : 'Switch it off'}
            </Button>
          </li>
        )}
        {empty.map(({ step, nth, role }) => (
          <li key={step}>
            <i className="loz-mark" aria-hidden="true" />
            <span className="grow">
              <button type="button" className="lk" onClick={() => onSpot({ kind: 'step', id: step })}>
                Step {nth} writes to nobody.
              </button>{' '}
              <span className="q">No person of the app is {role.name}.</span>
            </span>
            <Button variant="outlined" component={Link} to={`/workshop/${app.id}/access/people`}>
              To the people
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
