import Button from '@mui/material/Button';
import { tableOf, type Automation } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { Roller } from '../../ui/Roller.js';
import { DraftSheet } from '../DraftSheet.js';
import { useDraft } from '../use-draft.js';
import type { Spot } from './automation-draft.js';
import { AutomationDetails } from './AutomationDetails.js';
import { AutomationFindings } from './AutomationFindings.js';
import { AutomationProof } from './AutomationProof.js';
import { AutomationSteps } from './AutomationSteps.js';

/** An automation on the sheet, its settings beside it, and below them what it would do with a real record and what it has done. */
export function AutomationSheet({ saved, shelf }: { readonly saved: Automation; readonly shelf: ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof automations', 290);
  const [spot, setSpot] = useState<Spot>({ kind: 'automation' });
  const draft = useDraft(saved, {
    put: (automation) => ({ kind: 'put', part: 'automation', value: automation }),
    remove: { kind: 'remove', part: 'automation', id: saved.id },
    back: `/workshop/${app.id}/workflows`,
  });
  const { part: automation, edit } = draft;
  const steps = automation.steps.length;
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet
        draft={draft}
        what="automation"
        facts={`${automation.isOn ? 'on' : 'off'}, ${steps} ${steps === 1 ? 'step' : 'steps'}, by records of ${tableOf(app.design, automation.table).name}`}
        desk={`/desk/${app.id}/${automation.table}`}
        adds={spot.kind === 'automation' ? undefined : <Button onClick={() => setSpot({ kind: 'automation' })}>The automation</Button>}
      >
        <AutomationSteps automation={automation} spot={spot} onSpot={setSpot} onChange={edit} />
        <AutomationFindings automation={automation} onChange={edit} onSpot={setSpot} />
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <AutomationDetails automation={automation} spot={spot} onChange={edit} onSpot={setSpot} onRemove={() => void draft.remove()} />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <AutomationProof automation={automation} />
      </section>
    </div>
  );
}
