import type { PartSeen } from '@bibliona/core';

/** Says that numbers are made of a part of the records, so that nobody takes them for the whole. */
export function PartSeenNote({ seen, className = 'q' }: { readonly seen: PartSeen | undefined; readonly className?: string }) {
  return seen === 'part' ? <span className={className}>Counts only what you can see</span> : null;
}
