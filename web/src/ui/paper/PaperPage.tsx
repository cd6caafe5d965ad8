import '../../look/paper.css';
import type { Paper, ReportPage, TextBox } from '@bibliona/core';

const faces: Readonly<Record<TextBox['style']['face'], string>> = { text: 'paper-text', bold: 'paper-text paper-bold', title: 'paper-title' };

/** A page of a report as it prints: its boxes in their places, its words as wide as they were measured. */
export function PaperPage(props: {
  readonly page: ReportPage;
  readonly of: number;
  readonly paper: Paper;
  /** The column that is chosen, and what a press on a text that shows one does. */
  readonly selected?: string | null;
  readonly onColumn?: (column: string) => void;
}) {
  const { page, of, paper, selected = null, onColumn } = props;
  return (
    <svg className="paper-page" viewBox={`0 0 ${paper.width} ${paper.height}`} role="group" aria-label={`Page ${page.number} of ${of}`}>
      {page.boxes.map((box, i) => {
        if (box.kind === 'rule') return <rect key={i} x={box.x} y={box.y} width={box.width} height={box.height} className="paper-rule" />;
        if (box.kind === 'drawing')
          return (
            <svg
              key={i}
              x={box.x}
              y={box.y}
              width={box.width}
              height={box.height}
              viewBox={`0 0 ${box.drawing.width} ${box.drawing.height}`}
              className="paper-drawing"
            >
              <path d={box.drawing.path} />
            </svg>
          );
        const { column } = box;
        const press = column === null || onColumn === undefined ? undefined : () => onColumn(column);
        return (
          <g key={i} onClick={press} className={press === undefined ? undefined : 'paper-press'}>
            {press !== undefined && (
              <rect x={box.x} y={box.y} width={box.width} height={box.height} className={column === selected ? 'paper-cell on' : 'paper-cell'} />
            )}
            {box.lines.map((line, at) => (
              <text
                key={at}
                x={line.x}
                y={line.baseline}
                className={`${faces[box.style.face]} ${box.style.tone === 'quiet' ? 'paper-quiet' : ''}`}
                fontSize={box.style.size}
                // Only longer texts are held to their width: of a few characters it would be the gap between them that shows.
                {...(line.text.length > 1 ? { textLength: line.width, lengthAdjust: 'spacingAndGlyphs' } : {})}
              >
                {line.text}
              </text>
            ))}
          </g>
        );
      })}
    </svg>
  );
}

/** A page from afar: where its words stand, without what they say. */
export function PaperThumb({ page, paper, isFound }: { readonly page: ReportPage; readonly paper: Paper; readonly isFound: boolean }) {
  return (
    <svg className="paper-thumb" viewBox={`0 0 ${paper.width} ${paper.height}`} aria-hidden="true">
      {page.boxes.flatMap((box, i) =>
        box.kind !== 'text'
          ? []
          : box.lines.map((line, at) => (
              <rect
                key={`${i} ${at}`}
                x={line.x}
                y={line.baseline - box.style.size * 0.6}
                width={line.width}
                height={box.style.size * 0.55}
                className={box.style.face === 'text' ? 'paper-words' : 'paper-words strong'}
              />
            )),
      )}
      {isFound && <rect x={8} y={8} width={paper.width - 16} height={paper.height - 16} className="paper-found" />}
    </svg>
  );
}
