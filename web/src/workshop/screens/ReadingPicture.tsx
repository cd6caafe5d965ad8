import type { FormReading, Picked } from '@bibliona/core';

/** So many names are written; the others are counted. */
const most = 4;
const someOf = (names: readonly string[]): string =>
  names.length <= most ? names.join(', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
const namesOf = (fields: readonly { readonly name: string }[]): string => someOf(fields.map((field) => field.name));

/** What a reading is, as a sentence. */
function readingWords({ table, parents, children }: FormReading): string {
  const rows = children.length === 0 ? '' : `, with its ${someOf(children.map((child) => child.relationship.childrenName))} as rows`;
  const beside = parents.length === 0 ? '' : `, and what is known of its ${someOf(parents.map((parent) => parent.name))}`;
  return `One record of ${table.name}${rows}${beside}`;
}

/** How the screen would be, drawn small. */
export function ReadingPicture({ reading, picked }: { readonly reading: FormReading; readonly picked: Picked }) {
  const { table, parents, children } = reading;
  const own = table.fields.filter((field) => picked.get(table.id)?.has(field.id) === true);
  return (
    <span className="reading">
      <span>{readingWords(reading)}</span>
      <span className="reading-page" aria-hidden="true">
        <b>{table.name}</b>
        <span className="reading-inputs">
          {own.slice(0, most).map((field) => (
            <i key={field.id}>{field.name}</i>
          ))}
          {parents.flatMap(({ fields }) =>
            fields.slice(0, most).map((field) => (
              <i key={field.id} className="read">
                {field.name}
              </i>
            )),
          )}
        </span>
        {children.map(({ relationship, fields }) => (
          <span key={relationship.id} className="reading-rows">
            <b>{relationship.childrenName}</b>
            <i>{namesOf(fields)}</i>
            <i />
            <i />
          </span>
        ))}
      </span>
    </span>
  );
}
