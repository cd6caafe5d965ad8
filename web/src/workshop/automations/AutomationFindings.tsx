import Button from '@mui/material/Button';
import { contract, type Automation } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Finding, Findings } from '../parts/Findings.js';
import type { Spot } from './automation-draft.js';

/** What is doubtful about an automation, each with its fix. */
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
    const role = app.design.roles.find((each) => each.id === id);
    return role === undefined || people === undefined || people.some((person) => person.roles.includes(role.id)) ? [] : [{ step: step.id, nth: i + 1, role }];
  });
  if (!isIdle && empty.length === 0) return null;
  return (
    <Findings what="automation" count={empty.length + (isIdle ? 1 : 0)}>
      {isIdle && (
        <Finding
          fixes={
            <Button variant="outlined" onClick={() => onChange({ ...automation, isOn: hasSteps })}>
              {hasSteps ? 'Switch it on' : 'Switch it off'}
            </Button>
          }
        >
          {hasSteps ? "It is off, so it doesn't run." : 'It is on, but has no steps.'}
        </Finding>
      )}
      {empty.map(({ step, nth, role }) => (
        <Finding
          key={step}
          fixes={
            <Button variant="outlined" component={Link} to={`/workshop/${app.id}/access/people`}>
              To the people
            </Button>
          }
        >
          <button type="button" className="lk" onClick={() => onSpot({ kind: 'step', id: step })}>
            Step {nth} has no recipients.
          </button>{' '}
          <span className="q">Nobody in the app has the role {role.name}.</span>
        </Finding>
      ))}
    </Findings>
  );
}
