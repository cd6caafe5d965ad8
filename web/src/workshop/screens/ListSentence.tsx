import { tableOf, type List } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { conditionWords } from '../queries/query-draft.js';
import { wordsOfList, type Spot } from './list-draft.js';

/** The list as the sentence that it is; each part of it is chosen by a press. */
export function ListSentence(props: { readonly list: List; readonly spot: Spot; readonly onSpot: (spot: Spot) => void; readonly isWrong: boolean }) {
  const { list, spot, onSpot, isWrong } = props;
  const { design } = useApp();
  const table = tableOf(design, list.table);
  const words = wordsOfList(list, table, design);
  const isWhole = list.condition.trim() === '';
  const part = (to: Spot, look: string, children: string, bad = false) => (
    <button type="button" className={`w ${look} ${spot === to ? 'on' : ''} ${bad ? 'bad' : ''}`} aria-pressed={spot === to} onClick={() => onSpot(to)}>
      {children}
    </button>
  );
  return (
    <p className="sentence">
      {part('list', 'tab', table.name)} {part('arrangement', '', words.arrangement)}
      {isWhole ? ', ' : ', where '}
      {part('condition', 'cond', isWhole ? 'all records' : conditionWords(list, design), isWrong)}
      {', with '}
      {part('columns', '', words.columns)}
      {', '}
      {list.order.length === 0 ? '' : 'ordered by '}
      {part('order', 'ord', words.order)}
      {', grouped by '}
      {part('groups', '', words.groups)}
      {', with sums of '}
      {part('sums', 'calc', words.sums)}
      {', with quick filters for '}
      {part('filters', '', words.filters)}
      {', and '}
      {part('tones', '', words.tones)}
      {'.'}
    </p>
  );
}
