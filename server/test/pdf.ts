import { getDocument, type PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs';

/** The texts of each page as a PDF reader finds them, in the order in which they were drawn; equal neighbours in place are one. */
export async function textsOf(pdf: Uint8Array): Promise<string[]> {
  const document: PDFDocumentProxy = await getDocument({ data: new Uint8Array(pdf), verbosity: 0, useSystemFonts: false }).promise;
  const pages: string[] = [];
  for (let n = 1; n <= document.numPages; n += 1) {
    const { items } = await (await document.getPage(n)).getTextContent({ disableNormalization: true });
    pages.push(items.map((item) => ('str' in item ? item.str : '')).join(''));
  }
  await document.destroy();
  return pages;
}
