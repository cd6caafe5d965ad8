import Button from '@mui/material/Button';
import { contract } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { PaperPage } from '../../ui/paper/PaperPage.js';
import { Waiting } from '../../ui/Waiting.js';
import { NothingRead, type PublishedProps } from './NothingThere.js';
import { PublicSheet } from './PublicSheet.js';

/** A report as visitors see it: its pages below each other. */
export default function PublishedReport({ app, part }: PublishedProps) {
  const { data, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: ['published report', app, part],
    queryFn: ({ pageParam, signal }) => call(contract.readPublishedReport, { params: { app, report: part }, query: { from: pageParam }, signal }),
    initialPageParam: 1,
    getNextPageParam: (last, _, from) => (from + last.pages.length <= last.of ? from + last.pages.length : undefined),
    retry: false,
  });
  if (error !== null && data === undefined) return <NothingRead error={error} />;
  const [first] = data?.pages ?? [];
  if (data === undefined || first === undefined) return <Waiting words="Laying out the pages …" />;
  const { name, paper, of } = first;
  return (
    <PublicSheet name={name} isNamed size="wide">
      <div className="public-pages" tabIndex={0} role="group" aria-label={`Pages of ${name}`}>
        {data.pages.flatMap((part) => part.pages.map((page) => <PaperPage key={page.number} page={page} of={of} paper={paper} />))}
      </div>
      {hasNextPage && (
        <div>
          <Button variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more pages
          </Button>
        </div>
      )}
    </PublicSheet>
  );
}
