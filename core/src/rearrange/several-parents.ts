/** One record of a table belongs to one of another, or to several: a reference becomes a relationship of pairs, and the other way round. */
import type { AppDesign, Relationship, Table } from '../design/design.js';
import { fieldOf, otherSide, relationshipOf, sidesOf, tableOf } from '../design/read.js';
import { columnType } from '../migration/columns.js';
import type { MigrationStep } from '../migration/migration.js';
import { preparedName } from '../migration/prepared.js';
import { plural, probeText } from '../migration/probes.js';
import { usesOf } from '../parts/expressions.js';
import { freeName } from '../shapes/slug.js';
import { ident } from '../sql/sql.js';
import { columnIn, listed, storedFieldOf, valueStep, withChanges } from './tools.js';
import type { OneParent, SeveralParents } from './plans.js';
import type { RearrangementKind } from './rearrangement.js';

interface Way {
  readonly between: AppDesign;
  readonly schema: string;
  /** The table with the reference, and the field. */
  readonly child: string;
  readonly reference: string;
  /** The table of pairs, and its references to the child and to the parent. */
  readonly link: string;
  readonly toChild: string;
  readonly toParent: string;
}

function partsOf({ between, schema, child: of, reference, link: pairs, toChild, toParent }: Way) {
  const [child, link] = [tableOf(between, of), tableOf(between, pairs)];
  const at = (table: Table): string => `${ident(schema)}.${ident(table.slug)}`;
  const field = fieldOf(child, reference);
  const parent = tableOf(between, relationshipOf(between, field.kind === 'reference' ? field.relationship : '').parent);
  const [own, other] = [storedFieldOf(link, toChild), storedFieldOf(link, toParent)];
  return { child, parent, field: storedFieldOf(child, reference), own, other, atChild: at(child), atLink: at(link) };
}

/** Each reference becomes a pair. Pairs from another time, of records that refer to something else by now, are none. */
function toPairs(way: Way): readonly MigrationStep[] {
  const { child, parent, field, own, other, atChild, atLink } = partsOf(way);
  const [reference, mine, theirs] = [columnIn('t', field), columnIn('l', own), columnIn('l', other)];
  return [
    valueStep(`Records of ${child.name} keep their ${parent.name}`, [
      `DELETE FROM ${atLink} AS l USING ${atChild} AS t WHERE ${mine} = t.id AND NOT EXISTS (SELECT FROM ${atLink} AS k WHERE ${columnIn('k', own)} = t.id AND ${columnIn('k', other)} = ${reference})`,
      `INSERT INTO ${atLink} (${ident(own.column)}, ${ident(other.column)}) SELECT t.id, ${reference} FROM ${atChild} AS t WHERE ${reference} IS NOT NULL AND NOT EXISTS (SELECT FROM ${atLink} AS l WHERE ${mine} = t.id AND ${theirs} = ${reference})`,
    ]),
  ];
}

/** Of several pairs the one that was the reference before, or else the first. */
function toReference(way: Way): readonly MigrationStep[] {
  const { child, parent, field, own, other, atChild, atLink } = partsOf(way);
  const [reference, mine, theirs] = [columnIn('t', field), columnIn('l', own), columnIn('l', other)];
  // All at once: the pairs have no index while values move.
  const chosen = `SELECT DISTINCT ON (t.id) t.id, ${theirs} AS parent FROM ${atChild} AS t LEFT JOIN ${atLink} AS l ON ${mine} = t.id ORDER BY t.id, (${theirs} = ${reference}) DESC NULLS LAST, l.id`;
  return [
    valueStep(
      `Records of ${child.name} have one of ${parent.name}`,
      [
        `UPDATE ${atChild} AS c SET ${ident(field.column)} = x.parent FROM (${chosen}) AS x WHERE x.id = c.id AND ${columnIn('c', field)} IS DISTINCT FROM x.parent`,
      ],
      {
        table: child.id,
        text: probeText(`SELECT ${mine} AS id, count(*)::text AS shown FROM ${atLink} AS l GROUP BY 1 HAVING count(*) > 1`),
        meaning: 'loses',
        sentence: (count, _, locale) =>
          `${plural(count, 'record', 'records', locale)} of ${child.name} ${count === 1 ? 'has' : 'have'} more than one of ${parent.name} and ${count === 1 ? 'keeps' : 'keep'} the first. The others are kept for 30 days. Undo restores them.`,
      },
    ),
  ];
}

const wayOfSeveral = (plan: SeveralParents, design: AppDesign, between: AppDesign, schema: string): Way => {
  const { child, field } = relationshipOf(design, plan.relationship);
  return { between, schema, child, reference: field, link: plan.link.id, toChild: plan.child.field, toParent: plan.parent.field };
};

/** The relationships whose children are called by a name on a table. */
const childrenNames = (design: AppDesign, table: string): readonly string[] =>
  design.relationships.filter((relationship) => relationship.parent === table).map((relationship) => relationship.childrenName);

/** Expressions that take what a reference names as one record: no words of theirs could mean several. */
function asOne(design: AppDesign, field: string): string | null {
  const places = usesOf(design, field).map((place) => place.label);
  return places.length === 0
    ? null
    : `It is used as one record in ${places.length === 1 ? 'one place' : `${places.length} places`}: ${listed(places)}. Change ${places.length === 1 ? 'that' : 'those'} first.`;
}

