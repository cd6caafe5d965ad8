import type { FieldKind } from '@bibliona/core';
import { fieldViews } from './kinds.js';

export function KindIcon({ kind }: { readonly kind: FieldKind }) {
  const { Icon } = fieldViews[kind];
  return <Icon className="ic s" aria-hidden />;
}
