/** Forms that anyone can fill in: who a visitor is to the app, and what their browser can know of it. */
import { checksOfRecordAlone } from '../checks/checks.js';
import { partLists, teamRole, type AppDesign, type Field, type PartKey, type Table } from '../design/design.js';
import type { Form, PublicForm } from '../design/form.js';
import { tableOf } from '../design/read.js';
import { kindOf } from '../fields/kinds.js';
import { itemKind } from '../parts/form-items.js';
import { forPeopleOnly } from '../parts/published.js';
import { permit, rightsOf, type Person } from './access.js';
import { visitorWith } from './visitor.js';

export interface OpenToAll extends Form {
  readonly public: PublicForm;
}
/** The public form of this id, if there is one. */
export const publicForm = (design: AppDesign, id: string): OpenToAll | undefined =>
  design.forms.find((form): form is OpenToAll => form.id === id && form.public !== undefined);

/** Who fills in a public form: nobody by name, with the one role of the form. */
export const visitorOf = (form: OpenToAll): Person => visitorWith(form.public.role);

/** Whether a visitor can fill in a field: what leads to records, people or files of the app would show or take in too much. */
function canVisitorsFill(field: Field): boolean {
  const { column, files, people, stamp, isGiven } = kindOf(field);
  return column !== null && field.kind !== 'reference' && files === undefined && people === undefined && stamp === undefined && isGiven !== true;
}

/** The fields that a public form asks for, and those of it that it leaves out. */
export function publicFields(design: AppDesign, form: OpenToAll): { readonly asked: readonly Field[]; readonly leftOut: readonly Field[] } {
  const table = tableOf(design, form.table);
  const { hidden, locked } = rightsOf(design, visitorOf(form), table);
  const isAsked = (field: Field): boolean => canVisitorsFill(field) && !hidden.includes(field.id) && !locked.includes(field.id);
  const shown = form.items.flatMap((item) => (item.kind === 'field' ? table.fields.filter((field) => field.id === item.field) : []));
  return { asked: shown.filter(isAsked), leftOut: shown.filter((field) => !isAsked(field)) };
}

/** Whether a record that a visitor adds has a value there by itself. Where people begin with themselves, a visitor is nobody. */
const beginsFilled = (field: Field): boolean => field.default !== null && kindOf(field).people === undefined;

/** Why nobody could send a public form as it is, in sentences for its builder. */
export function publicProblems(design: AppDesign, form: OpenToAll): readonly string[] {
  const table = tableOf(design, form.table);
  const role = design.roles.find((each) => each.id === form.public.role);
  const granted = permit(design, visitorOf(form), table, 'add');
  if (granted === null) return [`The role ${role?.name ?? ''} can't add records to ${table.name}.`];
  const asked = new Set(publicFields(design, form).asked.map((field) => field.id));
  return table.fields
    .filter((field) => field.required && !asked.has(field.id) && !beginsFilled(field))
    .map((field) => `${field.name} is required, and visitors can't fill it in here.`);
}

/** What a person entered last is nobody's here. */
function withoutLast(field: Field): Field {
  if (field.startsWithLast === undefined) return field;
  const { startsWithLast: _, ...rest } = field;
  return rest;
}

/** Visitors are told of no kind of part but those that are listed for them. */
const noParts = Object.fromEntries(Object.values(partLists).map(({ key }) => [key, []])) as unknown as Readonly<Record<PartKey, readonly []>>;

const known = new WeakMap<AppDesign, Map<string, AppDesign>>();

/** The design as if it held nothing but this form and the fields that it asks for; the same object as long as the design is the same. */
export function publicDesign(design: AppDesign, form: OpenToAll): AppDesign {
  const perDesign = known.get(design) ?? new Map<string, AppDesign>();
  known.set(design, perDesign);
  const made = perDesign.get(form.id) ?? narrowed(design, form);
  perDesign.set(form.id, made);
  return made;
}

function narrowed(design: AppDesign, form: OpenToAll): AppDesign {
  const { id, name, slug, ...whole } = tableOf(design, form.table);
  const { asked } = publicFields(design, form);
  const isAsked = new Set(asked.map((field) => field.id));
  const table: Table = { ...whole, id, name, slug, description: '', section: '', caption: '', fields: asked.map(withoutLast), uniqueTogether: [] };
  const items = form.items.filter((item) => itemKind(item).isForVisitors && (item.kind !== 'field' || isAsked.has(item.field)));
  const told: AppDesign = {
    ...design,
    ...noParts,
    mapAddress: null,
    tables: [table],
    forms: [{ ...forPeopleOnly(form), items, roles: [], isDefault: true }],
    roles: design.roles
      .filter((role) => role.id === form.public.role)
      .map((role) => ({
        ...teamRole,
        id: role.id,
        name: role.name,
        description: '',
        everything: role.everything,
        grants: role.grants.filter((grant) => grant.table === id),
      })),
  };
  return { ...told, tables: [{ ...table, checks: checksOfRecordAlone(told, table) }] };
}
