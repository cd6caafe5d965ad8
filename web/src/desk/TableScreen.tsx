import { lazy, Suspense } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { useApp } from '../state/app.js';
import { screens } from '../screens.js';
import { lazyBrought } from '../ui/brought.js';
import { useIsNarrow } from '../ui/narrow.js';
import { layoutAt } from './record/layout-at.js';

const ListScreen = lazyBrought(screens.list);
const RecordScreen = lazyBrought(screens.record);
const RecordWindow = lazy(() => import('./record/RecordWindow.js'));

/** A list, one of its records, or both: a form can say that its records open over their list, which stays as it was. */
export default function TableScreen() {
  const app = useApp();
  const { table: id, record } = useParams();
  const [search] = useSearchParams();
  const isNarrow = useIsNarrow();
  const table = app.design.tables.find((each) => each.id === id);
  const isInWindow =
    record !== undefined && table !== undefined && !isNarrow && app.rights[table.id]?.see === true && layoutAt(app, table, search).inWindow === true;
  if (record !== undefined && !isInWindow) return <RecordScreen />;
  return (
    <>
      <ListScreen />
      {isInWindow && (
        <Suspense>
          <RecordWindow table={table} />
        </Suspense>
      )}
    </>
  );
}
