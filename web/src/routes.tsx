import { createBrowserRouter } from 'react-router';
import { AppList } from './apps/AppList.js';
import { BrokenPage, NotHere } from './desk/NotHere.js';
import TableScreen from './desk/TableScreen.js';
import { Broken } from './ui/Broken.js';
import { Loaded, SignedInOnly } from './people/SignedInOnly.js';
import { InApp } from './state/InApp.js';
import { screens } from './screens.js';
import { lazyBrought } from './ui/brought.js';

const SignIn = lazyBrought(screens.signIn);
const SetUp = lazyBrought(screens.setUp);
const Join = lazyBrought(screens.join);
const ForgotPassword = lazyBrought(screens.forgotPassword);
const NewPassword = lazyBrought(screens.newPassword);
const PublicFormScreen = lazyBrought(screens.publicForm);
const PublishedScreen = lazyBrought(screens.published);
const Profile = lazyBrought(screens.profile);
const ServerScreen = lazyBrought(screens.server);
const WorkshopFrame = lazyBrought(screens.workshop);
const TablesStation = lazyBrought(screens.tables);
const ScreensStation = lazyBrought(screens.screens);
const QueriesStation = lazyBrought(screens.queries);
const ReportsStation = lazyBrought(screens.reports);
const DashboardsStation = lazyBrought(screens.dashboards);
const AccessStation = lazyBrought(screens.access);
const ImportScreen = lazyBrought(screens.import);
const VersionsScreen = lazyBrought(screens.versions);
const DeskFrame = lazyBrought(screens.desk);
const DeskStart = lazyBrought(screens.deskStart);
const QueryScreen = lazyBrought(screens.query);
const ReportScreen = lazyBrought(screens.report);
const DashboardScreen = lazyBrought(screens.dashboard);
const FormScreen = lazyBrought(screens.form);
const WaitingScreen = lazyBrought(screens.waiting);
const WorkflowsStation = lazyBrought(screens.workflows);
const RemovedScreen = lazyBrought(screens.removed);

export const router = createBrowserRouter([
  {
    element: <Loaded />,
    errorElement: <Broken />,
    children: [
      { path: '/sign-in', element: <SignIn /> },
      { path: '/join/:token', element: <Join /> },
      { path: '/forgot', element: <ForgotPassword /> },
      { path: '/reset/:token', element: <NewPassword /> },
      { path: '/set-up', element: <SetUp /> },
      { path: '/public/:app/:form', element: <PublicFormScreen /> },
      { path: '/public/:app/:kind/:part', element: <PublishedScreen /> },
    ],
  },
  {
    element: <SignedInOnly />,
    errorElement: <Broken />,
    children: [
      { path: '/', element: <AppList /> },
      { path: '/profile', element: <Profile />, errorElement: <Broken /> },
      { path: '/server', element: <ServerScreen />, errorElement: <Broken /> },
      {
        path: '/workshop/:app',
        element: (
          <InApp>
            <WorkshopFrame />
          </InApp>
        ),
        errorElement: <Broken />,
        children: [
          { index: true, element: <TablesStation /> },
          { path: 'tables', element: <TablesStation /> },
          { path: 'tables/:table', element: <TablesStation /> },
          { path: 'tables/:table/fields/:field', element: <TablesStation /> },
          { path: 'screens', element: <ScreensStation /> },
          { path: 'screens/:screen', element: <ScreensStation /> },
          { path: 'queries', element: <QueriesStation /> },
          { path: 'queries/:query', element: <QueriesStation /> },
          { path: 'reports', element: <ReportsStation /> },
          { path: 'reports/:report', element: <ReportsStation /> },
          { path: 'dashboards', element: <DashboardsStation /> },
          { path: 'dashboards/:dashboard', element: <DashboardsStation /> },
          { path: 'workflows', element: <WorkflowsStation /> },
          { path: 'workflows/:route', element: <WorkflowsStation /> },
          { path: 'workflows/automations/:automation', element: <WorkflowsStation /> },
          { path: 'workflows/mails', element: <WorkflowsStation /> },
          { path: 'workflows/mails/:mail', element: <WorkflowsStation /> },
          { path: 'access', element: <AccessStation /> },
          { path: 'access/people', element: <AccessStation /> },
          { path: 'access/people/:person', element: <AccessStation /> },
          { path: 'access/roles/:role', element: <AccessStation /> },
          { path: 'access/roles/:role/:table', element: <AccessStation /> },
          { path: 'import', element: <ImportScreen /> },
          { path: 'versions', element: <VersionsScreen /> },
        ],
      },
      {
        path: '/desk/:app',
        element: (
          <InApp>
            <DeskFrame />
          </InApp>
        ),
        errorElement: <Broken />,
        children: [
          {
            errorElement: <BrokenPage />,
            children: [
              { index: true, element: <DeskStart /> },
              { path: 'q/:query', element: <QueryScreen /> },
              { path: 'waiting', element: <WaitingScreen /> },
              { path: 'r/:report', element: <ReportScreen /> },
              { path: 'd/:dashboard', element: <DashboardScreen /> },
              { path: 'f/:table', element: <FormScreen /> },
              { path: ':table/removed', element: <RemovedScreen /> },
              // One route, so that a list stays as it is while a record is open over it.
              { path: ':table/:record?', element: <TableScreen /> },
              { path: '*', element: <NotHere what="page" /> },
            ],
          },
        ],
      },
    ],
  },
  { path: '*', element: <Broken /> },
]);
