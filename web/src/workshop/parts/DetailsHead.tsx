/** The head of the details: the kind of what is chosen, and what it is called. */
export function DetailsHead({ kind, title }: { readonly kind: string; readonly title: string }) {
  return (
    <header>
      <div className="kind">{kind}</div>
      <h2>{title}</h2>
    </header>
  );
}
