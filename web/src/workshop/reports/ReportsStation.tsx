import type { Box, Report, ReportPage } from '@bibliona/core';
import { useState } from 'react';
import { Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { PaperPage } from '../../ui/paper/PaperPage.js';
import { Roller } from '../../ui/Roller.js';
import { BareStation } from '../BareStation.js';
import { DraftSheet } from '../DraftSheet.js';
import { Shelf } from '../Shelf.js';
import { useDraft } from '../use-draft.js';
import { ReportDetails } from './ReportDetails.js';
import { ReportDialog } from './ReportDialog.js';
import { pagesAtOnce, ReportProof, useTriedReport } from './ReportProof.js';
import { columnName, type Spot } from './report-draft.js';
import { locale } from '../../state/locale.js';

/** Reports: the pages as they print are on the sheet, on real rows, while they are laid out. */
export default function ReportsStation() {
  const app = useApp();
  const { report: id } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { reports, tables } = app.design;
  const report = reports.find((each) => each.id === id);
  const [first] = reports;
  const home = `/workshop/${app.id}/reports`;
  if (id === undefined && first !== undefined && !search.has('add')) return <Navigate to={`${home}/${first.id}`} replace />;
  const add = `${home}${id === undefined ? '' : `/${id}`}?add=report`;
  const shelf = (
    <Shelf
      books={reports.map((each) => ({ ...each, to: `${home}/${each.id}`, words: each.fields.map((field) => columnName(each, app.design, field.column)) }))}
      selected={id}
      heading="Reports"
      find="Find a report"
      none={{ at: 'No reports yet.', found: 'No reports match.' }}
      adds={[{ name: 'Report', to: add }]}
    />
  );
  return (
    <>
      {report !== undefined ? (
        <OpenReport key={report.id} saved={report} shelf={shelf} />
      ) : (
        <BareStation
          heading="Reports"
          shelf={shelf}
          title={id === undefined ? 'No reports yet.' : 'This report no longer exists.'}
          hint="A report lists records on pages, with headings and totals, to print or save as PDF."
          adds={[{ name: 'Report', to: add }]}
        />
      )}
      {search.get('add') === 'report' && tables.length > 0 && (
        <ReportDialog onClose={() => setSearch({}, { replace: true })} onMade={(made) => void navigate(`${home}/${made}`)} />
      )}
    </>
  );
}

const paperNames = { a4: 'A4', letter: 'Letter' } as const;

function OpenReport({ saved, shelf }: { readonly saved: Report; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof reports', 196);
  const [spot, setSpot] = useState<Spot>({ kind: 'fields' });
  const [page, setPage] = useState(1);
  const draft = useDraft(saved, {
    put: (report) => ({ kind: 'put', part: 'report', value: report }),
    remove: { kind: 'remove', part: 'report', id: saved.id },
    back: `/workshop/${app.id}/reports`,
  });
  const { part: report, edit } = draft;
  // The pages are asked for in as many as are in the proof.
  const answer = useTriedReport(report, page - ((page - 1) % pagesAtOnce));
  const { data } = answer.tried;
  const shown = data?.pages.find((each) => each.number === page) ?? data?.pages[0];
  const { size, turned } = report.paper;
  const facts = `${paperNames[size]} ${turned ? 'landscape' : 'portrait'}${data === undefined ? '' : `, ${locale().count(data.of)} ${data.of === 1 ? 'page' : 'pages'}`}`;
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet draft={draft} what="report" facts={facts} desk={`/desk/${app.id}/r/${saved.id}`}>
        <div className={`paper-bench ${answer.isStale ? 'stale' : ''}`} tabIndex={0} role="group" aria-label="The page that is open">
          {data !== undefined && shown !== undefined && (
            <div className={turned ? 'paper-on-bench turned' : 'paper-on-bench'}>
              <BandMarks page={shown} height={data.paper.height} report={report} onSpot={setSpot} />
              <PaperPage
                page={shown}
                of={data.of}
                paper={data.paper}
                selected={spot.kind === 'field' ? spot.column : null}
                onColumn={(column) => setSpot(report.fields.some((field) => field.column === column) ? { kind: 'field', column } : { kind: 'groups' })}
              />
            </div>
          )}
        </div>
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <ReportDetails report={report} spot={spot} isOpen={saved.public !== undefined} onChange={edit} onSpot={setSpot} onRemove={() => void draft.remove()} />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <ReportProof report={report} answer={answer} page={shown?.number ?? 1} onPage={setPage} onChange={edit} />
      </section>
    </div>
  );
}

interface Strip {
  readonly key: string;
  readonly name: string;
  readonly spot: Spot;
  readonly from: number;
  readonly to: number;
}

/** The strips of a page from top to bottom, with what decides each. */
function stripsOf(page: ReportPage, nameOf: (column: string) => string, report: Report): readonly Strip[] {
  const strips: Strip[] = [];
  const named = ({ kind, at }: Box['band']): { readonly name: string; readonly spot: Spot } => {
    const group = nameOf(report.groups[at]?.column ?? '');
    switch (kind) {
      case 'report_header':
        return { name: 'Report head', spot: { kind: 'paper' } };
      case 'page_header':
        return { name: 'Page head', spot: { kind: 'fields' } };
      case 'group_header':
        return { name: `${group} head`, spot: { kind: 'groups' } };
      case 'row':
        return { name: 'Each row', spot: { kind: 'fields' } };
      case 'group_footer':
        return { name: `${group} foot`, spot: { kind: 'groups' } };
      case 'report_footer':
        return { name: 'Report foot', spot: { kind: 'fields' } };
      case 'page_footer':
        return { name: 'Page foot', spot: { kind: 'paper' } };
      default:
        return kind satisfies never;
    }
  };
  for (const box of [...page.boxes].sort((a, b) => a.y - b.y)) {
    const { name, spot } = named(box.band);
    const last = strips.at(-1);
    if (last?.name === name) strips[strips.length - 1] = { ...last, to: Math.max(last.to, box.y + box.height) };
    else strips.push({ key: `${name} ${strips.length}`, name, spot, from: box.y, to: box.y + box.height });
  }
  return strips;
}

/** Beside the page: which strip of it is which, each kind named once. A press opens what decides it. */
function BandMarks(props: { readonly page: ReportPage; readonly height: number; readonly report: Report; readonly onSpot: (spot: Spot) => void }) {
  const { design } = useApp();
  const { page, height, report, onSpot } = props;
  const strips = stripsOf(page, (column) => columnName(report, design, column), report);
  const part = (points: number): string => `${(points / height) * 100}%`;
  return (
    <div className="band-marks">
      {strips.map((strip, i) => {
        const isNew = strips.findIndex((each) => each.name === strip.name) === i;
        const span = { top: part(strip.from), height: part(strip.to - strip.from) };
        return isNew ? (
          <button key={strip.key} type="button" style={span} onClick={() => onSpot(strip.spot)}>
            <span>{strip.name}</span>
          </button>
        ) : (
          <i key={strip.key} style={span} />
        );
      })}
    </div>
  );
}
