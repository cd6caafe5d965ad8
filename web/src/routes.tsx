import { lazy } from 'react';
import { createBrowserRouter } from 'react-router';
import { AppList } from './apps/AppList.js';
import { BrokenPage, NotHere } from './desk/NotHere.js';
import TableScreen from './desk/TableScreen.js';
import { Broken } from './ui/Broken.js';
import { Loaded, SignedInOnly } from './people/SignedInOnly.js';
import { screens } from './screens.js';

const SignIn = lazy(screens.signIn);
const SetUp = lazy(screens.setUp);
const Join = lazy(screens.join);
const ForgotPassword = lazy(screens.forgotPassword);
const NewPassword = lazy(screens.newPassword);
const PublicFormScreen = lazy(screens.publicForm);
const PublishedScreen = lazy(screens.published);
const Profile = lazy(screens.profile);
const ServerScreen = lazy(screens.server);
const WorkshopFrame = lazy(screens.workshop);
const TablesStation = lazy(screens.tables);
const ScreensStation = lazy(screens.screens);
const QueriesStation = lazy(screens.queries);
const ReportsStation = lazy(screens.reports);
const DashboardsStation = lazy(screens.dashboards);
const AccessStation = lazy(screens.access);
const ImportScreen = lazy(screens.import);
const VersionsScreen = lazy(screens.versions);
const DeskFrame = lazy(screens.desk);
const DeskStart = lazy(screens.deskStart);
const QueryScreen = lazy(screens.query);
const ReportScreen = lazy(screens.report);
const DashboardScreen = lazy(screens.dashboard);
const FormScreen = lazy(screens.form);
const WaitingScreen = lazy(screens.waiting);
const WorkflowsStation = lazy(screens.workflows);
const RemovedScreen = lazy(screens.removed);

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
        element: <WorkshopFrame />,
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
        element: <DeskFrame />,
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
