import type { RichDocument, RichMark, RichNode } from '@bibliona/core';
import { Fragment, type ReactNode } from 'react';

const partsOf = (node: RichNode): readonly RichNode[] => ('content' in node ? (node.content ?? []) : []);

function marked(text: string, marks: readonly RichMark[]): ReactNode {
  return marks.reduce<ReactNode>((inner, mark) => {
    switch (mark.type) {
      case 'bold':
        return <strong>{inner}</strong>;
      case 'italic':
        return <em>{inner}</em>;
      case 'underline':
        return <u>{inner}</u>;
      case 'strike':
        return <s>{inner}</s>;
      case 'code':
        return <code>{inner}</code>;
      case 'link':
        return (
          <a className="lk" href={mark.attrs.href} target="_blank" rel="noopener noreferrer">
            {inner}
          </a>
        );
      default:
        return mark satisfies never;
    }
  }, text);
}

/** Headings in a form stand below that of the record. */
const headings = ['h3', 'h4', 'h5'] as const;

function Drawn({ node }: { readonly node: RichNode }): ReactNode {
  if ('text' in node) return marked(node.text, node.marks ?? []);
  const inner = partsOf(node).map((part, i) => <Drawn key={i} node={part} />);
  const attrs = ('attrs' in node ? node.attrs : undefined) ?? {};
  switch (node.type) {
    case 'paragraph':
      return <p>{inner}</p>;
    case 'heading': {
      const Heading = headings[Number(attrs['level']) - 1] ?? 'h5';
      return <Heading>{inner}</Heading>;
    }
    case 'blockquote':
      return <blockquote>{inner}</blockquote>;
    case 'bulletList':
      return <ul>{inner}</ul>;
    case 'orderedList':
      return <ol start={Number(attrs['start'] ?? 1)}>{inner}</ol>;
    case 'listItem':
      return <li>{inner}</li>;
    case 'hardBreak':
      return <br />;
    case 'horizontalRule':
      return <hr />;
    case 'table':
      return (
        <table>
          <tbody>{inner}</tbody>
        </table>
      );
    case 'tableRow':
      return <tr>{inner}</tr>;
    case 'tableHeader':
    case 'tableCell': {
      const Cell = node.type === 'tableHeader' ? 'th' : 'td';
      return (
        <Cell colSpan={Number(attrs['colspan'] ?? 1)} rowSpan={Number(attrs['rowspan'] ?? 1)}>
          {inner}
        </Cell>
      );
    }
    default:
      return <Fragment>{inner}</Fragment>;
  }
}

/** A formatted text as it is read. It is drawn from its parts: no markup of a value ever reaches the page. */
export const RichTextView = ({ doc }: { readonly doc: RichDocument }) => (
  <div className="rich-text">
    {doc.content.map((node, i) => (
      <Drawn key={i} node={node} />
    ))}
  </div>
);
