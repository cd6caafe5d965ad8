import { Navigate, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import '../../look/workflows/routes.css';
import '../../look/workflows/automations.css';
import '../../look/workflows/mails.css';
import { AutomationDialog } from '../automations/AutomationDialog.js';
import { AutomationSheet } from '../automations/AutomationSheet.js';
import { BareStation } from '../BareStation.js';
import { MailsSheet } from '../mails/MailsSheet.js';
import { Shelf } from '../Shelf.js';
import { RouteDialog } from './RouteDialog.js';
import { RouteSheet } from './RouteSheet.js';

/** Workflows: the ways of records through people's hands, what happens by itself, and the mails that came of it. */
export default function WorkflowsStation() {
  const app = useApp();
  const { route: routeId, automation: automationId, mail } = useParams();
  const { pathname } = useLocation();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { routes, automations, tables } = app.design;
  const home = `/workshop/${app.id}/workflows`;
  const mails = `${home}/mails`;
  const isMails = pathname.startsWith(mails);
  // Behind a dialog that was opened without a place the first part stands.
  const isHome = pathname === home;
  const route = isHome ? routes[0] : routes.find((each) => each.id === routeId);
  const automation = isHome ? automations[0] : automations.find((each) => each.id === automationId);
  const [first] = [...routes.map((each) => `${home}/${each.id}`), ...automations.map((each) => `${home}/automations/${each.id}`)];
  if (isHome && first !== undefined && !search.has('add')) return <Navigate to={first} replace />;
  const adds = [
    { name: 'Route', to: `${pathname}?add=route` },
    { name: 'Automation', to: `${pathname}?add=automation` },
  ] as const;
  const shelf = (
    <Shelf
      books={[
        ...routes.map((each) => ({ ...each, to: `${home}/${each.id}`, words: each.moves.map((move) => move.name), count: String(each.moves.length) })),
        ...automations.map((each) => ({
          ...each,
          section: each.section === '' ? 'Automations' : each.section,
          to: `${home}/automations/${each.id}`,
          count: each.isOn ? String(each.steps.length) : 'off',
        })),
        { id: 'mails', name: 'All mails', section: 'Mails', to: mails },
      ]}
      selected={routeId ?? automationId ?? (isMails ? 'mails' : undefined)}
      heading="Routes"
      find="Find by name"
      none={{ at: 'No routes yet.', found: 'No matches.' }}
      adds={adds}
    />
  );
  const close = (): void => setSearch({}, { replace: true });
  const gone = routeId === undefined && automationId === undefined ? null : `This ${routeId === undefined ? 'automation' : 'route'} no longer exists.`;
  return (
    <>
      {isMails ? (
        <MailsSheet shelf={shelf} selected={mail} />
      ) : route !== undefined ? (
        <RouteSheet key={route.id} saved={route} shelf={shelf} />
      ) : automation !== undefined ? (
        <AutomationSheet key={automation.id} saved={automation} shelf={shelf} />
      ) : (
        <BareStation
          heading="Workflows"
          shelf={shelf}
          title={gone ?? 'No workflows yet.'}
          hint="A route takes records from status to status and says who can move them. An automation does routine steps when a record is added, changed or moved."
          adds={adds}
        />
      )}
      {search.get('add') === 'route' && tables.length > 0 && <RouteDialog onClose={close} onMade={(made) => void navigate(`${home}/${made}`)} />}
      {search.get('add') === 'automation' && tables.length > 0 && (
        <AutomationDialog onClose={close} onMade={(made) => void navigate(`${home}/automations/${made}`)} />
      )}
    </>
  );
}
