import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { TrashIcon } from '@phosphor-icons/react';
import { childrenOf, contract, type OpenRecord, type Table, tablesTouched } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { touched } from '../../state/live.js';
import { Ask } from '../../ui/Ask.js';
import { Note } from '../../ui/Note.js';
import { locale } from '../../state/locale.js';

/** Removes the record at hand, after saying what goes with it. */
export function RemoveRecord({
  table,
  open,
  list,
  onGone,
}: {
  readonly table: Table;
  readonly open: OpenRecord;
  readonly list: string;
  readonly onGone: () => void;
}) {
  const app = useApp();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [isAsking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const remove = async (): Promise<void> => {
    try {
      const key = crypto.randomUUID();
      await call(contract.saveRecords, {
        params: { app: app.id },
        body: { key, writes: [{ kind: 'remove', table: table.id, id: open.record.id, rev: open.record.rev }] },
      });
      onGone();
      await navigate(list, { state: { removed: { caption: open.caption, save: key } } });
      client.removeQueries({ queryKey: keys.record(app.id, table.id, open.record.id) });
      void touched(client, app, tablesTouched(app.design, [{ kind: 'remove', table: table.id }]));
    } catch (error) {
      setAsking(false);
      setProblem(messageOf(error));
    }
  };
  const affected = childrenOf(app.design, table.id).flatMap((child) => {
    const block = open.children.find((each) => each.relationship === child.id);
    const count = block?.records.length ?? 0;
    if (count === 0) return [];
    const number = `${locale().count(count)}${block?.more === true ? '+' : ''} ${child.childrenName}`;
    const takesMore = childrenOf(app.design, child.child).some((each) => each.whenParentRemoved === 'remove');
    const words = {
      remove: `${number} go with it${takesMore ? ', and what belongs to them' : ''}.`,
      clear: `${number} stay, without it.`,
      refuse: `${number} belong to it. Delete or move them first.`,
    };
    return [{ words: words[child.whenParentRemoved], gone: child.whenParentRemoved === 'remove' ? [number] : [] }];
  });
  const gone = affected.flatMap((each) => each.gone);
  return (
    <>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <Tooltip title="Remove this record">
        <IconButton aria-label="Remove this record" onClick={() => (setProblem(null), setAsking(true))}>
          <TrashIcon size={16} />
        </IconButton>
      </Tooltip>
      {isAsking && (
        <Ask
          title={`Remove ${open.caption}?`}
          verb={gone.length === 0 ? 'Remove 1 record' : `Remove it and ${gone.join(', ')}`}
          keep="Keep it"
          onAnswer={(yes) => (yes ? void remove() : setAsking(false))}
        >
          {affected.length === 0 ? 'Nothing else belongs to it.' : affected.map((each) => each.words).join(' ')} You can restore it.
        </Ask>
      )}
    </>
  );
}
