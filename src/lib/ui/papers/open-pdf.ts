import type { PDFDocumentProxy } from 'pdfjs-dist';

/** Opens a PDF to be drawn in this browser; what draws it is fetched once it is needed. No script of the document runs. */
export async function openPdf(url: string): Promise<PDFDocumentProxy> {
	const pdfjs = await import('pdfjs-dist');
	const worker = await import('pdfjs-dist/build/pdf.worker.min.mjs?url');
	pdfjs.GlobalWorkerOptions.workerSrc = worker.default;
	return pdfjs.getDocument({ url, isEvalSupported: false, useSystemFonts: false }).promise;
}
