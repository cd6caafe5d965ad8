/** Where in the Workshop a part of a design is worked on. */
import { partLists, type AppDesign, type DesignDifference, type PartName } from '@bibliona/core';

type Path = (id: string, design: AppDesign) => string;

const ofRelationship: Path = (id, { relationships }) => {
  const found = relationships.find((relationship) => relationship.id === id);
  return found === undefined ? 'tables' : `tables/${found.child}/fields/${found.field}`;
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
  section: () => 'tables',
  note: () => 'tables',
};

/** The same for what a difference of two designs speaks of, below the same address; null: it is not in this one. */
export function pathOfDifference({ part, id }: DesignDifference, design: AppDesign): string | null {
  if (part === 'app') return null;
  if (part === 'field') {
    const table = design.tables.find((each) => each.fields.some((field) => field.id === id));
    return table === undefined ? null : `tables/${table.id}/fields/${id}`;
  }
  const parts: readonly { readonly id: string }[] = design[partLists[part].key];
  return parts.some((each) => each.id === id) ? partPaths[part](id, design) : null;
}
