/** The keys under which answers of the server are kept, in one place, so that what goes stale is found. */
export const keys = {
  me: ['me'] as const,
  apps: ['apps'] as const,
  app: (app: string) => ['app', app] as const,
  counts: (app: string) => ['app', app, 'counts'] as const,
  log: (app: string) => ['app', app, 'log'] as const,
  table: (app: string, table: string) => ['app', app, 'table', table] as const,
  sample: (app: string, table: string) => ['app', app, 'table', table, 'sample'] as const,
  statistics: (app: string, table: string) => ['app', app, 'table', table, 'statistics'] as const,
  tried: (app: string, table: string, text: string) => ['app', app, 'table', table, 'tried', text] as const,
  record: (app: string, table: string, id: number) => ['app', app, 'table', table, 'record', id] as const,
  history: (app: string, table: string, id: number) => ['app', app, 'table', table, 'history', id] as const,
  neighbours: (app: string, table: string, id: number, selection: object) => ['app', app, 'table', table, 'neighbours', id, selection] as const,
  lookup: (app: string, table: string, text: string) => ['app', app, 'table', table, 'lookup', text] as const,
  search: (app: string, text: string) => ['app', app, 'search', text] as const,
  import: (app: string, id: string) => ['app', app, 'import', id] as const,
};
