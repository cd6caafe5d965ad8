import type { ImportAnswer } from '@bibliona/core';
import { Note } from '../../ui/Note.js';
import { locale } from '../../state/locale.js';

/** Every cell that did not fit: where it is in the file, what it says and why it is refused. */
export function Complaints({ answer }: { readonly answer: ImportAnswer }) {
  const { complaints, complaintCount } = answer;
  return (
    <section className="complaints" aria-label="Cells with errors">
      <Note kind="bad">
        {complaintCount === 1 ? 'One cell has an error.' : `${locale().count(complaintCount)} cells have errors.`} Nothing was imported. Correct the file,
        change how the column is read, or leave such cells empty.
      </Note>
      <ComplaintRows complaints={complaints} count={complaintCount} />
    </section>
  );
}

/** Cells with their lines. */
export function ComplaintRows({ complaints, count }: { readonly complaints: ImportAnswer['complaints']; readonly count: number }) {
  return (
    <>
      <div className="complaints-scroll" tabIndex={0} role="group" aria-label="Download the list">
        <table className="rows">
          <thead>
            <tr>
              <th className="n" scope="col">
                Line
              </th>
              <th scope="col">Column</th>
              <th scope="col">Value</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {complaints.map((complaint, i) => (
              <tr key={i}>
                <td className="n">{locale().count(complaint.line)}</td>
                <td>{complaint.column}</td>
                <td className="m">{complaint.value === '' ? <span className="nil">empty</span> : complaint.value}</td>
                <td>{complaint.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {count > complaints.length && <p className="q">The first {locale().count(complaints.length)} are shown.</p>}
    </>
  );
}
