/** Chooses all records of a list, or none of them. */
export function MarkAll(props: { readonly isAll: boolean; readonly isSome: boolean; readonly onAll: () => void; readonly onNone: () => void }) {
  const { isAll, isSome, onAll, onNone } = props;
  return (
    <input
      type="checkbox"
      className="row-mark"
      tabIndex={-1}
      aria-label="Choose all records"
      checked={isAll}
      ref={(box) => {
        if (box !== null) box.indeterminate = isSome && !isAll;
      }}
      // The head of a column takes what is pressed in it for itself.
      onPointerDown={(event) => event.stopPropagation()}
      onChange={isAll ? onNone : onAll}
    />
  );
}
