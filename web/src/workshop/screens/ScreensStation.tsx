import { shownTables, type Form, type List } from '@bibliona/core';
import { Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import '../../look/workshop/screens.css';
import { useApp, type AppInHand } from '../../state/app.js';
import { BareStation } from '../BareStation.js';
import { Shelf, type Book } from '../Shelf.js';
import { FormDesigner } from './FormDesigner.js';
import { ListDesigner } from './ListDesigner.js';
import { ScreenDialog } from './ScreenDialog.js';

/** Forms and lists: the screens in which people enter, find and correct records. */
export default function ScreensStation() {
  const app = useApp();
  const { screen: id } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const home = `/workshop/${app.id}/screens`;
  const books = booksOf(app, home);
  const form = app.design.forms.find((each) => each.id === id);
  const list = app.design.lists.find((each) => each.id === id);
  const adding = search.get('add');
  if (id === undefined && books[0] !== undefined && adding === null) return <Navigate to={books[0].to} replace />;
  const toAdd = (what: string): string => `${home}${id === undefined ? '' : `/${id}`}?add=${what}`;
  const adds = [
    { name: 'Form', to: toAdd('form') },
    { name: 'List', to: toAdd('list') },
  ];
  const shelf = (
    <Shelf
      books={books}
      selected={id}
      heading="Forms & lists"
      find="Find a form or list"
      none={{ at: 'No forms or lists yet.', found: 'No forms or lists match.' }}
      adds={adds}
    />
  );
  return (
    <>
      {form !== undefined ? (
        <FormDesigner key={form.id} saved={form} shelf={shelf} />
      ) : list !== undefined ? (
        <ListDesigner key={list.id} saved={list} shelf={shelf} />
      ) : (
        <BareStation
          heading="Forms & lists"
          shelf={shelf}
          title={id === undefined ? 'No forms or lists yet.' : 'This form or list no longer exists.'}
          hint="Every table comes with a form and a list. Make others for other work."
          adds={adds}
        />
      )}
      {(adding === 'form' || adding === 'list') && (
        <ScreenDialog
          what={adding}
          table={form?.table ?? list?.table}
          onClose={() => setSearch({}, { replace: true })}
          onMade={(made) => void navigate(`${home}/${made}`)}
        />
      )}
    </>
  );
}

/** The forms and lists of each table, under its name. */
function booksOf(app: AppInHand, home: string): readonly Book[] {
  return shownTables(app.design).flatMap((table) => {
    const book = (kind: string) => (each: Form | List) => ({
      id: each.id,
      name: each.name,
      section: table.name,
      to: `${home}/${each.id}`,
      count: kind.toLowerCase(),
      words: [kind, table.name],
    });
    const own = (each: Form | List): boolean => each.table === table.id;
    return [...app.design.lists.filter(own).map(book('List')), ...app.design.forms.filter(own).map(book('Form'))];
  });
}
