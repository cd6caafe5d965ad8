/** Queries as tests put them into a design: each is called by its id, and so is each of its columns. */
import type { DesignChange, SavedQuery } from '@bibliona/core';

export const column = (id: string, expression: string, summary: SavedQuery['columns'][number]['summary'] = null): SavedQuery['columns'][number] => ({
  id,
  name: id,
  expression,
  summary,
  digits: null,
});
export const putQuery = (id: string, table: string, more: Partial<SavedQuery>): DesignChange => ({
  kind: 'put',
  part: 'query',
  value: { id, name: id, description: '', section: '', table, condition: '', columns: [], order: [], limit: null, ...more },
});
