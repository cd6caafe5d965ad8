import { expect, test } from 'vitest';
import { documentIn, richText, richTextAs, richTextOf } from './rich-text.js';

const words = (text: string, marks?: readonly object[]) => ({ type: 'text', text, ...(marks === undefined ? {} : { marks }) });
const paragraph = (...content: readonly object[]) => ({ type: 'paragraph', content });
const doc = (...content: readonly object[]) => ({ type: 'doc', content });
const textOf = (value: string | null): unknown => (value === null ? null : (JSON.parse(value) as { text: string }).text);

test.each<[string, object, string]>([
  ['paragraphs are lines', doc(paragraph(words('one')), paragraph(words('two '), words('three', [{ type: 'bold' }]))), 'one\ntwo three'],
  ['a break within a paragraph is a line too', doc(paragraph(words('one'), { type: 'hardBreak' }, words('two'))), 'one\ntwo'],
  ['items of lists are lines', doc({ type: 'bulletList', content: [{ type: 'listItem', content: [paragraph(words('one'))] }] }), 'one'],
  [
    'the cells of a row are one line',
    doc({
      type: 'table',
      content: [
        { type: 'tableRow', content: ['a', 'b'].map((text) => ({ type: 'tableCell', attrs: { colspan: 1, rowspan: 1 }, content: [paragraph(words(text))] })) },
      ],
    }),
    'a\tb',
  ],
  ['empty lines at the end are left out', doc(paragraph(words('one')), { type: 'paragraph' }, { type: 'paragraph' }), 'one'],
])('the plain text: %s', (_, json, text) => expect(textOf(richTextAs(json))).toBe(text));

test('attributes that are not named are left out, whatever they are', () => {
  const dirty = doc({ ...paragraph(words('one', [{ type: 'bold', attrs: { style: 'x' } }])), attrs: { onclick: 'alert(1)' }, style: 'position: fixed' });
  expect(richTextAs(dirty)).toBe(richTextAs(doc(paragraph(words('one', [{ type: 'bold' }])))));
});

test.each<[string, object]>([
  ['a script', doc({ type: 'script', content: [words('alert(1)')] })],
  ['an image from elsewhere', doc(paragraph({ type: 'image', attrs: { src: 'https://example.org/x.png' } }))],
  ['a link that runs a script', doc(paragraph(words('here', [{ type: 'link', attrs: { href: 'javascript:alert(1)' } }])))],
  ['a link with blanks in front of its script', doc(paragraph(words('here', [{ type: 'link', attrs: { href: ' javascript:alert(1)' } }])))],
  ['a mark of another kind', doc(paragraph(words('here', [{ type: 'html' }])))],
  ['words of no text', doc(paragraph({ type: 'text', text: 12 }))],
  ['nothing', doc()],
])('%s is no formatted text', (_, json) => {
  expect(richTextAs(json)).toBeNull();
  expect(richText.value.problem(JSON.stringify({ text: 'here', doc: json }))).not.toBeNull();
});

test('what is nested too deep is refused before it is read', () => {
  let inner: object = paragraph(words('deep'));
  for (let depth = 0; depth < 5000; depth += 1) inner = { type: 'blockquote', content: [inner] };
  expect(richTextAs(doc(inner))).toBeNull();
});

test('the plain text is always that of the document, whatever was sent beside it', () => {
  const sent = JSON.stringify({ text: 'something else', doc: doc(paragraph(words('one'))) });
  expect(textOf(richText.value.normal(sent) as string)).toBe('one');
});

test('a long text is shortened for lists to text alone', () => {
  const long = richTextOf('word '.repeat(500)) ?? '';
  const short = richText.column.shortened.value(long, 100);
  expect(short.length).toBeLessThan(200);
  expect(richText.value.print(short)).toBe(`${'word '.repeat(20)}…`);
  expect(documentIn(short)?.content).toEqual([]);
  expect(richText.column.shortened.value('short', 100)).toBe('short');
});
