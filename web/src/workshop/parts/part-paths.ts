/** Where in the Workshop a part of a design is worked on. */
import type { AppDesign, PartName } from '@bibliona/core';

type Path = (id: string, design: AppDesign) => string;

const ofRelationship: Path = (id, { relationships }) => {
  const one = relationships.find((relationship) => relationship.id === id);
  return one === undefined ? 'tables' : `tables/${one.child}/fields/${one.field}`;
};

/** Below the address of the app in the Workshop. */
export const partPaths: Readonly<Record<PartName, Path>> = {
  table: (id) => `tables/${id}`,
  relationship: ofRelationship,
  form: (id) => `screens/${id}`,
  list: (id) => `screens/${id}`,
  query: (id) => `queries/${id}`,
  report: (id) => `reports/${id}`,
  dashboard: (id) => `dashboards/${id}`,
  route: (id) => `workflows/${id}`,
  automation: (id) => `workflows/automations/${id}`,
  role: (id) => `access/roles/${id}`,
  tie: () => 'access',
};
