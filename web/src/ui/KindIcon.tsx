import {
  CalendarBlankIcon,
  CheckSquareIcon,
  FunctionIcon,
  HashIcon,
  LinkIcon,
  ListBulletsIcon,
  PercentIcon,
  TextAlignLeftIcon,
  TextTIcon,
  type Icon,
} from '@phosphor-icons/react';
import type { FieldKind } from '@bibliona/core';

const icons = {
  text: TextTIcon,
  long_text: TextAlignLeftIcon,
  whole: HashIcon,
  decimal: PercentIcon,
  date: CalendarBlankIcon,
  yes_no: CheckSquareIcon,
  choice: ListBulletsIcon,
  reference: LinkIcon,
  formula: FunctionIcon,
} satisfies Record<FieldKind, Icon>;

export function KindIcon({ kind }: { readonly kind: FieldKind }) {
  const Shape = icons[kind];
  return <Shape className="ic s" aria-hidden />;
}
