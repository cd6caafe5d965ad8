import { fileFormatOf, type ImportAnswer } from '@bibliona/core';
import { Note } from '../../ui/Note.js';
import { locale } from '../../state/locale.js';

/** Every cell that did not fit: where it is in the file, what it says and why it is refused. */
export function Complaints({ answer }: { readonly answer: ImportAnswer }) {
  const { complaints, complaintCount } = answer;
  return (
    <section className="complaints" aria-label="Errors in the file">
      <Note kind="bad">
        {complaintCount === 1 ? 'One cell has an error.' : `${locale().count(complaintCount)} cells have errors.`} Nothing was imported. Correct the file,
        change how the column is read, or leave such cells empty.
      </Note>
      <ComplaintRows complaints={complaints} count={complaintCount} unit={unitOf(answer)} />
    </section>
  );
}

/** What the rows of the file are counted in. */
export const unitOf = ({ survey }: ImportAnswer): string => fileFormatOf(survey?.reading.format ?? 'text').unit;

/** Above the values that are not taken, because other rows of the same thing are right. */
export const settledWords = (count: number, were: 'were' | 'would be'): string =>
  `${count === 1 ? '1 value differs' : `${locale().count(count)} values differ`} from the rows that are right, and ${count === 1 && were === 'were' ? 'was' : were} left out:`;

interface ComplaintRowsProps {
  readonly complaints: ImportAnswer['complaints'];
  readonly count: number;
  readonly unit: string;
}

/** Cells with their lines. */
export function ComplaintRows({ complaints, count, unit }: ComplaintRowsProps) {
  return (
    <>
      <div className="complaints-scroll" tabIndex={0} role="group" aria-label="Cells with errors">
        <table className="rows">
          <thead>
            <tr>
              <th className="n" scope="col">
                {unit}
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
