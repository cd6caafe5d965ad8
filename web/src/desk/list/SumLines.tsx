/** Sums below rows that do not have them at the foot of their columns. */
export function SumLines(props: { readonly label: string; readonly sums: readonly { readonly id: string; readonly name: string; readonly sum: string }[] }) {
  if (props.sums.length === 0) return null;
  return (
    <dl className="list-sums" aria-label={props.label}>
      {props.sums.map(({ id, name, sum }) => (
        <div key={id}>
          <dt>Sum of {name}</dt>
          <dd>{sum}</dd>
        </div>
      ))}
    </dl>
  );
}
