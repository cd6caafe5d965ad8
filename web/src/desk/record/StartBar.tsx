import Button from '@mui/material/Button';
import type { Automation, OpenRecord } from '@bibliona/core';
import { useStart } from './use-start.js';

/** The automations that can be run for a record by hand, and have no button on its form. */
export default function StartBar({
  table,
  open,
  automations,
}: {
  readonly table: string;
  readonly open: OpenRecord;
  readonly automations: readonly Automation[];
}) {
  const { isDoing, saysOf, start } = useStart(table, open);
  // A problem is that of the one that was run last: it is said once.
  const [said = null] = automations.flatMap((automation) => saysOf(automation.id) ?? []);
  return (
    <section className="start-bar" aria-label="Run">
      <div className="moves">
        {automations.map((automation) => (
          <Button key={automation.id} variant="outlined" loading={isDoing(automation.id, open.record.id)} onClick={() => start(automation)}>
            {automation.name}
          </Button>
        ))}
      </div>
      {said}
    </section>
  );
}
