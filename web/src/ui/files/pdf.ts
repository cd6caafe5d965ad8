/** Opens PDF files to be drawn on screen. A PDF comes from anybody: nothing in it is run. */
import { getDocument, PDFWorker, type PDFDocumentProxy } from 'pdfjs-dist';
import ReadingWorker from 'pdfjs-dist/build/pdf.worker.min.mjs?worker';

/** The fonts that every reader of PDF has, by their file names. */
const fonts: Readonly<Record<string, string>> = import.meta.glob('../../../../node_modules/pdfjs-dist/standard_fonts/*', {
  query: '?url',
  import: 'default',
  eager: true,
});

class StandardFonts {
  async fetch({ filename }: { readonly filename: string }): Promise<Uint8Array> {
    const address = Object.entries(fonts).find(([path]) => path.endsWith(`/${filename}`))?.[1];
    if (address === undefined) throw new Error(`No font ${filename}`);
    const answer = await fetch(address);
    if (!answer.ok) throw new Error(`The font ${filename} could not be read`);
    return new Uint8Array(await answer.arrayBuffer());
  }
}

export function openPdf(address: string): { readonly document: Promise<PDFDocumentProxy>; readonly close: () => void } {
  const port = new ReadingWorker();
  const worker = new PDFWorker({ port: port as never });
  const opening = getDocument({
    url: address,
    worker,
    isEvalSupported: false,
    enableXfa: false,
    // Letters are drawn: a font of a file never becomes one of the page.
    disableFontFace: true,
    useWorkerFetch: false,
    StandardFontDataFactory: StandardFonts,
  });
  const close = async (): Promise<void> => {
    await opening.destroy();
    worker.destroy();
    port.terminate();
  };
  return { document: opening.promise, close: () => void close() };
}
