import type { DiagramNote, Section } from '../design/diagram.js';
import type { PartKind } from './part.js';

/** What is on the diagram names no other part, and only builders know of it. */
const onDiagram = {
  inner: () => [],
  innerIds: 'part',
  references: () => [],
  issues: () => [],
  without: <P>(part: P) => part,
  expressions: <P>(part: P) => part,
  toMember: () => null,
  expressionsReadOthers: false,
} as const;

export const section: PartKind<Section> = { ...onDiagram, word: 'section', uniqueWithin: () => '' };

/** In characters: how much of a note tells which one it is. */
const longest = 40;

export const note: PartKind<DiagramNote> = {
  ...onDiagram,
  word: 'note',
  uniqueWithin: null,
  called: ({ text }) => `“${text.length > longest ? `${text.slice(0, longest - 1).trimEnd()}…` : text}”`.replaceAll(/\s+/gu, ' '),
};
