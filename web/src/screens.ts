import { loadDiagram } from './workshop/tables/load-diagram.js';

/**
 * The modules of the screens. Each is loaded when it is opened: the Desk never loads the Workshop.
 * Nothing else is imported here, because the first script of the page asks for a screen before anything else is loaded.
 */
export const screens = {
  signIn: () => import('./people/SignIn.js'),
  setUp: () => import('./people/SetUp.js'),
  join: () => import('./people/Join.js'),
  forgotPassword: () => import('./people/ForgotPassword.js'),
  newPassword: () => import('./people/NewPassword.js'),
  profile: () => import('./people/Profile.js'),
  server: () => import('./people/ServerScreen.js'),
  workshop: () => import('./workshop/WorkshopFrame.js'),
  tables: () => import('./workshop/tables/TablesStation.js'),
  diagram: loadDiagram,
  screens: () => import('./workshop/screens/ScreensStation.js'),
  queries: () => import('./workshop/queries/QueriesStation.js'),
  reports: () => import('./workshop/reports/ReportsStation.js'),
  dashboards: () => import('./workshop/dashboards/DashboardsStation.js'),
  workflows: () => import('./workshop/workflows/WorkflowsStation.js'),
  access: () => import('./workshop/access/AccessStation.js'),
  import: () => import('./workshop/import/ImportScreen.js'),
  versions: () => import('./workshop/versions/VersionsScreen.js'),
  desk: () => import('./desk/DeskFrame.js'),
  deskStart: () => import('./desk/DeskStart.js'),
  list: () => import('./desk/list/ListScreen.js'),
  query: () => import('./desk/query/QueryScreen.js'),
  report: () => import('./desk/report/ReportScreen.js'),
  dashboard: () => import('./desk/dashboard/DashboardScreen.js'),
  form: () => import('./desk/record/FormScreen.js'),
  record: () => import('./desk/record/RecordScreen.js'),
  removed: () => import('./desk/record/RemovedScreen.js'),
  publicForm: () => import('./desk/public/PublicFormScreen.js'),
  published: () => import('./desk/public/PublishedScreen.js'),
  waiting: () => import('./desk/waiting/WaitingScreen.js'),
} as const;
export type ScreenName = keyof typeof screens;

/** The screens of an address by what comes after the app in it, the first that fits. */
const deskScreens: readonly (readonly [pattern: RegExp, screen: ScreenName])[] = [
  [/^$/u, 'deskStart'],
  [/^waiting$/u, 'waiting'],
  [/^q\//u, 'query'],
  [/^r\//u, 'report'],
  [/^d\//u, 'dashboard'],
  [/^f\//u, 'form'],
  [/^\w+$/u, 'list'],
  [/^\w+\/removed$/u, 'removed'],
  [/^\w+\/\w+$/u, 'record'],
];
const stations: readonly ScreenName[] = ['tables', 'screens', 'queries', 'reports', 'dashboards', 'workflows', 'access', 'import', 'versions'];

export interface Address {
  readonly app: string;
  readonly screens: readonly ScreenName[];
  /** The paths of what the screen reads first. */
  readonly data: readonly string[];
}

/** What a screen of the Desk reads first, by the part of its address that comes after the app. Null: it is not known that early. */
const firstData: Partial<Record<ScreenName, (table: string, record: string) => string>> = {
  list: (table) => `tables/${table}/page?direction=up&limit=100`,
  record: (table, record) => `tables/${table}/records/${record}`,
};

/** What an address asks for; null when it is of no app. `search` is what comes after its question mark. */
export function addressed(path: string, search = ''): Address | null {
  const [, side, app, rest = ''] = /^\/(desk|workshop)\/(\w+)(?:\/(.*?))?\/?$/u.exec(path) ?? [];
  if (side === undefined || app === undefined) return null;
  if (side === 'workshop') {
    const station = stations.find((each) => rest.split('/')[0] === each) ?? 'tables';
    return { app, screens: station === 'tables' ? ['workshop', 'tables', 'diagram'] : ['workshop', station], data: [] };
  }
  const screen = deskScreens.find(([pattern]) => pattern.test(rest))?.[1];
  if (screen === undefined) return { app, screens: ['desk'], data: [] };
  const [table = '', record = ''] = rest.split('/');
  // A list that is searched or sorted reads something else, and a new record nothing.
  const data = search === '' && record !== 'new' ? firstData[screen]?.(table, record) : undefined;
  return { app, screens: ['desk', screen], data: data === undefined ? [] : [`/api/apps/${app}/${data}`] };
}
