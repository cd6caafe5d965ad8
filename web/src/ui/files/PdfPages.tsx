import { locale } from '../../state/locale.js';
import { useEffect, useRef, useState } from 'react';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { Waiting } from '../Waiting.js';
import { openPdf } from './pdf.js';

/** The pages of a PDF below each other. A page is drawn when it comes into sight. */
export default function PdfPages({ address, name }: { readonly address: string; readonly name: string }) {
  const [document, setDocument] = useState<PDFDocumentProxy | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const opening = openPdf(address);
    let isOver = false;
    opening.document.then(
      (opened) => !isOver && setDocument(opened),
      (error: unknown) => !isOver && setProblem(wordsOf(error)),
    );
    // What is still loading stops, and its memory is let go.
    return () => {
      isOver = true;
      opening.close();
    };
  }, [address]);
  if (problem !== null) return <p className="q">{problem}</p>;
  if (document === null) return <Waiting />;
  return (
    <div className="pdf-pages" tabIndex={0} role="region" aria-label={`Pages of ${name}`}>
      {Array.from({ length: document.numPages }, (_, i) => (
        <PdfPage key={i} document={document} number={i + 1} onBroken={setProblem} />
      ))}
    </div>
  );
}

function wordsOf(error: unknown): string {
  const kind = error instanceof Error ? error.name : '';
  if (kind === 'PasswordException') return 'This file is protected with a password. Open it in a tab of its own, where it can be entered.';
  if (kind === 'InvalidPDFException') return "This file is damaged and can't be shown here. Save it to the disk to look at it with another program.";
  return "This file can't be shown here. It was removed from the record, or the server can't be reached.";
}

/** Sharper than the screen is of no use, and large pages of it would fill the memory. */
const mostPixels = 8_000_000;

function PdfPage(props: { readonly document: PDFDocumentProxy; readonly number: number; readonly onBroken: (problem: string) => void }) {
  const { document, number, onBroken } = props;
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [isSeen, setSeen] = useState(false);
  const [words, setWords] = useState('');
  // Until a page is known it is taken for a sheet of A4.
  const [shape, setShape] = useState(1 / Math.SQRT2);
  useEffect(() => {
    const page = frame.current;
    const root = page?.closest('.pdf-pages') ?? null;
    const seen = new IntersectionObserver(([entry]) => entry?.isIntersecting === true && setSeen(true), { root, rootMargin: '600px' });
    if (page !== null) seen.observe(page);
    return () => seen.disconnect();
  }, []);
  useEffect(() => {
    if (!isSeen) return undefined;
    let stop: () => void = () => undefined;
    let isOver = false;
    const draw = async (): Promise<void> => {
      const page = await document.getPage(number);
      const whole = page.getViewport({ scale: 1 });
      setShape(whole.width / whole.height);
      const [on, width] = [canvas.current, frame.current?.clientWidth ?? 0];
      if (isOver || on === null || width === 0) return;
      const scale = Math.min((width * window.devicePixelRatio) / whole.width, Math.sqrt(mostPixels / (whole.width * whole.height)));
      const viewport = page.getViewport({ scale });
      [on.width, on.height] = [Math.floor(viewport.width), Math.floor(viewport.height)];
      const context = on.getContext('2d');
      if (context === null) return;
      const drawing = page.render({ canvasContext: context, viewport });
      stop = () => drawing.cancel();
      await drawing.promise;
      const { items } = await page.getTextContent();
      if (!isOver) setWords(items.flatMap((item) => ('str' in item ? [item.str] : [])).join(' '));
    };
    draw().catch((error: unknown) => {
      if (!isOver) onBroken(wordsOf(error));
    });
    return () => {
      isOver = true;
      stop();
    };
  }, [document, number, isSeen, onBroken]);
  return (
    <div className="pdf-page" ref={frame} style={{ aspectRatio: shape }}>
      <canvas ref={canvas} aria-hidden="true" />
      {/* What is drawn can't be read aloud. */}
      <p className="vh">
        Page {locale().count(number)}. {words}
      </p>
    </div>
  );
}
