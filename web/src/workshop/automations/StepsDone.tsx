import { printValue, type StepDone, type Value } from '@bibliona/core';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { locale } from '../../state/locale.js';

/** What the steps of one run did, or would do: fields before and after, records added, mails written. */
export function StepsDone({ steps, isDry = false }: { readonly steps: readonly StepDone[]; readonly isDry?: boolean }) {
  return (
    <ol className="steps-done">
      {steps.map((step, i) => (
        <li key={i}>
          <span className="automation-number">{i + 1}</span>
          <div className="grow">
            <OneDone step={step} isDry={isDry} />
          </div>
        </li>
      ))}
    </ol>
  );
}

function OneDone({ step, isDry }: { readonly step: StepDone; readonly isDry: boolean }) {
  const app = useApp();
  if (step.kind === 'mail')
    return (
      <>
        <b>{step.to.length === 0 ? 'No mail: it has no recipients' : `Mail to ${step.to.join(', ')}`}</b>
        {step.noAddress.length > 0 && <p className="madder">{step.noAddress.map((each) => `“${each}”`).join(', ')}: no address, no mail</p>}
        {step.unseen.length > 0 && <p className="madder">{step.unseen.join(', ')}: can't see this record, no mail</p>}
        {step.letters === undefined ? (
          <Subject text={step.subject} />
        ) : (
          step.letters.map((letter) => (
            <div key={letter.to[0]}>
              {step.letters !== undefined && step.letters.length > 1 && <p className="q sm">As {letter.to.join(', ')} can see it:</p>}
              <Subject text={letter.subject} />
              {letter.body !== '' && <p className="mail-text">{letter.body}</p>}
            </div>
          ))
        )}
      </>
    );
  const table = app.design.tables.find((each) => each.id === step.table);
  return (
    <>
      {step.kind === 'change' ? (
        <b>
          {step.fields.length === 0
            ? isDry
              ? 'Nothing to change: it holds these values already'
              : 'Changed nothing: it held these values already'
            : isDry
              ? 'Changes this record'
              : 'Changed this record'}
        </b>
      ) : isDry || table === undefined ? (
        <b>
          {isDry ? 'Adds' : 'Added'} a record to {table?.name ?? 'a removed table'}
        </b>
      ) : (
        <b>
          Added{' '}
          <Link className="lk" to={`/desk/${app.id}/${table.id}/${step.record}`}>
            No. {step.record}
          </Link>{' '}
          to {table.name}
        </b>
      )}
      {step.fields.map((item) => {
        const field = table?.fields.find((each) => each.id === item.field);
        const print = (value: Value): string =>
          typeof value === 'object' && value?.caption === '' ? 'this record' : field === undefined ? plain(value) : printValue(field, value, locale());
        return (
          <p key={item.field} className="field-done">
            <span>{item.name}</span>
            <span>
              {step.kind === 'change' && item.before !== null && <s>{print(item.before)}</s>} <b>{print(item.after) || 'empty'}</b>
            </span>
          </p>
        );
      })}
    </>
  );
}

const Subject = ({ text }: { readonly text: string }) => <p>{text === '' ? <em className="none">without a subject</em> : text}</p>;

const plain = (value: Value): string => (value === null ? '' : typeof value === 'object' ? value.caption : String(value));
