import { accessFindings, type AccessFinding } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { Finding, Findings } from '../parts/Findings.js';

const words = (finding: AccessFinding): string => {
  const { role, table, field } = finding;
  return finding.kind === 'check_tells'
    ? `The check “${finding.check.message}” of ${table.name} reads ${field.name}, which ${role.name} can't see. By trying values, they can find out what it holds.`
    : `${role.name} can add records to ${table.name}, but ${field.name} is required, has no default value, and they can't fill it in. Every record they add is refused.`;
};

/** What is doubtful about the grants, each with the places where it is fixed. */
export function AccessFindings() {
  const app = useApp();
  const findings = useMemo(() => accessFindings(app.design), [app.design]);
  if (findings.length === 0) return null;
  return (
    <Findings what="page" count={findings.length}>
      {findings.map((finding) => (
        <Finding
          key={`${finding.kind} ${finding.role.id} ${finding.table.id} ${finding.field.id}`}
          fixes={
            <>
              <Button size="small" component={Link} to={`/workshop/${app.id}/access/roles/${finding.role.id}/${finding.table.id}`}>
                Open the grant
              </Button>
              {finding.kind === 'cannot_add' && (
                <Button size="small" component={Link} to={`/workshop/${app.id}/tables/${finding.table.id}/fields/${finding.field.id}`}>
                  Set a default value
                </Button>
              )}
            </>
          }
        >
          {words(finding)}
        </Finding>
      ))}
    </Findings>
  );
}
