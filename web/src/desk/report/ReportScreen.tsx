import { contract } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { PartSeenNote } from '../../ui/PartSeenNote.js';
import { Note } from '../../ui/Note.js';
import { SaveFile } from '../../ui/SaveFile.js';
import { Waiting } from '../../ui/Waiting.js';
import { PaperPage } from '../../ui/paper/PaperPage.js';
import { Favourite } from '../Favourite.js';
import { NotHere } from '../NotHere.js';
import { locale } from '../../state/locale.js';

const atOnce = 5;

/** A report as it prints, page below page; further pages come as one reads on. */
export default function ReportScreen() {
  const app = useApp();
  const { report: id = '' } = useParams();
  const report = app.design.reports.find((each) => each.id === id);
  const pages = useInfiniteQuery({
    queryKey: keys.pages(app.id, id),
    queryFn: ({ pageParam, signal }) => call(contract.readReport, { params: { app: app.id, report: id }, query: { from: pageParam, count: atOnce }, signal }),
    initialPageParam: 1,
    getNextPageParam: (last, _, from) => (from + last.pages.length <= last.of ? from + last.pages.length : undefined),
    enabled: report !== undefined,
    retry: false,
  });
  const { hasNextPage, isFetching, fetchNextPage } = pages;
  const end = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const { current } = end;
    if (current === null || !hasNextPage || isFetching) return undefined;
    const watch = new IntersectionObserver(([seen]) => seen?.isIntersecting === true && void fetchNextPage(), { rootMargin: '800px' });
    watch.observe(current);
    return () => watch.disconnect();
  }, [hasNextPage, isFetching, fetchNextPage]);
  if (report === undefined) return <NotHere what="report" />;
  const first = pages.data?.pages[0];
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>{report.name}</h1>
        <span className="q" role="status">
          {first !== undefined &&
            `${locale().count(first.rows)} ${first.rows === 1 ? 'row' : 'rows'} on ${locale().count(first.of)} ${first.of === 1 ? 'page' : 'pages'}`}
          {first?.seen === 'part' && ' · '}
          <PartSeenNote seen={first?.seen} />
        </span>
        <div className="end">
          <Favourite link={{ kind: 'page', page: { kind: 'report', report: report.id } }} />
          <SaveFile
            label="Save as PDF"
            route="printReport"
            params={{ app: app.id, report: report.id }}
            name={`${report.name}.pdf`}
            {...(first === undefined ? {} : { rows: first.rows })}
          />
        </div>
      </header>
      {pages.isError && <Note kind="bad">{messageOf(pages.error)}</Note>}
      {pages.isPending && <Waiting words="Laying out the pages …" />}
      {first !== undefined && (
        <div className={report.paper.turned ? 'paper-scroll turned' : 'paper-scroll'} tabIndex={0} role="group" aria-label={`Pages of ${report.name}`}>
          {pages.data?.pages.flatMap((part) => part.pages.map((page) => <PaperPage key={page.number} page={page} of={first.of} paper={first.paper} />))}
          <div ref={end}>{isFetching && <Waiting words="Further pages are laid out …" />}</div>
        </div>
      )}
    </div>
  );
}
