import { countShown, printTyped, type Field, type Selection, type Table } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { locale } from '../../state/locale.js';
import { useRecordSource } from './record-source.js';
import { shownIn } from './shown.js';

/** The groups of a list with their counts and sums, by the fields of the list or by others. */
export function useGroups(table: Table, selection: Selection, by: readonly string[] | undefined, isWanted = true) {
  const source = useRecordSource(table);
  const query: Selection = { ...selection, ...(by === undefined ? {} : { by: [...by] }) };
  return useQuery({
    queryKey: [...source.key, 'groups', query],
    queryFn: () => source.groups(query),
    placeholderData: keepPreviousData,
    enabled: isWanted,
  });
}

/** A sum as its field prints it; a large one has thousands separators, even where the numbers themselves have none. */
export function shownSum(field: Field, sum: string): string {
  const text = shownIn(field, { id: 0, rev: 0, values: { [field.id]: sum } });
  return text === sum ? printTyped({ ...countShown, digits: null }, sum, locale()) : text;
}

/** The sums of a list over all its records, as texts, by the field. */
export function useSums(table: Table, selection: Selection, isWanted: boolean): ReadonlyMap<Field, string> {
  const { data } = useGroups(table, selection, [], isWanted);
  const sums = data?.levels[0]?.groups[0]?.sums;
  if (data === undefined || sums === undefined) return new Map();
  return new Map(
    data.sums.flatMap((id, i) => {
      const field = table.fields.find((each) => each.id === id);
      return field === undefined ? [] : [[field, shownSum(field, sums[i] ?? '0')]];
    }),
  );
}
