import { arrangementLeft, fieldOfArrangement, furtherFields, type Arrangement } from '../design/arrangement.js';
import type { List } from '../design/list.js';
import { wants } from '../feel/wants.js';
import { kindOf } from '../fields/kinds.js';
import { canNarrow } from './can-narrow.js';
import type { DesignIssue } from './issues.js';
import { forPeopleOnly, visitorRole, withoutVisitors } from './published.js';
import { forMembers } from './screen.js';
import { mapped, narrowedIfOf, staying, withParts, writtenUnlessEmpty, type PartKind } from './part.js';

/** The fields that a list names, besides the columns that can also be links. */
const namedFields = (part: List): readonly string[] => [
  ...part.order.map((each) => each.field),
  ...part.groupBy,
  ...part.sums,
  ...part.quickFilters,
  ...[fieldOfArrangement(part.arrangement)].filter((id) => id !== null),
  ...furtherFields(part.arrangement),
];

export const list: PartKind<List> = {
  word: 'list',
  uniqueWithin: (part) => part.table,
  inner: (part) => part.tones,
  innerIds: 'part',
  references: (part, design) => {
    // A column can also be a relationship: what belongs to a record by a link.
    const related = new Set(design.relationships.map((relationship) => relationship.id));
    return [
      { to: 'table', id: part.table },
      ...part.roles.map((id) => ({ to: 'role', id }) as const),
      ...visitorRole(part),
      ...(part.form === undefined ? [] : [{ to: 'form', id: part.form } as const]),
      ...part.columns.filter((id) => related.has(id)).map((id) => ({ to: 'relationship', id }) as const),
      ...[...part.columns.filter((id) => !related.has(id)), ...namedFields(part)].map((id) => ({ to: 'field', id, table: part.table }) as const),
    ];
  },
  issues: (part, design): readonly DesignIssue[] => {
    const table = design.tables.find((each) => each.id === part.table);
    const needed = fieldOfArrangement(part.arrangement);
    const narrowing = [...part.groupBy, ...part.quickFilters, ...shared(part.arrangement)];
    const [unfit] = narrowing.flatMap((id) => table?.fields.filter((field) => field.id === id && !canNarrow(field)) ?? []);
    if (unfit !== undefined)
      return [{ code: 'broken', problem: `${unfit.name} can't group or narrow the list ${part.name}: it has no short values of its own.` }];
    const form = design.forms.find((each) => each.id === part.form);
    if (form !== undefined && form.table !== part.table)
      return [{ code: 'broken', problem: `Records of the list ${part.name} can't open in ${form.name}: that is a form of another table.` }];
    const field = table?.fields.find((each) => each.id === needed);
    if (field === undefined) return [];
    if (part.arrangement.kind === 'calendar' && !isDay(field.kind))
      return [{ code: 'broken', problem: `The calendar ${part.name} needs a date. ${field.name} is none.` }];
    if (part.arrangement.kind === 'timeline') {
      const { from, to } = part.arrangement;
      // Whether a formula gives a date is known where it is computed.
      const dateless = table?.fields.find((each) => (each.id === from || each.id === to) && !isDay(each.kind) && each.kind !== 'formula');
      return dateless === undefined ? [] : [{ code: 'broken', problem: `The timeline ${part.name} needs dates. ${dateless.name} is none.` }];
    }
    if (part.arrangement.kind === 'chart') {
      const { sum } = part.arrangement;
      // Whether a formula gives a number is known where it is computed.
      const summed = table?.fields.find((each) => each.id === sum && each.kind !== 'formula' && !kindOf(each).traits.addsUp);
      return summed === undefined ? [] : [{ code: 'broken', problem: `The chart ${part.name} needs numbers that add up. ${summed.name} has none.` }];
    }
    return part.arrangement.kind === 'map' && field.kind !== 'place'
      ? [{ code: 'broken', problem: `The map ${part.name} needs a place. ${field.name} is none.` }]
      : [];
  },
  without: (part, gone) => {
    if (gone.has('table', part.table)) return 'remove';
    const stays = (id: string): boolean => !gone.has('field', id);
    const left = withoutVisitors(part, gone);
    return withParts(part.form !== undefined && gone.has('form', part.form) ? withoutForm(left) : left, {
      roles: staying(part.roles, (role) => !gone.has('role', role)),
      columns: staying(part.columns, (id) => stays(id) && !gone.has('relationship', id)),
      order: staying(part.order, (each) => stays(each.field)),
      groupBy: staying(part.groupBy, stays),
      sums: staying(part.sums, stays),
      quickFilters: staying(part.quickFilters, stays),
      arrangement: arrangementLeft(part.arrangement, stays),
    });
  },
  narrowed: narrowedIfOf,
  expressions: (part, _, write) => {
    const owner = { kind: 'list', id: part.id } as const;
    const of = { table: part.table, wanted: wants.truth, owner } as const;
    return withParts(part, {
      condition: writtenUnlessEmpty(write, { ...of, key: 'condition', label: `the condition of the list ${part.name}`, text: part.condition }),
      tones: mapped(part.tones, (tone) =>
        withParts(tone, { condition: write({ ...of, key: `tone ${tone.id}`, label: `a colour of the list ${part.name}`, text: tone.condition }) }),
      ),
    });
  },
  // The server applies the conditions of a list.
  toMember: (part, member) => {
    const told = forMembers(forPeopleOnly(part), member);
    return told === null ? null : withParts(told, { condition: '', tones: staying(told.tones, () => false) });
  },
  expressionsReadOthers: false,
};

/** The fields by which an arrangement puts records together. */
function shared(arrangement: Arrangement): readonly string[] {
  const isBy = arrangement.kind === 'board' || arrangement.kind === 'chart';
  const by = isBy ? arrangement.by : arrangement.kind === 'timeline' ? arrangement.lane : undefined;
  return by === undefined ? [] : [by];
}

function withoutForm({ form: _, ...rest }: List): List {
  return rest;
}

export const isDay = (kind: string): boolean => kind === 'date' || kind === 'date_and_time';
