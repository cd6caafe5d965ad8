import Button from '@mui/material/Button';
import { contract, printTyped, type PageFinding, type Report } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { PaperThumb } from '../../ui/paper/PaperPage.js';
import { Waiting } from '../../ui/Waiting.js';
import { columnName, editField } from './report-draft.js';
import { locale } from '../../state/locale.js';

const pause = 350;
export const pagesAtOnce = 12;

/** The pages that a report gives on real rows, a moment after each edit; the last ones stay while the next are pulled. */
export function useTriedReport(report: Report, from: number) {
  const app = useApp();
  const [asked, setAsked] = useState(report);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(report), pause);
    return () => clearTimeout(timer);
  }, [report]);
  const tried = useQuery({
    queryKey: keys.triedReport(app.id, asked, from),
    queryFn: ({ signal }) => call(contract.tryReport, { params: { app: app.id }, body: { report: asked, from, count: pagesAtOnce }, signal }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  return { tried, isStale: tried.isFetching || asked !== report };
}

/** The pages from afar, whether they add up, and what is doubtful about them. */
export function ReportProof(props: {
  readonly report: Report;
  readonly answer: ReturnType<typeof useTriedReport>;
  readonly page: number;
  readonly onPage: (page: number) => void;
  readonly onChange: (report: Report) => void;
}) {
  const { report, page, onPage, onChange } = props;
  const { tried, isStale } = props.answer;
  const { data } = tried;
  const findings = data?.proof.findings ?? [];
  const found = new Set(findings.map((finding) => finding.page));
  return (
    <div className={isStale ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        {data !== undefined && (
          <>
            <span>
              {locale().count(data.of)} {data.of === 1 ? 'page' : 'pages'}
            </span>
            <span className="q el">
              from {locale().count(data.rows)} real {data.rows === 1 ? 'row' : 'rows'}, laid out {locale().time(tried.dataUpdatedAt)}
            </span>
          </>
        )}
        {isStale && <span className="q">updating …</span>}
        {data !== undefined && <Checks proof={data.proof} />}
        <span className={data === undefined ? 'end' : ''}>
          <RegisterMark />
        </span>
      </div>
      <div className="trim report-proof">
        {tried.isError && <Note kind="bad">{messageOf(tried.error)}</Note>}
        {tried.isPending && <Waiting words="Laying out the pages …" />}
        {data !== undefined && (
          <>
            <div className="thumbs" role="group" aria-label="Pages">
              {data.pages.map((each) => (
                <button
                  key={each.number}
                  type="button"
                  className={each.number === page ? 'on' : ''}
                  aria-pressed={each.number === page}
                  onClick={() => onPage(each.number)}
                >
                  <PaperThumb page={each} paper={data.paper} isFound={found.has(each.number)} />
                  <span>
                    {each.number}
                    {found.has(each.number) && <i className="loz-mark" role="img" aria-label="something to look at" />}
                  </span>
                </button>
              ))}
              {data.of > pagesAtOnce && (
                <span className="thumbs-more">
                  {data.pages[0] !== undefined && data.pages[0].number > 1 && (
                    <Button onClick={() => onPage((data.pages[0]?.number ?? 1) - pagesAtOnce)}>Pages before</Button>
                  )}
                  {(data.pages.at(-1)?.number ?? 0) < data.of && <Button onClick={() => onPage((data.pages.at(-1)?.number ?? 0) + 1)}>Further pages</Button>}
                </span>
              )}
            </div>
            <div className="adds-up">
              <table>
                <thead>
                  <tr>
                    <th scope="col">{data.proof.sums.every((sum) => sum.holds) ? 'Totals match' : "Totals don't match"}</th>
                    <td>paper</td>
                    <td>rows</td>
                  </tr>
                </thead>
                <tbody>
                  {data.proof.sums.map((sum) => (
                    <tr key={sum.label} className={sum.holds ? '' : 'bad'}>
                      <th scope="row">{sum.label}</th>
                      <td>{printed(sum, sum.paper)}</td>
                      <td>{printed(sum, sum.source)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {findings.map((finding) => (
                <Finding key={`${finding.kind} ${finding.column ?? ''}`} finding={finding} report={report} onPage={onPage} onChange={onChange} />
              ))}
            </div>
          </>
        )}
      </div>
    </div>
  );
}

const printed = (sum: Proof['sums'][number], value: string | null): string => (value === null ? 'none' : printTyped(sum, value, locale()));

type Proof = NonNullable<ReturnType<typeof useTriedReport>['tried']['data']>['proof'];
const lookedFor = ['bare_heading', 'cut', 'broken', 'no_sign'] as const;

function Checks({ proof }: { readonly proof: Proof }) {
  const looks = lookedFor.map((kind) => proof.findings.some((finding) => finding.kind === kind));
  const failing = proof.sums.filter((sum) => !sum.holds).length;
  const toLook = looks.filter((look) => look).length;
  const holding = proof.sums.length - failing + looks.length - toLook;
  return (
    <span className="end">
      <span className="strip" aria-hidden="true">
        {proof.sums.map((sum) => (
          <i key={sum.label} className={sum.holds ? '' : 'bad'} />
        ))}
        {looks.map((isFound, i) => (
          <i key={lookedFor[i]} className={isFound ? 'look' : ''} />
        ))}
      </span>
      <span>
        {holding} {holding === 1 ? 'check passes' : 'checks pass'}
        {toLook > 0 && `, ${toLook} to look at`}
        {failing > 0 && `, ${failing} ${failing === 1 ? 'fails' : 'fail'}`}
      </span>
    </span>
  );
}

function Finding(props: {
  readonly finding: PageFinding;
  readonly report: Report;
  readonly onPage: (page: number) => void;
  readonly onChange: (report: Report) => void;
}) {
  const { finding, report, onChange } = props;
  const { design } = useApp();
  const field = report.fields.find((each) => each.column === finding.column);
  const name = finding.column === null ? 'A heading' : columnName(report, design, finding.column);
  const often = finding.times === 1 ? 'once' : `${locale().count(finding.times)} times`;
  const problem = {
    bare_heading: `A heading is alone at the bottom of a page, ${often}.`,
    cut: `${name} is too long and is cut off, ${often}.`,
    broken: `${name} has a word that is too wide, ${often}.`,
    no_sign: `${name} has characters that can't be printed, ${often}. Boxes are shown instead.`,
  }[finding.kind];
  const fix = (): { readonly label: string; readonly report: Report } | null => {
    if (finding.kind === 'bare_heading')
      return { label: 'Keep it with its row', report: { ...report, groups: report.groups.map((group) => ({ ...group, keepsHeading: true })) } };
    if (field === undefined || finding.kind === 'no_sign') return null;
    if (finding.kind === 'cut' && !field.wraps) return { label: 'Wrap the text', report: editField(report, field.column, { wraps: true }) };
    return field.share < 40 ? { label: 'Widen it', report: editField(report, field.column, { share: Math.min(field.share + 4, 40) }) } : null;
  };
  const offer = fix();
  return (
    <p className="paper-finding">
      <i className="loz-mark" aria-hidden="true" />
      <span>
        {problem}{' '}
        <button type="button" className="lk" onClick={() => props.onPage(finding.page)}>
          Page {finding.page}
        </button>
      </span>
      {offer !== null && (
        <button type="button" className="lk fix" onClick={() => onChange(offer.report)}>
          {offer.label}
        </button>
      )}
    </p>
  );
}