export const severalParents: RearrangementKind<SeveralParents> = {
  problem: (plan, design) => {
    const { parent, child, field } = relationshipOf(design, plan.relationship);
    if (tableOf(design, child).isLink) return 'Each record can have several already.';
    if (parent === child) return `${tableOf(design, child).name} refers to itself. Only records of two tables can be paired.`;
    return asOne(design, field);
  },
  describe: (plan, design) => {
    const { parent, child } = relationshipOf(design, plan.relationship);
    return `Records of ${tableOf(design, child).name} can have several of ${tableOf(design, parent).name}`;
  },
  between: (plan, design) => {
    const { parent, child } = relationshipOf(design, plan.relationship);
    const [up, down] = [tableOf(design, parent), tableOf(design, child)];
    return withChanges(design, [
      {
        kind: 'add_link',
        id: plan.link.id,
        name: freeName(
          `${up.name.slice(0, 25)} of ${down.name.slice(0, 25)}`,
          design.tables.map((table) => table.name),
        ),
        form: plan.link.form,
        list: plan.link.list,
        together: plan.link.together,
        sides: [
          {
            table: parent,
            relationship: plan.parent.relationship,
            shownAs: freeName(plan.parent.shownAs, [...childrenNames(design, parent), ...up.fields.map((field) => field.name)]),
            field: plan.parent.field,
            fieldName: up.name,
          },
          { table: child, relationship: plan.child.relationship, shownAs: plan.child.shownAs, field: plan.child.field, fieldName: down.name },
        ],
      },
    ]);
  },
  tables: (plan, design) => [relationshipOf(design, plan.relationship).child, plan.link.id],
  loose: (plan, design) => [relationshipOf(design, plan.relationship).field, plan.parent.field, plan.child.field],
  after: (plan, design, between) => {
    const { child, field } = relationshipOf(design, plan.relationship);
    return withChanges(between, [
      { kind: 'remove_field', table: child, field },
      { kind: 'change_relationship', relationship: plan.parent.relationship, childrenName: plan.parent.shownAs },
    ]);
  },
  moves: (plan, design, between, schema) => {
    const way = wayOfSeveral(plan, design, between, schema);
    return { there: toPairs(way), back: () => toReference(way) };
  },
};

/** The relationships of a table of pairs, that of the child and that of the parent. */
function pairOf(plan: OneParent, design: AppDesign): readonly [Relationship, Relationship] {
  const own = relationshipOf(design, plan.child);
  const other = otherSide(design, own);
  if (other === null) throw new TypeError(`${plan.link} has no two sides`);
  return [own, other.relationship];
}

function wayOfOne(plan: OneParent, design: AppDesign, between: AppDesign, schema: string): Way {
  const [own, other] = pairOf(plan, design);
  return { between, schema, child: own.parent, reference: plan.reference.field, link: plan.link, toChild: own.field, toParent: other.field };
}

export const oneParent: RearrangementKind<OneParent> = {
  problem: (plan, design) => {
    const sides = sidesOf(design, tableOf(design, plan.link));
    return sides?.some((side) => side.relationship.id === plan.child) === true ? null : 'This is no relationship of pairs.';
  },
  describe: (plan, design) => {
    const [own, other] = pairOf(plan, design);
    return `Records of ${tableOf(design, own.parent).name} have one of ${tableOf(design, other.parent).name}`;
  },
  between: (plan, design) => {
    const [own, other] = pairOf(plan, design);
    const parent = tableOf(design, other.parent);
    return withChanges(design, [
      {
        kind: 'add_relationship',
        id: plan.reference.relationship,
        parent: parent.id,
        child: own.parent,
        fieldId: plan.reference.field,
        fieldName: plan.reference.name,
        childrenName: freeName(plan.reference.childrenName, [...childrenNames(design, parent.id), ...parent.fields.map((field) => field.name)]),
        required: false,
        whenParentRemoved: 'refuse',
      },
    ]);
  },
  tables: (plan, design) => [pairOf(plan, design)[0].parent, plan.link],
  loose: (plan, design) => [plan.reference.field, ...pairOf(plan, design).map((each) => each.field)],
  after: (plan, _, between) =>
    withChanges(between, [
      { kind: 'remove', part: 'table', id: plan.link },
      { kind: 'change_relationship', relationship: plan.reference.relationship, childrenName: plan.reference.childrenName },
    ]),
  moves: (plan, design, between, schema) => {
    const way = wayOfOne(plan, design, between, schema);
    return { there: toReference(way), back: () => toPairs(way) };
  },
  prepares: (plan, design, between, { schema, keptSchema }) => {
    const way = wayOfOne(plan, design, between, schema);
    const { child, field, own, other, atLink } = partsOf(way);
    const mine = columnIn('l', own);
    const first = `${ident(keptSchema)}.${ident(preparedName(field.id))}`;
    return {
      column: {
        field: field.id,
        slug: child.slug,
        type: columnType(field),
        value: `(SELECT f.parent FROM ${first} AS f WHERE f.id = t.id)`,
        follows: null,
        sources: [
          `CREATE TABLE ${first} AS SELECT DISTINCT ON (${mine}) ${mine} AS id, ${columnIn('l', other)} AS parent FROM ${atLink} AS l ORDER BY ${mine}, l.id`,
          `CREATE UNIQUE INDEX ON ${first} (id)`,
          `ANALYZE ${first}`,
        ],
      },
      // Few records change by then: those whose pairs have come or gone since the first ones were looked up.
      there: [...toReference(way).flatMap((step) => step.sql), `DROP TABLE ${first}`],
    };
  },
};
