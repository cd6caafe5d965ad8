import { lazy } from 'react';
import { createBrowserRouter } from 'react-router';
import { AppList } from './apps/AppList.js';
import { BrokenPage, NotHere } from './desk/NotHere.js';
import { Broken } from './ui/Broken.js';
import { Join } from './people/Join.js';
import { Forgot, Reset } from './people/NewPassword.js';
import { SetUp } from './people/SetUp.js';
import { SignedInOnly } from './people/SignedInOnly.js';
import { SignIn } from './people/SignIn.js';

// Each side of the house comes when it is opened: whoever works at the Desk never loads the Workshop.
const Profile = lazy(() => import('./people/Profile.js'));
const ServerScreen = lazy(() => import('./people/ServerScreen.js'));
const WorkshopFrame = lazy(() => import('./workshop/WorkshopFrame.js'));
const TablesStation = lazy(() => import('./workshop/tables/TablesStation.js'));
const QueriesStation = lazy(() => import('./workshop/queries/QueriesStation.js'));
const ReportsStation = lazy(() => import('./workshop/reports/ReportsStation.js'));
const DashboardsStation = lazy(() => import('./workshop/dashboards/DashboardsStation.js'));
const AccessStation = lazy(() => import('./workshop/access/AccessStation.js'));
const ImportScreen = lazy(() => import('./workshop/import/ImportScreen.js'));
const DeskFrame = lazy(() => import('./desk/DeskFrame.js'));
const DeskStart = lazy(() => import('./desk/DeskStart.js'));
const ListScreen = lazy(() => import('./desk/list/ListScreen.js'));
const QueryScreen = lazy(() => import('./desk/query/QueryScreen.js'));
const ReportScreen = lazy(() => import('./desk/report/ReportScreen.js'));
const DashboardScreen = lazy(() => import('./desk/dashboard/DashboardScreen.js'));
const FormScreen = lazy(() => import('./desk/record/FormScreen.js'));
const WaitingScreen = lazy(() => import('./desk/waiting/WaitingScreen.js'));
const WorkflowsStation = lazy(() => import('./workshop/workflows/WorkflowsStation.js'));
const RemovedScreen = lazy(() => import('./desk/record/RemovedScreen.js'));
const RecordScreen = lazy(() => import('./desk/record/RecordScreen.js'));

export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignIn />, errorElement: <Broken /> },
  { path: '/join/:token', element: <Join />, errorElement: <Broken /> },
  { path: '/forgot', element: <Forgot />, errorElement: <Broken /> },
  { path: '/reset/:token', element: <Reset />, errorElement: <Broken /> },
  { path: '/set-up', element: <SetUp />, errorElement: <Broken /> },
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
              { path: ':table', element: <ListScreen /> },
              { path: ':table/removed', element: <RemovedScreen /> },
              { path: ':table/:record', element: <RecordScreen /> },
              { path: '*', element: <NotHere what="page" /> },
            ],
          },
        ],
      },
    ],
  },
  { path: '*', element: <Broken /> },
]);
