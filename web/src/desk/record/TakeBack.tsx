import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { contract, type AppDesign, type TakenBack } from '@bibliona/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { touched } from '../../state/live.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { locale } from '../../state/locale.js';

type Effect = TakenBack['effects'][number];

// More of one table are counted.
const namedAtMost = 3;
const words = {
  restore: { one: 'comes back', many: 'come back' },
  change: { one: 'is as it was before', many: 'are as they were before' },
  remove: { one: 'is removed', many: 'are removed' },
} as const;

/** Says what taking a save back would do, for it has been tried, and does it when asked to. */
export function TakeBack(props: {
  readonly save: string;
  readonly title?: string;
  readonly verb?: string;
  readonly onClose: () => void;
  readonly onDone: (effects: readonly Effect[]) => void;
}) {
  const { save, title = 'Undo this save?', verb = 'Undo save', onClose, onDone } = props;
  const app = useApp();
  const client = useQueryClient();
  const ask = (dry: boolean): Promise<TakenBack> => call(contract.takeBackSave, { params: { app: app.id, save }, body: { key: crypto.randomUUID(), dry } });
  const tried = useQuery({ queryKey: keys.takenBack(app.id, save), queryFn: () => ask(true), staleTime: 0, gcTime: 0, retry: false });
  const done = useMutation({
    mutationFn: () => ask(false),
    onSuccess: ({ effects }) => {
      onDone(effects);
      void touched(
        client,
        app,
        effects.map((effect) => effect.table),
      );
    },
  });
  const effects = tried.data?.effects ?? [];
  const problem = tried.error ?? done.error;
  return (
    <Dialog open onClose={onClose} aria-labelledby="dialog-title" transitionDuration={0} slotProps={{ paper: { className: 'dialog' } }}>
      <div className="ask">
        <h2 id="dialog-title">{title}</h2>
        {tried.isPending && <Waiting />}
        {effects.length > 0 && (
          <ul className="taken-back">
            {groups(effects).map(({ key, table, kind, of }) =>
              of.length > namedAtMost ? (
                <li key={key}>
                  <b>{locale().count(of.length)} records</b>
                  <span className="q">{tableName(app.design, table)}</span>
                  <span className="what">{words[kind].many}</span>
                </li>
              ) : (
                of.map((effect) => (
                  <li key={effect.id}>
                    <b>{effect.caption ?? "A record you can't see"}</b>
                    <span className="q">{tableName(app.design, table)}</span>
                    <span className="what">{words[kind].one}</span>
                  </li>
                ))
              ),
            )}
          </ul>
        )}
        {tried.isSuccess && effects.length === 0 && <p className="q">Nothing of this save is left to undo.</p>}
        {tried.data?.mails === true && <p className="q sm">Mails that this save sent can't be recalled.</p>}
        {problem !== null && <Note kind="bad">{messageOf(problem)} Nothing was undone.</Note>}
        <div className="ask-foot">
          <Button onClick={onClose}>{effects.length > 0 ? 'Cancel' : 'Close'}</Button>
          {effects.length > 0 && (
            <Button variant="contained" autoFocus loading={done.isPending} onClick={() => done.mutate()}>
              {verb}
            </Button>
          )}
        </div>
      </div>
    </Dialog>
  );
}

interface Group extends Pick<Effect, 'table' | 'kind'> {
  readonly key: string;
  readonly of: readonly Effect[];
}
/** What is done alike to records of one table, in the order in which it begins. */
function groups(effects: readonly Effect[]): readonly Group[] {
  const found = new Map<string, Effect[]>();
  for (const effect of effects) {
    const key = `${effect.table} ${effect.kind}`;
    found.set(key, [...(found.get(key) ?? []), effect]);
  }
  return [...found].flatMap(([key, of]) => (of[0] === undefined ? [] : [{ key, table: of[0].table, kind: of[0].kind, of }]));
}

const tableName = (design: AppDesign, id: string): string => design.tables.find((table) => table.id === id)?.name ?? '';
