import { contract, type OpenRecord } from '@bibliona/core';
import { useNavigate } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';

/** What was done to a record can lead it out of the sight of the person who did it: then there is nothing left to show, and they leave it. */
export function useLeavingIfGone(table: string, open: OpenRecord): () => Promise<void> {
  const app = useApp();
  const navigate = useNavigate();
  return async () => {
    const isSeen = await call(contract.readRecord, { params: { app: app.id, table, id: open.record.id } }).then(
      () => true,
      () => false,
    );
    if (!isSeen) await navigate(`/desk/${app.id}/waiting`, { state: { moved: open.caption } });
  };
}
