import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { getDocument, type PDFDocumentLoadingTask } from 'pdfjs-dist/legacy/build/pdf.mjs';

const parts = dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'));

/** Begins to read a PDF (ISO 32000) that others made. No script of it runs. */
export const openPdf = (pdf: Uint8Array): PDFDocumentLoadingTask =>
	getDocument({
		data: pdf,
		isEvalSupported: false,
		// what is wrong with a paper of somebody else is no trouble of ours
		verbosity: 0,
		useSystemFonts: false,
		standardFontDataUrl: `${join(parts, 'standard_fonts')}/`,
		cMapUrl: `${join(parts, 'cmaps')}/`,
		wasmUrl: `${join(parts, 'wasm')}/`
	});
