/** Tiles as questions: what is asked for a chart, and the records behind what it shows. */
import { labelOfTile, type Chart, type Tile } from '../design/dashboard.js';
import type { AppDesign } from '../design/design.js';
import { listFor } from '../design/read.js';
import { questionOf } from '../parts/row-sources.js';
import { hasOwnColumns, type QueryOrder, type SavedQuery } from '../design/saved-query.js';
import { membersOf } from '../expression/names.js';
import { kindOf, shownExpression } from '../fields/kinds.js';
import { check } from '../expression/check.js';
import type { Condition } from '../query/query.js';
import { readQuery, type AskedQuery } from '../query/saved.js';
import type { Value } from '../fields/value.js';
import { wants } from '../feel/wants.js';

/** In which order the points of a chart are read, so that the first are those to be shown. */
export const chartOrder = (tile: Chart): readonly QueryOrder[] =>
  tile.order === 'value' ? [{ column: tile.value, direction: 'down' }] : [{ column: tile.label, direction: 'up' }];

/** The question of a chart, with no columns but its own: rows of a table are summarised by the label alone. */
export function chartQuestion(tile: Chart, design: AppDesign): SavedQuery | null {
  const question = questionOf(tile.source, design);
  if (question === null || !hasOwnColumns(tile.source)) return question;
  return { ...question, columns: question.columns.filter((column) => column.id === tile.label || column.id === tile.value) };
}

/** How a list of the table shows its records, as columns of a question. */
function listedColumns(design: AppDesign, table: string): SavedQuery['columns'] {
  const listed = listFor(design, table).columns;
  const fields = membersOf(design, table).flatMap((member) => (member.kind === 'field' ? [member] : []));
  return listed.flatMap((id) => {
    const member = fields.find((each) => each.field.id === id);
    if (member === undefined) return [];
    const { field, name } = member;
    return [{ id, name: field.name, expression: shownExpression(field, name), summary: null, digits: kindOf(field).digits(field) }];
  });
}

/**
 * The records of the grain that a tile is made of; with `label` those of one point of a chart. Null when the tile cannot
 * be read.
 */
export function behind(
  tile: Tile,
  design: AppDesign,
  label: { readonly value: Value } | null,
): { readonly question: SavedQuery; readonly asked: AskedQuery } | null {
  const made = questionOf(tile.source, design);
  if (made === null) return null;
  const question: SavedQuery = { ...made, columns: listedColumns(design, made.table), order: [], limit: null };
  const read = readQuery(question, design);
  if (!read.ok) return null;
  const labelled = labelOfTile(tile);
  if (label === null || labelled === null) return { question, asked: read.asked };
  const expression = made.columns.find((column) => column.id === labelled)?.expression ?? '';
  const checked = check(expression, { design, table: made.table }, wants.anything);
  if (!checked.ok) return null;
  const gives: Condition = { kind: 'gives', node: checked.node, value: label.value };
  return { question, asked: { ...read.asked, where: { kind: 'all', of: [read.asked.where, gives] } } };
}
