/** Chooses all records of a list, or none of them. */
export function MarkAll(props: { readonly count: number; readonly of: number; readonly onAll: () => void; readonly onNone: () => void }) {
  const { count, of, onAll, onNone } = props;
  const isAll = count >= of;
  return (
    <input
      type="checkbox"
      className="row-mark"
      tabIndex={-1}
      aria-label="Choose all records"
      checked={isAll}
      ref={(box) => {
        if (box !== null) box.indeterminate = count > 0 && !isAll;
      }}
      // The head of a column takes what is pressed in it for itself.
      onPointerDown={(event) => event.stopPropagation()}
      onChange={isAll ? onNone : onAll}
    />
  );
}
