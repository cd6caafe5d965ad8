import { lazy, Suspense, useEffect } from 'react';
import { useAdding } from '../../state/adding.js';

const AddRecordDialog = lazy(() => import('./AddRecordDialog.js'));

/** Where the forms of records are shown that are added on the way. */
export function AddingRecords() {
  const stack = useAdding((state) => state.stack);
  useEffect(() => {
    useAdding.setState({ isHere: true });
    return () => useAdding.setState({ isHere: false, stack: [] });
  }, []);
  return stack.map((adding) => (
    <Suspense key={adding.key}>
      <AddRecordDialog adding={adding} />
    </Suspense>
  ));
}
