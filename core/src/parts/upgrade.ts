/** Stored designs of earlier formats, brought to the present one. The only place that knows how they looked. */
import { feelName } from '../feel/names.js';

type Json = Readonly<Record<string, unknown>>;
const list = (value: unknown): readonly Json[] => (Array.isArray(value) ? (value as Json[]) : []);

/** Format 1 had defaults as values and captions as lists of fields; format 2 has both as expressions. */
function fromFirst(design: Json): Json {
  const tables = list(design['tables']).map((table): Json => {
    const fields = list(table['fields']);
    return {
      ...table,
      checks: [],
      caption: captionOf(Array.isArray(table['caption']) ? (table['caption'] as string[]) : [], fields),
      fields: fields.map(withDefault),
    };
  });
  return { ...design, format: 2, timeZone: 'UTC', tables, lists: list(design['lists']).map((each) => ({ ...each, condition: '' })) };
}

const quoted = (text: string): string => JSON.stringify(text);

function withDefault(field: Json): Json {
  const value = field['default'];
  if (value === null || value === undefined) return { ...field, default: null };
  if (field['kind'] === 'date') return { ...field, default: value === 'today' ? 'today()' : `date(${quoted(String(value))})` };
  if (field['kind'] === 'choice') {
    const label = list(field['choices']).find((each) => each['id'] === value)?.['label'];
    return { ...field, default: label === undefined ? null : quoted(String(label)) };
  }
  return { ...field, default: field['kind'] === 'text' || field['kind'] === 'long_text' ? quoted(String(value)) : String(value) };
}

function captionOf(ids: readonly string[], fields: readonly Json[]): string {
  const parts = ids.flatMap((id) => {
    const field = fields.find((each) => each['id'] === id);
    if (field === undefined) return [];
    const name = feelName(String(field['name']));
    return [field['kind'] === 'text' || field['kind'] === 'choice' ? name : `string(${name})`];
  });
  return parts.length === 1 ? (parts[0] ?? '') : parts.length === 0 ? '' : `string join([${parts.join(', ')}], " · ")`;
}

/** Format 2 had one form and one list for each table, and menus named them by their table. */
function fromSecond(design: Json): Json {
  const single = (parts: readonly Json[]): readonly Json[] => parts.map((part) => ({ ...part, roles: [], isDefault: true }));
  const [forms, lists] = [single(list(design['forms'])), single(list(design['lists']))];
  const idOf = (parts: readonly Json[], table: unknown): unknown => parts.find((part) => part['table'] === table)?.['id'];
  const page = (json: Json): Json =>
    json['kind'] === 'list'
      ? { kind: 'list', list: idOf(lists, json['table']) }
      : json['kind'] === 'form'
        ? { kind: 'form', form: idOf(forms, json['table']) }
        : json;
  const roles = list(design['roles']).map((role) => ({ ...role, menu: list(role['menu']).map(page) }));
  return { ...design, format: 3, forms, lists, ...(design['roles'] === undefined ? {} : { roles }) };
}

/** Numbers of formulas in format 4 counted nothing in particular. */
function fromFourth(design: Json): Json {
  const field = (json: Json): Json => (json['kind'] === 'formula' ? { ...json, unit: null } : json);
  return { ...design, format: 5, tables: list(design['tables']).map((table): Json => ({ ...table, fields: list(table['fields']).map(field) })) };
}

/** Tables of format 5 had no fields that are unique together, and places were shown in the app alone. */
const fromFifth = (design: Json): Json => ({
  ...design,
  format: 6,
  mapAddress: null,
  tables: list(design['tables']).map((table): Json => ({ ...table, uniqueTogether: [] })),
});

/** Tables of format 6 were all shown. */
const fromSixth = (design: Json): Json => ({
  ...design,
  format: 7,
  tables: list(design['tables']).map((table): Json => ({ ...table, isLink: false })),
});

/** Lists of format 7 were sorted by one field, and showed all that belongs to a record by a link behind their columns. */
function fromSeventh(design: Json): Json {
  const links = new Set(list(design['tables']).flatMap((table) => (table['isLink'] === true ? [table['id']] : [])));
  const lists = list(design['lists']).map(({ sort, ...rest }): Json => {
    const linked = list(design['relationships']).filter(({ parent, child }) => parent === rest['table'] && links.has(child));
    const columns = [...(Array.isArray(rest['columns']) ? (rest['columns'] as unknown[]) : []), ...linked.map(({ id }) => id)];
    return { ...rest, columns, order: sort === null || sort === undefined ? [] : [sort] };
  });
  return { ...design, format: 8, lists };
}

/** Format 9 called the words for those who can't see an image "says". */
const fromNinth = (design: Json): Json => {
  const item = (json: Json): Json => {
    if (json['kind'] !== 'image') return json;
    const { says, ...image } = json;
    return { ...image, alt: says ?? '' };
  };
  return { ...design, format: 10, forms: list(design['forms']).map((form): Json => ({ ...form, items: list(form['items']).map(item) })) };
};

/** The design in the present format, as far as its own format is known; anything else is returned as it came. */
export function upgraded(json: unknown): unknown {
  if (typeof json !== 'object' || json === null) return json;
  let design = json as Json;
  if (design['format'] === 1) design = fromFirst(design);
  if (design['format'] === 2) design = fromSecond(design);
  // Format 3 wrote numbers and dates in one way for everybody.
  if (design['format'] === 3) design = { ...design, format: 4, region: 'en-GB' };
  if (design['format'] === 4) design = fromFourth(design);
  if (design['format'] === 5) design = fromFifth(design);
  if (design['format'] === 6) design = fromSixth(design);
  if (design['format'] === 7) design = fromSeventh(design);
  // The diagram of format 8 had tables only.
  if (design['format'] === 8) design = { ...design, format: 9, sections: [], notes: [] };
  if (design['format'] === 9) design = fromNinth(design);
  return design;
}
