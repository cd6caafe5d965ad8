/** Changes of a design as values: what a person can do to it, each small and named. */
import { z } from 'zod';
import { Expression, Id, Label } from '../shapes/shapes.js';
import { AppDesignShape, Check, Role, Tie } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { Automation } from '../design/automation.js';
import { Dashboard } from '../design/dashboard.js';
import { Report } from '../design/report.js';
import { Route } from '../design/route.js';
import { SavedQuery } from '../design/saved-query.js';

const RelationshipPlan = z.object({
  id: Id,
  parent: Id,
  child: Id,
  fieldId: Id,
  fieldName: Label,
  childrenName: Label,
  required: z.boolean().default(false),
  whenParentRemoved: z.enum(['refuse', 'clear', 'remove']),
});

export const DesignChange = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('rename_app'), name: Label }),
  z.object({
    kind: z.literal('add_table'),
    id: Id,
    name: Label,
    description: z.string().max(2000).default(''),
    section: z.string().max(60).default(''),
    fields: z.array(FieldPlan).max(300).default([]),
    form: Id,
    list: Id,
  }),
  z.object({
    kind: z.literal('change_table'),
    table: Id,
    name: Label.optional(),
    description: z.string().max(2000).optional(),
    section: z.string().max(60).optional(),
    caption: Expression.optional(),
    checks: z.array(Check).max(50).optional(),
  }),
  z.object({ kind: z.literal('change_list'), list: Id, condition: Expression }),
  /** Adds the query, or puts it in the place of the one with its id. */
  z.object({ kind: z.literal('put_query'), query: SavedQuery }),
  z.object({ kind: z.literal('remove_query'), query: Id }),
  z.object({ kind: z.literal('put_report'), report: Report }),
  z.object({ kind: z.literal('remove_report'), report: Id }),
  z.object({ kind: z.literal('put_dashboard'), dashboard: Dashboard }),
  z.object({ kind: z.literal('remove_dashboard'), dashboard: Id }),
  z.object({ kind: z.literal('put_route'), route: Route }),
  z.object({ kind: z.literal('remove_route'), route: Id }),
  z.object({ kind: z.literal('put_automation'), automation: Automation }),
  z.object({ kind: z.literal('remove_automation'), automation: Id }),
  z.object({ kind: z.literal('put_role'), role: Role }),
  z.object({ kind: z.literal('remove_role'), role: Id }),
  z.object({ kind: z.literal('put_tie'), tie: Tie }),
  z.object({ kind: z.literal('remove_tie'), tie: Id }),
  z.object({ kind: z.literal('set_time_zone'), timeZone: AppDesignShape.unwrap().shape.timeZone.removeDefault() }),
  z.object({ kind: z.literal('remove_table'), table: Id }),
  z.object({ kind: z.literal('add_field'), table: Id, field: FieldPlan }),
  z.object({ kind: z.literal('change_field'), table: Id, field: FieldPlan }),
  z.object({ kind: z.literal('move_field'), table: Id, field: Id, to: z.number().int().min(0) }),
  z.object({ kind: z.literal('remove_field'), table: Id, field: Id }),
  z.object({ kind: z.literal('add_relationship'), ...RelationshipPlan.shape }),
  z.object({
    kind: z.literal('change_relationship'),
    relationship: Id,
    childrenName: Label.optional(),
    whenParentRemoved: z.enum(['refuse', 'clear', 'remove']).optional(),
  }),
]);
export type DesignChange = z.infer<typeof DesignChange>;
