import { contract } from '@bibliona/core';
import { call } from '../../state/api.js';
import { keys } from '../../state/keys.js';

/** What happened to a record and to the rows of its form, the latest first. */
export const historyQuery = (app: string, table: string, id: number) => ({
  queryKey: keys.history(app, table, id),
  queryFn: () => call(contract.readHistory, { params: { app, table, id } }),
});
