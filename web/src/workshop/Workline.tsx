import { shownTables } from '@bibliona/core';
import { NavLink } from 'react-router';
import { useApp } from '../state/app.js';

/** The stations in the order of work, as far as they work. */
export function Workline() {
  const app = useApp();
  const shown = shownTables(app.design);
  const screens = [...app.design.forms, ...app.design.lists].filter((form) => shown.some((table) => table.id === form.table)).length;
  const stations = [
    { name: 'Tables', to: `/workshop/${app.id}/tables`, count: shown.length },
    { name: 'Forms & lists', to: `/workshop/${app.id}/screens`, count: screens },
    { name: 'Queries', to: `/workshop/${app.id}/queries`, count: app.design.queries.length },
    { name: 'Reports', to: `/workshop/${app.id}/reports`, count: app.design.reports.length },
    { name: 'Dashboards', to: `/workshop/${app.id}/dashboards`, count: app.design.dashboards.length },
    { name: 'Workflows', to: `/workshop/${app.id}/workflows`, count: app.design.routes.length + app.design.automations.length },
    { name: 'Permissions', to: `/workshop/${app.id}/access`, count: app.design.roles.length },
  ] as const;
  return (
    <nav className="workline" aria-label="Workline">
      {stations.map((station) => (
        <NavLink key={station.name} to={station.to} className={({ isActive }) => (isActive ? 'stn on' : 'stn')}>
          <span className="n">{station.name}</span>
          <span className="c">{station.count}</span>
        </NavLink>
      ))}
    </nav>
  );
}
