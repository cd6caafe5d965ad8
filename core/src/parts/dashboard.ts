import { columnsOfTile, type Dashboard, type Tile } from '../design/dashboard.js';
import type { DesignIssue } from './issues.js';
import { mapped, staying, withParts, type PartKind } from './part.js';
import { forPeopleOnly, visitorRole, withoutVisitors } from './published.js';
import { missingColumns, narrowedSource, noRows, sourceGone, sourceIssues, sourceReference, writtenSource } from './row-sources.js';

const saysOf = (tile: Tile, part: Dashboard): string => `the tile ${tile.name} of ${part.name}`;

export const dashboard: PartKind<Dashboard> = {
  word: 'dashboard',
  uniqueWithin: () => '',
  inner: (part) => part.tiles,
  innerIds: 'part',
  references: (part) => part.tiles.flatMap((tile) => [sourceReference(tile.source), ...visitorRole(tile)]),
  issues: (part, design) =>
    part.tiles.flatMap((tile): readonly DesignIssue[] => [
      ...sourceIssues(tile.source, saysOf(tile, part)),
      ...missingColumns(tile.source, columnsOfTile(tile), saysOf(tile, part), design),
    ]),
  without: (part, gone) => {
    const refusing = part.tiles.find((tile) => sourceGone(tile.source, gone) === 'refuses');
    if (refusing !== undefined) return { by: saysOf(refusing, part) };
    const left = staying(part.tiles, (tile) => sourceGone(tile.source, gone) === 'stays');
    return withParts(part, { tiles: mapped(left, (tile) => withoutVisitors(tile, gone)) });
  },
  narrowed: (part, ...further) =>
    withParts(part, { tiles: mapped(part.tiles, (tile) => withParts(tile, { source: narrowedSource(tile.source, ...further) })) }),
  expressions: (part, _, write) =>
    withParts(part, {
      tiles: mapped(part.tiles, (tile) =>
        withParts(tile, { source: writtenSource(tile.source, saysOf(tile, part), `tile ${tile.id} `, { kind: 'dashboard', id: part.id }, write) }),
      ),
    }),
  toMember: (part, member) =>
    member.opens({ kind: 'dashboard', dashboard: part.id }) ? { ...part, tiles: part.tiles.map((tile) => ({ ...forPeopleOnly(tile), source: noRows })) } : null,
  expressionsReadOthers: false,
};
